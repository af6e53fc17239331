import { isDeepStrictEqual } from 'node:util';
import { fieldPlaces } from '../../core/pack/places.js';
import { printPath, samplePath } from '../../core/path/path.js';
import { answerProblem, answerViolations, type Answer } from '../../core/body/answer.js';
import { SHAPES } from '../../core/body/shapes/shapes.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { rowsOf } from '../../core/check/subject/context.js';
import type { Locale } from '../../core/locale/tag.js';
import { walk, type Message } from '../../core/message/tree.js';

import { compareRanks } from '../../core/rules/form-index.js';
import { localeForHeader } from '../../render/accept-language.js';
import { FOUND, sampleViolation } from '../../core/violation/samples.js';
import type { Sentences } from '../../core/violation/sentence.js';
import type { Violation } from '../../core/rules/violation.js';
import { answerOptions, bodyStyle, sentencesOf } from './answering.js';
import { ownShapes } from './packs.js';
import type { Workspace } from '../reading/workspace.js';
import { keyed } from '../../core/base/keyed.js';

/** One violation, and all that comes of it. */
interface SentenceVector {
  readonly form: string;
  readonly violation: Violation;
  /** The arguments of its message, as a formatter gets them. */
  readonly arguments: Readonly<Record<string, unknown>>;
  readonly sentence: string;
  readonly inline?: string;
}

interface BodyVector {
  readonly form: string;
  readonly violations: readonly Violation[];
  readonly status: number;
  /** The bodies' texts, by shape. */
  readonly bodies: Readonly<Record<string, string>>;
  /** The bodies in shapes of the workspace's own. */
  readonly own?: Readonly<Record<string, string>>;
}

interface ProblemVector {
  readonly problem: string;
  readonly params: Readonly<Record<string, unknown>>;
  readonly title: string;
  readonly detail: string;
  /** The bodies' texts, by shape. */
  readonly bodies: Readonly<Record<string, string>>;
}

/** The exact results that an implementation of the pack's format must have. */
export interface Vectors {
  readonly vectors: 1;
  /** Values of `Accept-Language`, each with the language of the answer. */
  readonly languages: readonly { readonly header: string; readonly language: string }[];
  readonly locales: Readonly<
    Record<
      string,
      {
        readonly sentences: readonly SentenceVector[];
        readonly bodies: readonly BodyVector[];
        readonly problems: readonly ProblemVector[];
      }
    >
  >;
}

/** So many violations stand in one sample body. */
const TOGETHER = 8;

/** Sample parameters of problems. */
const SAMPLES: Readonly<Record<string, readonly Readonly<Record<string, unknown>>[]>> = keyed({
  'invalid-fields': [1, 2, 5, 21].map((count) => ({ count, fields: 1 })),
  'malformed-body': [{}, { line: 3, column: 14 }],
  'too-many-requests': [{}, { seconds: 1 }, { seconds: 30 }],
  unavailable: [{}, { seconds: 2 }],
  'not-validated': [{}, { seconds: 30 }],
});

function violationsOf(workspace: Workspace, form: string): Violation[] {
  const index = workspace.form(form);
  const placesOf = fieldPlaces(index.form);
  return rowsOf([index.form]).flatMap(({ field, use }) => {
    const { exact } = placesOf(field);
    // Of the places of a definition the nearest, and one inside of others.
    const paths = [exact.at(0), exact.at(-1)].flatMap((pattern) =>
      pattern ? [samplePath(pattern)] : [],
    );
    // Another element shows whether numbers are counted right, also in another plural.
    const later = paths.map((path) =>
      path.map((segment) => (typeof segment === 'number' ? segment + 20 : segment)),
    );
    const all = new Map([...paths, ...later].map((path) => [printPath(path), path]));
    return [...all.values()].map((path) => sampleViolation(field, use, path));
  });
}

