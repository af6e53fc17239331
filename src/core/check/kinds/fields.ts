import { getOrMake } from '../../base/get-or-make.js';
import { isSharedRoot, printPath, samplePath } from '../../path/path.js';
import { FIELD_PLACES, type Form } from '../../rules/form.js';
import { closest } from '../../text/closest.js';
import type { Catalog } from '../../texts/catalog.js';
import type { FieldEntry } from '../../texts/purpose.js';
import type { Context } from '../subject/context.js';
import type { Kind, Looks } from '../subject/kind.js';

/** Whether a form has anything at the places that a field entry speaks of. */
function hasPlace({ pattern }: FieldEntry, form: Form, { subject }: Context): boolean {
  const index = subject.indexOf(form);
  return FIELD_PLACES.some(
    (part) =>
      index.declared(pattern, part) !== undefined ||
      (!isSharedRoot(pattern[0]) && index.declared(samplePath(pattern), part) !== undefined),
  );
}

const ruledPaths = new WeakMap<Form, ReadonlySet<string>>();

/** The patterns of a form at or below which there is a rule, as they are printed. */
function ruledIn(form: Form): ReadonlySet<string> {
  let known = ruledPaths.get(form);
  if (!known) {
    const paths = new Set<string>();
    for (const { pattern, uses } of form.fields)
      for (let length = uses.length > 0 ? pattern.length : -1; length >= 0; length--) {
        const path = printPath(pattern.slice(0, length));
        if (paths.has(path)) break;
        paths.add(path);
      }
    ruledPaths.set(form, (known = paths));
  }
  return known;
}

/** Whether something at or below the places has a rule. */
const hasRule = ({ path }: FieldEntry, form: Form): boolean => ruledIn(form).has(path);

/**
 * The state of a path in all locales: whether forms have it, and whether it or something below has
 * a rule.
 */
interface Verdict {
  readonly placed: boolean;
  readonly ruled: boolean;
}

function verdictOf(field: FieldEntry, forms: readonly Form[], context: Context): Verdict {
  const linked = context.fieldsFor(field);
  return {
    placed: linked.length > 0 || forms.some((form) => hasPlace(field, form, context)),
    ruled: linked.some(({ uses }) => uses.length > 0) || forms.some((form) => hasRule(field, form)),
  };
}

function allVerdicts(context: Context): ReadonlyMap<FieldEntry, Verdict> {
  const verdicts = new Map<FieldEntry, Verdict>();
  for (const scope of context.table.purposes.scopesOf('written')) {
    const forms = context.formsOf(scope);
    for (const field of forms.length > 0 ? scope.fields.values() : [])
      verdicts.set(field, verdictOf(field, forms, context));
  }
  return verdicts;
}

/**
 * Looks at the fields of such a verdict that catalogs of known forms name; of most workspaces there
 * are none.
 */
function fieldLook(
  context: Context,
  isSuch: (verdict: Verdict) => boolean,
  see: (field: FieldEntry, catalog: Catalog) => void,
): Looks | undefined {
  const such = new Set<FieldEntry>();
  for (const [field, verdict] of context.once(allVerdicts)) if (isSuch(verdict)) such.add(field);
  if (such.size === 0) return undefined;
  return {
    catalog: (catalog) => {
      for (const field of catalog.fields) if (such.has(field.normal)) see(field, catalog);
    },
  };
}

const pathsOf = ({ subject }: Context): ReadonlySet<string> =>
  new Set(subject.forms.flatMap((form) => form.fields.map(({ path }) => path)));

const labels = new WeakMap<Catalog['texts'], ReadonlySet<readonly string[]>>();

/** The keys of all texts of a catalog. */
function labelled(texts: Catalog['texts']): ReadonlySet<readonly string[]> {
  return getOrMake(labels, texts, () => new Set(texts.map(({ slot }) => slot.keys)));
}

export const unusedLabel: Kind = {
  kind: 'unused-label',
  severity: 'warning',
  about: 'A field entry speaks of a field that no form has, often a misspelt path.',
  remedy: 'Correct the path, or remove the entry.',
  example: '"fields": { "magnitud": { "label": "…" } }',
  look: (context, report) => {
    // Of each path once: an old catalog has it in every language.
    const nears = new Map<string, string | undefined>();
    return fieldLook(
      context,
      ({ placed }) => !placed,
      ({ path, keys }, { locale, file, shared }) => {
        if (!nears.has(path)) nears.set(path, closest(path, context.once(pathsOf)));
        const near = nears.get(path);
        // What several workspaces share is for the fields of each.
        if (shared && near === undefined) return;
        report({
          locale,
          path,
          message: `No form has a field at ${path}. ${near ? `Did you mean ${near}?` : 'Remove the entry, or declare the field.'}`,
          spot: { file, keys, at: 'key' },
        });
      },
    );
  },
};

export const unruledField: Kind = {
  kind: 'unruled-field',
  severity: 'warning',
  about:
    'A field has a label, but neither the field nor what is below it has a rule: a rule was forgotten, or the label is not needed.',
  remedy: 'Declare the rules of the field, or remove the label.',
  example: '"fields": { "remarks": { "label": "…" } }       // no rule for remarks',
  look: (context, report) =>
    fieldLook(
      context,
      ({ placed, ruled }) => placed && !ruled,
      (field, { locale, file, texts }) => {
        const { path, keys } = field;
        if (!labelled(texts).has(field.slot('label', '').keys)) return;
        const message = `${path} has a label and no rule. Declare its rules, or remove the label.`;
        report({ locale, path, message, spot: { file, keys, at: 'key' } });
      },
    ),
};
