import { isDeepStrictEqual } from 'node:util';
import { isCoveredBy } from '../../core/path/cover.js';
import { anywhere } from '../../core/path/path.js';
import { problemKey, type Unsimple } from '../../core/pack/left-out.js';
import { IcuWriter, type SentenceWriter } from '../../core/pack/writers.js';
import { answerProblem, answerViolations, type Answer } from '../../core/body/answer.js';
import { SHAPES } from '../../core/body/shapes/shapes.js';
import { UNNAMED } from '../../core/rules/unnamed.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import type { Locale } from '../../core/locale/tag.js';
import { compareRanks } from '../../core/rules/form-index.js';
import { localeForHeader } from '../../render/accept-language.js';
import { FOUND } from '../../core/violation/samples.js';
import type { Sentences } from '../../core/violation/sentence.js';
import type { Violation } from '../../core/rules/violation.js';
import { answerOptions, bodyStyle, sentencesOf } from './answering.js';
import { ownShapes } from './packs.js';
import { makeSentences } from './sentences.js';
import type { Workspace } from '../reading/workspace.js';
import {
  headersFor,
  mayBe,
  PROBLEM_SAMPLES,
  samplesOf,
  UNDECLARED,
  VALUES,
  type Sample,
} from './vector-samples.js';

/** A vector that a reader without ICU passes over: its pack leaves a sentence of it out. */
interface Marked {
  readonly icu?: true;
}

/** One violation, and all that comes of it. */
interface SentenceVector extends Marked {
  readonly form: string;
  readonly violation: Violation;
  /** The arguments of its message, as a formatter gets them. */
  readonly arguments: Readonly<Record<string, unknown>>;
  readonly sentence: string;
  readonly inline?: string;
}

interface BodyVector extends Marked {
  readonly form: string;
  readonly violations: readonly Violation[];
  readonly status: number;
  /** The bodies' texts, by shape. */
  readonly bodies: Readonly<Record<string, string>>;
  /** The bodies in shapes of the workspace's own. */
  readonly own?: Readonly<Record<string, string>>;
}

interface ProblemVector extends Marked {
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

/** The number of the element that samples are at (`samplePath`). */
const ELEMENT = 2;

/** By so many the sample of a full body has more violations than one may hold. */
const MORE = 3;

/** Where a body may hold more, there is no sample of a full one. */
const MOST_TOGETHER = 200;

const clean = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

const written = (
  workspace: Workspace,
  answer: Answer,
  names: Iterable<string>,
): [string, string][] =>
  [...names].map((name) => {
    const { shape, options: style } = bodyStyle(workspace, name);
    return [name, shape.write(answer, style)];
  });

/** What packs of one language leave out. */
class LeftOut {
  constructor(
    private readonly workspace: Workspace,
    private readonly unsimple: readonly Unsimple[],
  ) {}

  /** Whether a text of a problem of any request is left out. */
  hasProblem(problem: string): boolean {
    const texts = [problemKey(problem, 'title'), problemKey(problem, 'detail')];
    return this.unsimple.some(({ place, code }) => !place && texts.includes(code));
  }

  /** Whether a sentence is left out, or the text of the problem that its rule is. */
  has(id: string, { violation, problem }: Sample): boolean {
    const codes = [violation.rule === UNDECLARED ? UNNAMED : (violation.as ?? violation.rule)];
    if (problem !== undefined)
      codes.push(problemKey(problem, 'title'), problemKey(problem, 'detail'));
    const left = this.unsimple.filter(({ form, code }) => form === id && codes.includes(code));
    if (left.length === 0) return false;
    const part = violation.in ?? 'body';
    const path = this.workspace.form(id).readPath(violation.path, part);
    return left.some(
      ({ place }) => place?.in === part && isCoveredBy(anywhere(place.pattern), path),
    );
  }
}

/** Makes the vectors of one language. */
class VectorMaker {
  private readonly samples = new Map<string, readonly Sample[]>();

  constructor(
    private readonly workspace: Workspace,
    private readonly locale: Locale,
    private readonly forms: readonly string[],
    /** What plain packs leave out, and what packs with ICU messages do. */
    private readonly left: { readonly plain: LeftOut; readonly icu: LeftOut },
  ) {
    for (const form of forms)
      this.samples.set(
        form,
        samplesOf(workspace.form(form)).filter((sample) => !left.icu.has(form, sample)),
      );
  }

  private samplesOf(form: string): readonly Sample[] {
    return this.samples.get(form) ?? [];
  }

  private marked(isLeft: boolean): { readonly icu?: true } {
    return isLeft ? { icu: true } : {};
  }

  private vectorOf(sentences: Sentences, form: string, sample: Sample): SentenceVector {
    const { locale } = this;
    const { violation } = sample;
    const { text, inline, case: saidCase } = sentences.say(violation, locale, true);
    const names = [...(saidCase.spoken?.signature.names ?? [])];
    const args = sentences.argumentsFor(violation, names, locale);
    return {
      form,
      ...this.marked(this.left.plain.has(form, sample)),
      violation: clean(violation),
      arguments: clean(args),
      sentence: text,
      ...(inline === undefined ? {} : { inline }),
    };
  }

