import { samplePath, startsWith } from '../path/path.js';
import { FIELD_PLACES, type Form } from '../rules/form.js';
import { closest } from '../text/closest.js';
import type { Catalog } from '../texts/catalog.js';
import type { FieldEntry } from '../texts/purpose.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';

/** Whether a form has anything at the places that a field entry speaks of. */
function hasPlace({ pattern }: FieldEntry, form: Form, { subject }: Context): boolean {
  const index = subject.indexOf(form);
  return FIELD_PLACES.some(
    (place) => index.declared(pattern, place) !== undefined || index.declared(samplePath(pattern), place) !== undefined,
  );
}

/** Whether something at or below the places has a rule. */
const hasRule = ({ pattern }: FieldEntry, form: Form): boolean =>
  form.fields.some((field) => field.uses.length > 0 && startsWith(field.pattern, pattern));

/** What is known of a path, whatever the locale: whether forms have it, and whether it or something below has a rule. */
interface Verdict {
  readonly placed: boolean;
  readonly ruled: boolean;
}

const verdicts = new WeakMap<Context, Map<FieldEntry, Verdict>>();

function verdictOf(field: FieldEntry, context: Context): Verdict {
  let known = verdicts.get(context);
  if (!known) verdicts.set(context, (known = new Map<FieldEntry, Verdict>()));
  let verdict = known.get(field.normal);
  if (!verdict) {
    const linked = context.fieldsFor(field);
    const forms = context.formsOf(field.scope);
    verdict = {
      placed: linked.length > 0 || forms.some((form) => hasPlace(field, form, context)),
      ruled: linked.some(({ uses }) => uses.length > 0) || forms.some((form) => hasRule(field, form)),
    };
    known.set(field.normal, verdict);
  }
  return verdict;
}

/** Whether some verdict of the fields that any catalog names is such; of most workspaces none is. */
function anyField(context: Context, isSuch: (verdict: Verdict) => boolean): boolean {
  return context.table.purposes
    .scopesOf('written')
    .some(
      (scope) =>
        context.formsOf(scope).length > 0 && [...scope.fields.values()].some((field) => isSuch(verdictOf(field, context))),
    );
}

/** Looks at the fields that catalogs of known forms name. */
const eachField =
  (context: Context, see: (field: FieldEntry, catalog: Catalog, verdict: Verdict) => void) =>
  (catalog: Catalog): void => {
    if (context.formsOf(catalog).length === 0) return;
    for (const field of catalog.fields) see(field, catalog, verdictOf(field, context));
  };

export const unusedLabel: Kind = {
  kind: 'unused-label',
  severity: 'warning',
  about: 'A field entry speaks of a field that no form has, often a misspelt path.',
  remedy: 'Correct the path, or remove the entry.',
  example: '"fields": { "magnitud": { "label": "…" } }',
  look: (context, report) => {
    if (!anyField(context, ({ placed }) => !placed)) return undefined;
    const known = new Set(context.subject.forms.flatMap((form) => form.fields.map(({ path }) => path)));
    return {
      catalog: eachField(context, ({ path, keys }, { locale, file }, { placed }) => {
        if (placed) return;
        const near = closest(path, known);
        report({
          ...{ locale, path },
          message: `No form has a field at ${path}. ${near ? `Did you mean ${near}?` : 'Remove the entry, or declare the field.'}`,
          spot: { file, keys, at: 'key' },
        });
      }),
    };
  },
};

export const unruledField: Kind = {
  kind: 'unruled-field',
  severity: 'warning',
  about: 'A field has a label and no rule, itself or below: either a rule was forgotten, or the label is of no use.',
  remedy: 'Declare the rules of the field, or remove the label.',
  example: '"fields": { "remarks": { "label": "…" } }       // no rule for remarks',
  look: (context, report) =>
    anyField(context, ({ placed, ruled }) => placed && !ruled)
      ? {
          catalog: eachField(context, ({ path, keys, labels }, { locale, file, texts }, { placed, ruled }) => {
            if (!placed || ruled || !texts.some(({ slot }) => slot === labels.get(''))) return;
            const message = `${path} has a label and no rule. Declare its rules, or remove the label.`;
            report({ ...{ locale, path, message }, spot: { file, keys, at: 'key' } });
          }),
        }
      : undefined,
};
