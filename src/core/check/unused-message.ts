import type { Remark } from '../finding.js';
import { closest } from '../text/closest.js';
import type { Catalog } from '../texts/catalog.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';
import { aboutText } from './checked-text.js';
import { meantFor, nearKey } from './near-key.js';

/** Files that speak of a form that there is none of: one finding tells it of all their texts. */
function unknownForm(catalog: Catalog, context: Context): Omit<Remark, 'kind'> | undefined {
  const { form, locale, file } = catalog;
  if (form === undefined || context.formsOf(catalog).length > 0) return undefined;
  const near = closest(
    form,
    context.subject.forms.map(({ id }) => id),
  );
  return {
    ...{ locale, form, spot: { file, keys: ['form'], at: 'value' } },
    message: `There is no form "${form}", so nothing in this file is ever used. ${near ? `Did you mean "${near}"?` : 'Correct its id.'}`,
  };
}

export const unusedMessage: Kind = {
  kind: 'unused-message',
  severity: 'warning',
  about: 'A message stands under a key that no rule uses, often a misspelt one.',
  remedy: 'Correct the key, or remove the message.',
  example: '"messages": { "requird": "…" }',
  look: (context, report) => {
    const unknown = new Set<Catalog>();
    return {
      catalog: (catalog) => {
        const remark = unknownForm(catalog, context);
        if (!remark) return;
        unknown.add(catalog);
        report(remark);
      },
      sorts: ['message'],
      concerns: ({ rows }) => rows.length === 0,
      text: (checked) => {
        const { key, catalog, entry, field } = checked;
        if (unknown.has(catalog)) return;
        // What it hides is worse.
        if (meantFor(checked, context)) return;
        const near = nearKey(checked, context);
        const { keys } = entry.slot;
        const owner = field
          ? `the field "${field.path}"`
          : catalog.form === undefined
            ? 'any form'
            : `the form "${catalog.form}"`;
        report({
          ...aboutText(checked),
          message: `No rule of ${owner} uses "${key}". ${near ? `Did you mean "${near}"?` : 'Remove it, or declare the rule.'}`,
          spot: { file: entry.file, keys, at: 'key' },
        });
      },
    };
  },
};
