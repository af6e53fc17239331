import { MAY_HOLD } from '../../message/may-hold.js';
import type { Message } from '../../message/tree.js';
import type { Kind } from '../subject/kind.js';
import { aboutText } from '../subject/checked-text.js';

/** Cases inside cases that a translator can still oversee. */
const OVERSEEN = 3;

const depthOf = (message: Message): number =>
  Math.max(
    0,
    ...message.map((node) =>
      'cases' in node ? 1 + Math.max(...node.cases.map((one) => depthOf(one.message))) : 0,
    ),
  );

export const nestedTooDeep: Kind = {
  kind: 'nested-too-deep',
  severity: 'warning',
  about: 'Cases stand in cases of cases, so that nobody can translate the message with confidence.',
  remedy: 'Split it with `as` into several messages, or write whole sentences in the cases.',
  example: '"{a, select, x {{b, select, y {{c, select, z {{d, select, …}}}}}}}"',
  look: (_, report) => ({
    needs: MAY_HOLD.structured,
    text: (checked) => {
      if (checked.caseNodes.length <= OVERSEEN) return;
      const depth = depthOf(checked.entry.tree);
      if (depth <= OVERSEEN) return;
      const message = `Cases are nested ${depth} deep; translators lose sight at more than ${OVERSEEN}. Split the message.`;
      report({ message, ...aboutText(checked) });
    },
  }),
};
