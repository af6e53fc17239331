import type { Catalog } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import type { Field } from '../rules/form.js';
import { PROBLEM_ARGUMENTS } from '../body/problems.js';
import { FIELD_ARGUMENTS } from '../rules/vocabulary.js';
import { suggestion } from '../text/closest.js';
import type { Context, Row } from './context.js';
import type { Kind } from './kind.js';
import { isFormOf, offersOf, placeArguments, ruleArguments } from './offers.js';

type About = Partial<Remark>;

/** The arguments of a text that not all of the places where it is used have on offer. */
function* notOnOffer(entry: Entry, offers: readonly [ReadonlySet<string>, About][]): Generator<Remark> {
  for (const [name, { start }] of entry.arguments) {
    const lacking = offers.find(([names]) => !names.has(name) && !isFormOf(name, names));
    if (!lacking) continue;
    const [names, about] = lacking;
    const list = [...names].sort().join(', ');
    const where = about.path === undefined || about.path === '' ? 'here' : `for ${about.path}`;
    yield {
      kind: 'unknown-argument',
      locale: entry.locale,
      ...about,
      message: `There is no argument {${name}} ${where}${suggestion(name, names)}. On offer: ${list || 'none'}.`,
      spot: { ...entry.origin, at: 'value', offset: start },
    };
  }
}

const ofRow = (row: Row): [ReadonlySet<string>, About] => [
  offersOf(row),
  { form: row.form.id, path: row.field.path, rule: row.code },
];

function* inMessages(messages: ReadonlyMap<string, Entry>, rowsOf: (key: string) => readonly Row[]): Generator<Remark> {
  for (const [key, entry] of messages) {
    if (entry.arguments.size === 0) continue;
    const using = rowsOf(key).map(ofRow);
    const alone: [ReadonlySet<string>, About] = [
      new Set([...FIELD_ARGUMENTS.map(({ name }) => name), ...ruleArguments(key)]),
      { rule: key },
    ];
    // A message that nothing uses yet is held against what its rule would give; one of an unknown key against nothing.
    if (using.length > 0) yield* notOnOffer(entry, using);
    else if (ruleArguments(key).length > 0) yield* notOnOffer(entry, [alone]);
  }
}

function* inCatalog(catalog: Catalog, context: Context): Generator<Remark> {
  const forms = new Set(context.formsOf(catalog));
  yield* inMessages(catalog.messages, (key) => context.rowsWith(key).filter((row) => forms.has(row.form)));
  for (const [texts, fields] of context.linksOf(catalog)) {
    const rows = [...fields].flatMap((field) => context.rowsOf(field));
    yield* inMessages(texts.messages, (key) => rows.filter(({ keys }) => keys.includes(key)));
    // A label or a choice is said of a field, not of a rule: only the places on its path are known.
    const places = (one: Pick<Field, 'pattern' | 'path'>): [ReadonlySet<string>, About] => [
      new Set(placeArguments(one.pattern)),
      { path: one.path },
    ];
    const words = [...(texts.label ? [texts.label.base, ...texts.label.forms.values()] : []), ...texts.choices.values()];
    for (const entry of words) yield* notOnOffer(entry, [places(texts)]);
  }
  for (const [problem, names] of Object.entries(PROBLEM_ARGUMENTS)) {
    const { detail, title } = catalog.problems.get(problem) ?? {};
    for (const entry of [title, detail]) if (entry) yield* notOnOffer(entry, [[new Set(names), {}]]);
  }
}

export const unknownArgument: Kind = {
  kind: 'unknown-argument',
  severity: 'error',
  about: 'A text asks for an argument that is not on offer where it is used; clients would read its name in braces.',
  remedy: 'Write one of the arguments that the sentence lists.',
  *find(context) {
    for (const catalog of context.subject.catalogs) yield* inCatalog(catalog, context);
  },
};
