import type { FieldTexts } from '../catalog/catalog.js';
import type { Locale } from '../locale/tag.js';
import { printPath, samplePath } from '../path/path.js';
import { isCoveredBy } from '../path/trie.js';
import { FormIndex } from '../rules/form-index.js';
import type { Form } from '../rules/form.js';
import { FIELD_PLACES } from '../rules/form.js';
import { closest } from '../text/closest.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';

const indexes = new WeakMap<Form, FormIndex>();

function indexOf(form: Form): FormIndex {
  const known = indexes.get(form) ?? new FormIndex(form);
  indexes.set(form, known);
  return known;
}

/** Whether a form has anything at the places that a field entry speaks of. */
const hasPlace = ({ pattern }: FieldTexts, form: Form): boolean =>
  FIELD_PLACES.some((place) => indexOf(form).declared(pattern, place) !== undefined) ||
  form.fields.some((field) => field.path === printPath(pattern)) ||
  FIELD_PLACES.some((place) => indexOf(form).declared(samplePath(pattern), place) !== undefined);

/** Whether something at or below the places has a rule. */
function hasRule({ pattern }: FieldTexts, form: Form): boolean {
  const path = printPath(pattern);
  return form.fields.some(
    (field) => field.uses.length > 0 && (field.path === path || pattern.every((part, at) => field.pattern[at] === part)),
  );
}

function* entriesOf(
  context: Context,
): Generator<{ texts: FieldTexts; locale: Locale; form?: string; forms: readonly Form[]; linked: number }> {
  for (const catalog of context.subject.catalogs) {
    const links = context.linksOf(catalog);
    for (const texts of catalog.fields)
      yield {
        ...{ texts, locale: catalog.locale, forms: context.formsOf(catalog), linked: links.get(texts)?.size ?? 0 },
        ...(catalog.form === undefined ? {} : { form: catalog.form }),
      };
  }
}

export const unusedLabel: Kind = {
  kind: 'unused-label',
  severity: 'warning',
  about: 'A field entry speaks of a field that no form has, often a misspelt path.',
  remedy: 'Correct the path, or remove the entry.',
  *find(context) {
    const known = new Set(context.subject.forms.flatMap((form) => form.fields.map(({ path }) => path)));
    for (const { texts, locale, forms, linked } of entriesOf(context)) {
      if (linked > 0 || forms.length === 0 || forms.some((form) => hasPlace(texts, form))) continue;
      const near = closest(texts.path, known);
      yield {
        kind: 'unused-label',
        locale,
        path: texts.path,
        message: `No form has a field at ${texts.path}. ${near ? `Did you mean ${near}?` : 'Remove the entry, or declare the field.'}`,
        spot: { ...texts.origin, at: 'key' },
      };
    }
  },
};

export const unruledField: Kind = {
  kind: 'unruled-field',
  severity: 'warning',
  about: 'A field has a label and no rule, itself or below: either a rule was forgotten, or the label is of no use.',
  remedy: 'Declare the rules of the field, or remove the label.',
  *find(context) {
    for (const { texts, forms, linked } of entriesOf(context)) {
      if (!texts.label || forms.length === 0) continue;
      if (linked === 0 && !forms.some((form) => hasPlace(texts, form))) continue;
      if (forms.some((form) => hasRule(texts, form)) || [...(linked > 0 ? forms : [])].some((form) => coversRule(texts, form)))
        continue;
      yield {
        kind: 'unruled-field',
        locale: texts.label.base.locale,
        path: texts.path,
        message: `${texts.path} has a label and no rule. Declare its rules, or remove the label.`,
        spot: { ...texts.origin, at: 'key' },
      };
    }
  },
};

/** Whether the entry's pattern covers a field with a rule. */
const coversRule = ({ pattern }: FieldTexts, form: Form): boolean =>
  form.fields.some((field) => field.uses.length > 0 && isCoveredBy(pattern, field.pattern));