  /**
   * Returns violations with values of all types: for each argument of sentences that only a request
   * has, the first violation that tells it, once with each value.
   */
  private valueVectors(): SentenceVector[] {
    const asked = new Set<string>();
    return this.forms.flatMap((form) => {
      const sentences = sentencesOf(this.workspace, this.workspace.form(form));
      return this.samplesOf(form).flatMap((sample) => {
        const { violation } = sample;
        const { spoken } = sentences.say(violation, this.locale, true).case;
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
            this.vectorOf(sentences, form, {
              ...sample,
              violation:
                name === 'value'
                  ? { ...violation, value }
                  : { ...violation, params: { ...violation.params, [name]: value } },
            }),
          );
        });
      });
    });
  }

  private sentenceVectors(form: string): SentenceVector[] {
    const sentences = sentencesOf(this.workspace, this.workspace.form(form));
    const all = this.samplesOf(form);
    // A violation without its data: its rule's text may ask for more.
    const bare = all.map(({ violation: { path, in: part, rule, as }, problem }) => ({
      problem,
      violation: {
        path,
        ...(part === undefined ? {} : { in: part }),
        rule,
        ...(as === undefined ? {} : { as }),
      },
    }));
    const unlike = (one: Sample, at: number): boolean => !isDeepStrictEqual(one, all[at]);
    return [...all, ...bare.filter(unlike)].map((sample) => this.vectorOf(sentences, form, sample));
  }

  private bodyOf(form: string, samples: readonly Sample[]): BodyVector {
    const { workspace, locale, left } = this;
    const violations = samples.map(({ violation }) => violation);
    const sentences = sentencesOf(workspace, workspace.form(form));
    const options = answerOptions(workspace, { audience: 'client' });
    const answer = answerViolations(violations, locale, sentences, workspace.texts, options);
    const own = written(workspace, answer, Object.keys(ownShapes(workspace.config.shapes)));
    const isLeft = samples.some((sample) => left.plain.has(form, sample));
    return {
      form,
      ...this.marked(isLeft || left.plain.hasProblem('invalid-fields')),
      violations: clean(violations),
      status: answer.status,
      bodies: Object.fromEntries(written(workspace, answer, SHAPES.keys())),
      ...(own.length > 0 ? { own: Object.fromEntries(own) } : {}),
    };
  }

  private bodyVectors(form: string): BodyVector[] {
    const { workspace, locale, left } = this;
    if (left.icu.hasProblem('invalid-fields')) return [];
    const sentences = sentencesOf(workspace, workspace.form(form));
    const rankOf = ({ violation }: Sample): readonly number[] =>
      sentences.say(violation, locale).case.rank;
    // In the order of the document, as whoever checks it finds them.
    const all = this.samplesOf(form).toSorted((one, other) =>
      compareRanks(rankOf(one), rankOf(other)),
    );
    // What only packs with ICU say stands apart, so that all others still have bodies.
    return [true, false].flatMap((isPlain) => {
      const some = all.filter((sample) => left.plain.has(form, sample) !== isPlain);
      return Array.from({ length: Math.ceil(some.length / TOGETHER) }, (_, at) =>
        this.bodyOf(form, some.slice(at * TOGETHER, (at + 1) * TOGETHER)),
      );
    });
  }

  /** Returns a body of more violations than one may hold: elements of one array. */
  private fullVector(): BodyVector[] {
    const { maxViolations } = this.workspace.config.body;
    for (const form of this.forms) {
      const sample = this.samplesOf(form).find(
        (one) => one.problem === undefined && one.violation.path.endsWith(`[${ELEMENT}]`),
      );
      if (!sample || maxViolations > MOST_TOGETHER) continue;
      const { violation } = sample;
      const around = violation.path.slice(0, -`[${ELEMENT}]`.length);
      const many = Array.from({ length: maxViolations + MORE }, (_, at) => ({
        ...sample,
        violation: { ...violation, path: `${around}[${at}]` },
      }));
      if (many.every((one) => !this.left.icu.has(form, one))) return [this.bodyOf(form, many)];
    }
    return [];
  }

  private problemVectors(): ProblemVector[] {
    const { workspace, locale, left } = this;
    const { statuses, problemParams } = workspace.config;
    return [...statuses.keys()].flatMap((problem) =>
      left.icu.hasProblem(problem)
        ? []
        : (PROBLEM_SAMPLES[problem] ?? [problemParams.get(problem) ?? {}]).map((params) => {
            const options = answerOptions(workspace);
            const answer = answerProblem(problem, params, locale, '', workspace.texts, options);
            const { title, detail } = answer;
            const bodies = written(workspace, answer, workspace.config.shapes.keys());
            return {
              problem,
              ...this.marked(left.plain.hasProblem(problem)),
              params,
              title,
              detail,
              bodies: Object.fromEntries(bodies),
            };
          }),
    );
  }

  make(isFirst: boolean): Vectors['locales'][string] {
    return {
      sentences: [
        ...this.forms.flatMap((form) => this.sentenceVectors(form)),
        ...this.valueVectors(),
      ],
      bodies: [
        ...this.forms.flatMap((form) => this.bodyVectors(form)),
        ...(isFirst ? this.fullVector() : []),
      ],
      problems: this.problemVectors(),
    };
  }
}

/**
 * Makes the vectors of each rule of each form in some languages, and of several rules at once. The
 * same workspace gives the same vectors.
 * @param writer how the plain packs are written that they are for
 */
export function makeVectors(
  workspace: Workspace,
  locales: readonly Locale[],
  writer: SentenceWriter,
  only?: readonly string[],
): Vectors {
  const forms = only ?? [...workspace.forms.keys()];
  const { offer } = workspace;
  return {
    vectors: 1,
    languages: headersFor(offer.locales).map((header) => ({
      header,
      language: localeForHeader(header, offer),
    })),
    locales: Object.fromEntries(
      locales.map((locale, at) => {
        const left = (how: SentenceWriter): LeftOut =>
          new LeftOut(workspace, makeSentences(workspace, locale, how, only).unsimple);
        const sides = { plain: left(writer), icu: left(new IcuWriter()) };
        return [locale, new VectorMaker(workspace, locale, forms, sides).make(at === 0)];
      }),
    ),
  };
}
