import type { Kind } from '../subject/kind.js';
import { aboutText } from '../subject/checked-text.js';
import { meantFor } from './near-key.js';

export const misspeltKey: Kind = {
  kind: 'misspelt-key',
  severity: 'error',
  about:
    'A message stands under a key that no rule uses, and a rule with nearly that name has no text in its language.',
  remedy: 'Correct the key, or the name of the rule.',
  example: '"messages": { "has-license": "…" }                 # the rule is has-licence',
  look: (context, report) => ({
    sorts: ['message'],
    concerns: ({ rows }) => rows.length === 0,
    text: (checked) => {
      const row = meantFor(checked, context);
      if (!row) return;
      const { keys } = checked.entry.slot;
      const { file } = row.use.origin;
      report({
        ...aboutText(checked),
        message: `No rule uses "${checked.key}", and "${row.code}" of ${row.field.path || 'the body'} (${file}) has no text in ${checked.catalog.locale}. One of the two is misspelt.`,
        spot: { file: checked.entry.file, keys, at: 'key' },
      });
    },
  }),
};
