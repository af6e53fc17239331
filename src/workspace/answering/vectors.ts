import { isDeepStrictEqual } from 'node:util';
import { samplePathIn } from '../../core/rules/sample-path.js';
import { answerProblem, answerViolations, type Answer } from '../../core/body/answer.js';
import { SHAPES } from '../../core/body/shapes/shapes.js';
import { rowsOf } from '../../core/check/subject/context.js';
import type { Locale } from '../../core/locale/tag.js';

import { compareRanks } from '../../core/rules/form-index.js';
import { sampleViolation } from '../../core/violation/samples.js';
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
  return rowsOf([index.form]).flatMap(({ field, use }) => {
    const path = samplePathIn(index.form, field.pattern, field.in);
    // Another element shows whether numbers are counted right, also in another plural.
    const later = path.map((segment) => (typeof segment === 'number' ? segment + 20 : segment));
    const paths = path.some((segment) => typeof segment === 'number') ? [path, later] : [path];
    return paths.map((at) => sampleViolation(field, use, at));
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
  return [...all, ...bare.filter(unlike)].map((violation): SentenceVector => {
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
  });
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
    locales: Object.fromEntries(
      locales.map((locale) => [
        locale,
        {
          sentences: forms.flatMap((form) => sentenceVectors(workspace, form, locale)),
          bodies: forms.flatMap((form) => bodyVectors(workspace, form, locale)),
          problems: problemVectors(workspace, locale),
        },
      ]),
    ),
  };
}
