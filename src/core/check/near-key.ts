import { closest } from '../text/closest.js';
import type { CheckedText } from './checked-text.js';
import type { Context, Row } from './context.js';

/** The rules that a message in the same place could be for. */
function rowsHere({ catalog, field }: CheckedText, context: Context): readonly Row[] {
  if (field) return context.fieldsFor(field).flatMap((one) => context.rowsOf(one));
  const forms = context.formsOf(catalog);
  return context.rows.filter(({ form }) => forms.includes(form));
}

/** The key that a message in its place is meant to have, where one is near. */
export const nearKey = (checked: CheckedText, context: Context): string | undefined =>
  closest(checked.key, new Set(rowsHere(checked, context).flatMap((row) => row.keys)));

/** The rule that a message under a key of no rule is meant for, where its language has no text for that. */
export function meantFor(checked: CheckedText, context: Context): Row | undefined {
  const near = nearKey(checked, context);
  if (near === undefined) return undefined;
  const { texts } = context;
  const { locale } = checked.catalog;
  return rowsHere(checked, context).find(({ keys, form, field: { pattern } }) => {
    if (!keys.includes(near)) return false;
    const found = texts.message({ form: form.id, path: pattern, keys }, locale);
    return !found || !texts.serves(found.locale, locale);
  });
}
