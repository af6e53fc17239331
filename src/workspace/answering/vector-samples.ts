import { fieldPlaces } from '../../core/pack/places.js';
import { printPath, samplePath, type Path } from '../../core/path/path.js';
import { rowsOf } from '../../core/check/subject/context.js';
import { walk, type Message } from '../../core/message/tree.js';
import { FOUND, sampleViolation } from '../../core/violation/samples.js';
import type { Violation } from '../../core/rules/violation.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { keyed } from '../../core/base/keyed.js';

/** Sample parameters of problems. */
export const PROBLEM_SAMPLES: Readonly<
  Record<string, readonly Readonly<Record<string, unknown>>[]>
> = keyed({
  'invalid-fields': [1, 2, 5, 21].map((count) => ({ count, fields: 1 })),
  'malformed-body': [{}, { line: 3, column: 14 }],
  'too-many-requests': [{}, { seconds: 1 }, { seconds: 30 }],
  unavailable: [{}, { seconds: 2 }],
  'not-validated': [{}, { seconds: 30 }],
});

/** A violation as it may come, and the problem that its rule is, where it is one. */
export interface Sample {
  readonly violation: Violation;
  readonly problem: string | undefined;
}

/** No rule of anyone: a backend may report what no form declares. */
export const UNDECLARED = 'reported-only';

/**
 * Lists violations of each rule of a form at places where the field is the one that speaks, and one
 * of a rule that the form does not have.
 */
export function samplesOf(index: FormIndex): Sample[] {
  const placesOf = fieldPlaces(index.form);
  const samples = rowsOf([index.form]).flatMap(({ field, use }) => {
    const { exact } = placesOf(field);
    // Of the places of a definition the nearest, and one inside of others.
    const paths = [exact.at(0), exact.at(-1)].flatMap((pattern) =>
      pattern ? [samplePath(pattern)] : [],
    );
    // Another element shows whether numbers are counted right, also in another plural.
    const later = paths.map((path) =>
      path.map((segment) => (typeof segment === 'number' ? segment + 20 : segment)),
    );
    const all = new Map<string, Path>([...paths, ...later].map((path) => [printPath(path), path]));
    return [...all.values()]
      .filter((path) => index.speaking(path, field.in).includes(field))
      .map((path) => ({
        violation: sampleViolation(field, use, path),
        problem: use.problem,
      }));
  });
  const [first] = samples;
  if (!first) return samples;
  const { path, in: part, value } = first.violation;
  const undeclared = { path, ...(part === undefined ? {} : { in: part }), rule: UNDECLARED, value };
  return [...samples, { violation: undeclared, problem: undefined }];
}

/** What a client may send, or a backend report, of all types. */
export const VALUES: readonly unknown[] = [
  'x'.repeat(300),
  'two\nlines\u2028\tand more',
  '\u202Eback\u2069 \u0007\u0085\u00AD',
  'ليلى',
  'λ (ליל) 5',
  '2027-03-09',
  '-5',
  '+5 %',
  '{value} <NAME> %(value)s %%',
  '<b>"&amp;\' \\ \u007F',
  '',
  ' ',
  0,
  7,
  -1234.5,
  1000,
  12345678.0625,
  0.1234567,
  1e-7,
  1e21,
  2 ** 53 + 2,
  true,
  false,
  null,
  [],
  [1, 'a', null, [2.5]],
  ['one'],
  // Not every language keeps the order of members.
  { 'b "c"': [true, '\u2028', { a: 1 }] },
];

/** ICU finds plural categories by the last 18 digits of a number's whole part. */
const MOST_COUNTED = 1e18;

/**
 * Returns whether an argument may have a value: what the vocabulary finds has its type, and what is
 * counted or written in a style is a number.
 */
export function mayBe(name: string, tree: Message): (value: unknown) => boolean {
  const kinds = new Set<string>();
  walk(tree, (node) => {
    if ('name' in node && node.name === name) kinds.add(node.kind);
  });
  if (kinds.has('date') || kinds.has('time')) return () => false;
  const isNumber = ['plural', 'selectordinal', 'number'].some((kind) => kinds.has(kind));
  // Packs write `#` and the argument itself in one way, which differ behind the third decimal.
  const isBoth = isNumber && kinds.has('argument');
  if (isNumber || (FOUND.has(name) && name !== 'name'))
    return (value) =>
      typeof value === 'number' &&
      (!isBoth || Number.isInteger(value * 1000)) &&
      (!kinds.has('plural') || Math.abs(value) < MOST_COUNTED);
  return name === 'name' ? (value) => typeof value === 'string' : () => true;
}

/** Returns what clients send that ask for some languages, or refuse them. */
export function headersFor(locales: readonly string[]): string[] {
  const [first = 'en', second = first] = locales;
  return [
    '',
    '*',
    ...locales.flatMap((tag) => {
      const [language = tag] = tag.split('-');
      return [
        tag,
        tag.toUpperCase(),
        `${language}-419`,
        // The language of another script, for some.
        ...['TW', 'ME', 'PK'].map((region) => `${language}-${region}`),
        language,
        `${tag}-u-nu-latn`,
        `${tag};q=0, *`,
      ];
    }),
    `tlh, ${second};q=0.5`,
    `${first};q=0.3,${second};q=0.8`,
    ` ${first} ; q=0.9 , ${second}; q=0.95`,
    `${first}, ${second}`,
    `${second}, ${first};q=0`,
    `${first};q=0, *;q=0.1`,
    `${first};q=0.0`,
    '*;q=0',
    `${second}-*;q=0.7, tlh`,
    `${'tlh, '.repeat(300)}${second}`,
    locales.map((tag) => `${tag};q=0`).join(', '),
    ';;,=, q=1,-',
  ];
}
