import { MAY_HOLD } from '../../message/may-hold.js';
import { ended } from '../../text/sentence.js';
import type { Kind } from '../subject/kind.js';

export const messageSyntax: Kind = {
  kind: 'message-syntax',
  alone: true,
  severity: 'error',
  about: 'A text breaks the message syntax; it counts as absent, and the next rung is asked.',
  remedy: 'Correct what the sentence names; the location points at it.',
  example: '"required": "{label is missing."     // the brace is not closed',
  look: (_, report) => ({
    needs: MAY_HOLD.structured,
    text: ({ catalog, entry }) => {
      const { error } = entry;
      if (!error) return;
      const { origin, locale } = entry;
      report({
        locale,
        ...(catalog.form === undefined ? {} : { form: catalog.form }),
        message: ended(`${error.problem}: ${error.remedy}`),
        spot: { ...origin, at: 'value', offset: error.offset },
      });
    },
  }),
};
