import { isCovered } from '../subject/coverage.js';
import type { Kind } from '../subject/kind.js';

export const missingMessage: Kind = {
  kind: 'missing-message',
  severity: 'error',
  about:
    "A rule has no text in a locale's own language; clients get another language's, or only the text for `unnamed`, which says nothing of the rule.",
  remedy: 'Add a message under one of the keys named, for the field or for all fields.',
  example: 'title: { external: { plain-words: {} } }        # no message "plain-words"',
  look: (_, report) => ({
    cell: {
      wants: (_row, coverage) => !isCovered(coverage),
      see: ({ row, locale, coverage }) => {
        const got =
          coverage === 'fallback' ? "another language's text" : 'only the text for "unnamed"';
        const keys = row.keys.map((key) => `"${key}"`).join(' or ');
        report({
          locale,
          form: row.form.id,
          path: row.field.path,
          rule: row.code,
          message: `${keys} of ${row.field.path || 'the body'} has no text in ${locale}; clients get ${got}. Add a message.`,
          spot: { ...row.use.origin, at: 'key' },
        });
      },
    },
  }),
};