/** What a client may send, or a backend report, of all types. */
const VALUES: readonly unknown[] = [
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

/**
 * Returns whether an argument may have a value: what the vocabulary finds has its type, and what is
 * counted or written in a style is a number.
 */
function mayBe(name: string, tree: Message): (value: unknown) => boolean {
  const kinds = new Set<string>();
  walk(tree, (node) => {
    if ('name' in node && node.name === name) kinds.add(node.kind);
  });
  if (kinds.has('date') || kinds.has('time')) return () => false;
  const isNumber = ['plural', 'selectordinal', 'number'].some((kind) => kinds.has(kind));
  // Packs write `#` and the argument itself in one way, which differ behind the third decimal.
  const isBoth = isNumber && kinds.has('argument');
  if (isNumber || (FOUND.has(name) && name !== 'name'))
    return (value) => typeof value === 'number' && (!isBoth || Number.isInteger(value * 1000));
  return name === 'name' ? (value) => typeof value === 'string' : () => true;
}

/**
 * Returns violations with values of all types: for each argument of sentences that only a request
 * has, the first violation that tells it, once with each value.
 */
function valueVectors(
  workspace: Workspace,
  forms: readonly string[],
  locale: Locale,
): SentenceVector[] {
  const asked = new Set<string>();
  return forms.flatMap((form) => {
    const sentences = sentencesOf(workspace, workspace.form(form));
    return violationsOf(workspace, form).flatMap((violation) => {
      const { case: saidCase } = sentences.say(violation, locale, true);
      const { spoken } = saidCase;
      const names = [...(spoken?.signature.names ?? [])].map((name) =>
        name.replace(/_quoted$/, ''),
      );
      return names.flatMap((name) => {
        const isTold =
          name === 'value' ||
          FOUND.has(name) ||
          (!VOCABULARY.has(violation.rule) && Object.hasOwn(violation.params ?? {}, name));
        if (asked.has(name) || !isTold) return [];
        asked.add(name);
        return VALUES.filter(mayBe(name, spoken?.tree ?? [])).map((value) =>
          vectorOf(
            sentences,
            form,
            name === 'value'
              ? { ...violation, value }
              : { ...violation, params: { ...violation.params, [name]: value } },
            locale,
          ),
        );
      });
    });
  });
}

const clean = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

function sentenceVectors(workspace: Workspace, form: string, locale: Locale): SentenceVector[] {
  const sentences = sentencesOf(workspace, workspace.form(form));
  const all = violationsOf(workspace, form);
  // A violation without its data: its rule's text may ask for more.
  const bare = all.map(({ path, in: part, rule, as }): Violation => ({
    path,
    ...(part === undefined ? {} : { in: part }),
    rule,
    ...(as === undefined ? {} : { as }),
  }));
  const unlike = (one: Violation, at: number): boolean => !isDeepStrictEqual(one, all[at]);
  return [...all, ...bare.filter(unlike)].map((violation) =>
    vectorOf(sentences, form, violation, locale),
  );
}

function vectorOf(
  sentences: Sentences,
  form: string,
  violation: Violation,
  locale: Locale,
): SentenceVector {
  const { text, inline, case: saidCase } = sentences.say(violation, locale, true);
  const names = [...(saidCase.spoken?.signature.names ?? [])];
  const args = sentences.argumentsFor(violation, names, locale);
  return {
    form,
    violation: clean(violation),
    arguments: clean(args),
    sentence: text,
    ...(inline === undefined ? {} : { inline }),
  };
}

const written = (
  workspace: Workspace,
  answer: Answer,
  names: Iterable<string>,
): [string, string][] =>
  [...names].map((name) => {
    const { shape, options: style } = bodyStyle(workspace, name);
    return [name, shape.write(answer, style)];
  });

function bodyVectors(workspace: Workspace, form: string, locale: Locale): BodyVector[] {
  const index = workspace.form(form);
  const options = answerOptions(workspace, { audience: 'client' });
  const sentences = sentencesOf(workspace, index);
  const rankOf = (violation: Violation): readonly number[] =>
    sentences.say(violation, locale).case.rank;
  // In the order of the document, as whoever checks it finds them.
  const all = violationsOf(workspace, form).sort((one, other) =>
    compareRanks(rankOf(one), rankOf(other)),
  );
  const groups = Array.from({ length: Math.ceil(all.length / TOGETHER) }, (_, at) =>
    all.slice(at * TOGETHER, (at + 1) * TOGETHER),
  );
  return groups.map((violations): BodyVector => {
    const answer = answerViolations(violations, locale, sentences, workspace.texts, options);
    const own = written(workspace, answer, Object.keys(ownShapes(workspace.config.shapes)));
    return {
      form,
      violations: clean(violations),
      status: answer.status,
      bodies: Object.fromEntries(written(workspace, answer, SHAPES.keys())),
      ...(own.length > 0 ? { own: Object.fromEntries(own) } : {}),
    };
  });
}

function problemVectors(workspace: Workspace, locale: Locale): ProblemVector[] {
  const { statuses, problemParams } = workspace.config;
  return [...statuses.keys()].flatMap((problem) =>
    (SAMPLES[problem] ?? [problemParams.get(problem) ?? {}]).map((params): ProblemVector => {
      const answer = answerProblem(
        problem,
        params,
        locale,
        '',
        workspace.texts,
        answerOptions(workspace),
      );
      const { title, detail } = answer;
      const bodies = Object.fromEntries(written(workspace, answer, workspace.config.shapes.keys()));
      return { problem, params, title, detail, bodies };
    }),
  );
}

/** Returns what clients send that ask for some languages, or refuse them. */
function headersFor(locales: readonly string[]): string[] {
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

/**
 * Makes the vectors of each rule of each form in some languages, and of several rules at once. The
 * same workspace gives the same vectors.
 */
export function makeVectors(
  workspace: Workspace,
  locales: readonly Locale[],
  only?: readonly string[],
): Vectors {
  const forms = only ?? [...workspace.forms.keys()];
  return {
    vectors: 1,
    languages: headersFor(workspace.offer.locales).map((header) => ({
      header,
      language: localeForHeader(header, workspace.offer),
    })),
    locales: Object.fromEntries(
      locales.map((locale) => [
        locale,
        {
          sentences: [
            ...forms.flatMap((form) => sentenceVectors(workspace, form, locale)),
            ...valueVectors(workspace, forms, locale),
          ],
          bodies: forms.flatMap((form) => bodyVectors(workspace, form, locale)),
          problems: problemVectors(workspace, locale),
        },
      ]),
    ),
  };
}
