import { VOCABULARY } from '../../rules/vocabulary.js';
import { closest } from '../../text/closest.js';
import type { Kind } from '../subject/kind.js';
import { aboutText } from '../subject/checked-text.js';
import { isStandIn, meantFor } from './near-key.js';

export const misspeltKey: Kind = {
  kind: 'misspelt-key',
  severity: 'error',
  about:
    'A message stands under a key that no rule uses, and a rule with nearly that name has no text in its language.',
  remedy: 'Correct the key, or the name of the rule.',
  example: '"messages": { "has-license": "…" }                 # the rule is has-licence',
  look: (context, report) => ({
    sorts: ['message'],
    concerns: ({ rows, key }) => rows.length === 0 && !isStandIn(key, context),
    text: (checked) => {
      const { keys } = checked.entry.slot;
      // Which rules services have of their own nobody knows here, but those of the vocabulary.
      const named =
        context.subject.isHouse && !VOCABULARY.has(checked.key)
          ? closest(checked.key, VOCABULARY.keys())
          : undefined;
      if (named !== undefined)
        report({
          ...aboutText(checked),
          message: `There is no rule "${checked.key}". Did you mean "${named}"?`,
          spot: { file: checked.entry.file, keys, at: 'key' },
        });
      const row = meantFor(checked, context);
      if (!row) return;
      const { file } = row.use.origin;
      report({
        ...aboutText(checked),
        message: `No rule uses "${checked.key}", and "${row.code}" of ${row.field.path || 'the body'} (${file}) has no text in ${checked.catalog.locale}. One of the two is misspelt.`,
        spot: { file: checked.entry.file, keys, at: 'key' },
      });
    },
  }),
};
