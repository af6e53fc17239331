import type { Catalog, FieldTexts } from '../catalog/catalog.js';
import type { Locale } from '../locale/tag.js';
import { printPath, samplePath, startsWith } from '../path/path.js';
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
  return form.fields.some((field) => field.uses.length > 0 && (field.path === path || startsWith(field.pattern, pattern)));
}

interface Entered {
  readonly texts: FieldTexts;
  readonly locale: Locale;
  readonly verdict: Verdict;
}

/** What is known of a path, whatever the locale: whether forms have it, and whether it or something below has a rule. */
interface Verdict {
  readonly placed: boolean;
  readonly ruled: boolean;
}

const entered = new WeakMap<Context, readonly Entered[]>();

/** The field entries that something is wrong with. */
function entriesOf(context: Context): readonly Entered[] {
  const known = entered.get(context) ?? [...look(context)];
  entered.set(context, known);
  return known;
}

function* look(context: Context): Generator<Entered> {
  const verdicts = new Map<string | undefined, Map<string, Verdict>>();
  const verdictOf = (catalog: Catalog, texts: FieldTexts): Verdict => {
    const known = verdicts.get(catalog.form) ?? new Map<string, Verdict>();
    verdicts.set(catalog.form, known);
    let verdict = known.get(texts.path);
    if (!verdict) known.set(texts.path, (verdict = judge(context, catalog, texts)));
    return verdict;
  };
  const faultless = new Map<Locale, boolean>();
  const { catalogs } = context.subject;
  const isFaultless = (locale: Locale): boolean =>
    catalogs.every(
      (catalog) =>
        catalog.locale !== locale ||
        catalog.fields.every((texts) => {
          const { placed, ruled } = verdictOf(catalog, texts);
          return placed && ruled;
        }),
    );
  for (const catalog of catalogs) {
    const { locale } = catalog;
    if (context.formsOf(catalog).length === 0) continue;
    // A locale that has entries for just the same as a faultless one is so too, and nearly all are.
    const leader = context.likeness.shape(locale);
    const fine = faultless.get(leader) ?? isFaultless(leader);
    faultless.set(leader, fine);
    if (fine) continue;
    for (const texts of catalog.fields) {
      const verdict = verdictOf(catalog, texts);
      if (!verdict.placed || !verdict.ruled) yield { texts, locale, verdict };
    }
  }
}

function judge(context: Context, catalog: Catalog, texts: FieldTexts): Verdict {
  const forms = context.formsOf(catalog);
  const linked = context.fieldsFor(catalog, texts.path);
  return {
    placed: linked.size > 0 || forms.some((one) => hasPlace(texts, one)),
    ruled: [...linked].some(({ uses }) => uses.length > 0) || forms.some((one) => hasRule(texts, one)),
  };
}

export const unusedLabel: Kind = {
  kind: 'unused-label',
  severity: 'warning',
  about: 'A field entry speaks of a field that no form has, often a misspelt path.',
  remedy: 'Correct the path, or remove the entry.',
  example: '"fields": { "magnitud": { "label": "…" } }',
  *find(context) {
    const known = new Set(context.subject.forms.flatMap((form) => form.fields.map(({ path }) => path)));
    for (const { texts, locale, verdict } of entriesOf(context)) {
      if (verdict.placed) continue;
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
  example: '"fields": { "remarks": { "label": "…" } }       // no rule for remarks',
  *find(context) {
    for (const { texts, verdict } of entriesOf(context)) {
      if (!texts.label || !verdict.placed || verdict.ruled) continue;
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
