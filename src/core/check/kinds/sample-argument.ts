import { MAY_HOLD } from '../../message/may-hold.js';
import type { Kind } from '../subject/kind.js';
import type { Row } from '../subject/context.js';
import { aboutText, type CheckedText } from '../subject/checked-text.js';

/** A rule of a backend whose declaration only shows what a parameter is like. */
const isSample = ({ use }: Row, name: string): boolean =>
  use.external && Object.hasOwn(use.params, name) && !Object.hasOwn(use.constants ?? {}, name);

const sampledBy = ({ rows, entry }: CheckedText): [string, Row] | undefined => {
  for (const name of entry.signature.names) {
    const row = rows.find((one) => isSample(one, name));
    if (row) return [name, row];
  }
  return undefined;
};

export const sampleArgument: Kind = {
  kind: 'sample-argument',
  severity: 'info',
  quiet: true,
  about:
    'A message asks for a parameter that the backend must send each time; where it does not, clients get a more general text.',
  remedy: 'Let the backend send it, or write a message without it.',
  example: 'plan: { external: { fits-the-night: { hours: 6.5 } } }   # {hours} is a sample',
  look: (_, report) => ({
    needs: MAY_HOLD.argument,
    sorts: ['message', 'inline'],
    concerns: (checked) => sampledBy(checked) !== undefined,
    text: (checked) => {
      const [name, row] = sampledBy(checked) ?? [];
      if (name === undefined || !row) return;
      report({
        message: `{${name}} is only a sample in the rules: the backend must send it with each violation of "${row.code}" at ${row.field.path || 'the body'}.`,
        ...aboutText(checked, checked.entry.arguments.get(name)?.start ?? 0),
      });
    },
  }),
};
