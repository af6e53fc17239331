import type { Remark } from '../../finding.js';
import { closest } from '../../text/closest.js';
import { formsNamed } from '../../texts/form-set.js';
import type { Catalog } from '../../texts/catalog.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';
import { aboutText } from '../subject/checked-text.js';
import { isStandIn, meantFor, nearKey } from './near-key.js';

/** Forms that a file names and that do not exist: one finding covers all their texts. */
function unknownForms(
  { form, locale, file, shared }: Catalog,
  context: Context,
): Omit<Remark, 'kind'>[] {
  if (form === undefined) return [];
  const known = context.subject.forms.map(({ id }) => id);
  const ids = formsNamed(form);
  const isIdle = ids.every((id) => !known.includes(id));
  return ids.flatMap((id, nth): Omit<Remark, 'kind'>[] => {
    const near = known.includes(id) ? undefined : closest(id, known);
    // Of what is shared, it may be another workspace's.
    if (known.includes(id) || (shared && near === undefined)) return [];
    const what =
      isIdle && nth === 0
        ? `There is no form "${id}", so nothing in this file is ever used.`
        : `There is no form "${id}".`;
    const remedy = near
      ? `Did you mean "${near}"?`
      : ids.length > 1
        ? 'Correct its id, or take it from the list.'
        : 'Correct its id.';
    return [
      { locale, form, message: `${what} ${remedy}`, spot: { file, keys: ['form'], at: 'value' } },
    ];
  });
}

export const unusedMessage: Kind = {
  kind: 'unused-message',
  severity: 'warning',
  about: 'A message stands under a key that no rule uses, often a misspelt one.',
  remedy: 'Correct the key, or remove the message.',
  example: '"messages": { "requird": "…" }',
  look: (context, report) => {
    return {
      catalog: (catalog) => {
        for (const remark of unknownForms(catalog, context)) report(remark);
      },
      sorts: ['message'],
      concerns: ({ rows, key }) => rows.length === 0 && !isStandIn(key, context),
      text: (checked) => {
        const { key, catalog, entry, field } = checked;
        if (context.formsOf(catalog).length === 0) return;
        // What it hides is worse.
        if (meantFor(checked, context)) return;
        const near = nearKey(checked, context);
        if (catalog.shared && near === undefined) return;
        const { keys } = entry.slot;
        const owner = field
          ? `the field "${field.path}"`
          : catalog.form === undefined
            ? 'any form'
            : `the form "${formsNamed(catalog.form).join('" or "')}"`;
        report({
          ...aboutText(checked),
          message: `No rule of ${owner} uses "${key}". ${near ? `Did you mean "${near}"?` : 'Remove it, or declare the rule.'}`,
          spot: { file: entry.file, keys, at: 'key' },
        });
      },
    };
  },
};
