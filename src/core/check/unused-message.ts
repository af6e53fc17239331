import type { Remark } from '../finding.js';
import { closest } from '../text/closest.js';
import type { Catalog } from '../texts/catalog.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';
import { aboutText, type CheckedText } from './checked-text.js';

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

/** The keys that a text in the same place could have. */
function keysHere({ catalog, field }: CheckedText, context: Context): Set<string> {
  const forms = context.formsOf(catalog);
  const rows = field
    ? context.fieldsFor(field).flatMap((one) => context.rowsOf(one))
    : context.rows.filter((row) => forms.includes(row.form));
  return new Set(rows.flatMap(({ keys }) => keys));
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
        const near = closest(key, keysHere(checked, context));
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
