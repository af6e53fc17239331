import type { Catalog } from '../catalog/catalog.js';
import type { Remark } from '../finding.js';
import { closest } from '../text/closest.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';
import { aboutRole, type Role } from './roles.js';

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
function keysHere({ catalog, field }: Role, context: Context): Set<string> {
  const forms = context.formsOf(catalog);
  const rows = field
    ? [...context.fieldsFor(catalog, field.path)].flatMap((one) => context.rowsOf(one))
    : context.rows.filter((row) => forms.includes(row.form));
  return new Set(rows.flatMap(({ keys }) => keys));
}

export const unusedMessage: Kind = {
  kind: 'unused-message',
  severity: 'warning',
  about: 'A message stands under a key that no rule uses, often a misspelt one.',
  remedy: 'Correct the key, or remove the message.',
  example: '"messages": { "requird": "…" }',
  texts: (context, report) => {
    const unknown = new Set<Catalog>();
    for (const catalog of context.subject.catalogs) {
      const remark = unknownForm(catalog, context);
      if (!remark) continue;
      unknown.add(catalog);
      report(remark);
    }
    return {
      sorts: ['message'],
      each: (role) => {
        const { rows, key, catalog, entry, field } = role;
        if (rows.length > 0 || unknown.has(catalog)) return;
        const near = closest(key, keysHere(role, context));
        const { keys } = entry.origin;
        const owner = field
          ? `the field "${field.path}"`
          : catalog.form === undefined
            ? 'any form'
            : `the form "${catalog.form}"`;
        report({
          ...aboutRole(role),
          message: `No rule of ${owner} uses "${key}". ${near ? `Did you mean "${near}"?` : 'Remove it, or declare the rule.'}`,
          spot: { ...entry.origin, keys: keys.at(-1) === 'text' && keys.at(-2) === key ? keys.slice(0, -1) : keys, at: 'key' },
        });
      },
    };
  },
};
