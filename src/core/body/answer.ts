import type { Texts } from '../catalog/texts.js';
import type { Locale } from '../locale/tag.js';
import { compareRanks } from '../rules/form-index.js';
import type { Sentence, Sentences, SentenceOptions } from '../violation/sentence.js';
import type { Violation } from '../violation/violation.js';
import { developerDetail, type DeveloperDetail, type PlaceOf } from './developer.js';

/** How the workspace answers. */
export interface AnswerOptions extends SentenceOptions {
  /** What problem type URIs start with; without it the type is `about:blank`. */
  readonly typeBase?: string | undefined;
  /** Whether all violations of a field are told, or the first only. */
  readonly each: 'all' | 'first';
  /** Status by problem. */
  readonly statuses: ReadonlyMap<string, number>;
  /** Where a text stands in its file: given where the answer is for developers, who are told more than clients. */
  readonly developer?: PlaceOf | undefined;
}

/** What is known about one occurrence of a problem besides what broke. */
export interface Occasion {
  /** A URI reference (RFC 9457 section 3.1.5). */
  readonly instance?: string | undefined;
  /** Extension members (RFC 9457 section 3.2). */
  readonly members?: Readonly<Record<string, unknown>> | undefined;
  /** When it happened, by RFC 3339. */
  readonly time?: string | undefined;
  readonly requestId?: string | undefined;
}

/** An error answer before it takes a shape: every shape is made of this and of nothing else. */
export interface Answer {
  readonly problem: string;
  /** A URI reference (RFC 9457 section 3.1.1). */
  readonly type: string;
  readonly status: number;
  readonly title: string;
  readonly detail: string;
  readonly instance?: string | undefined;
  /** What else is told about this occurrence (extension members, RFC 9457 section 3.2). */
  readonly members: Readonly<Record<string, unknown>>;
  /** The locale asked for and found. */
  readonly locale: Locale;
  /** When it happened, by RFC 3339, where a shape has a place for it. */
  readonly time?: string | undefined;
  readonly requestId?: string | undefined;
  /** In document order. */
  readonly sentences: readonly Sentence[];
  /** For each sentence, what developers are told; absent in answers for clients. */
  readonly details?: readonly DeveloperDetail[] | undefined;
}

interface Said {
  readonly sentence: Sentence;
  readonly violation: Violation;
}

const rankOf = ({ case: { rank } }: Sentence): readonly number[] => rank;

function sorted<T>(items: T[], rank: (item: T) => readonly number[]): T[] {
  // Nearly always they come in order already, and looking is cheaper than sorting.
  const inOrder = items.every((one, at) => {
    const before = items[at - 1];
    return before === undefined || compareRanks(rank(before), rank(one)) <= 0;
  });
  return inOrder ? items : items.sort((one, other) => compareRanks(rank(one), rank(other)));
}

function firstOfEach<T>(items: readonly T[], sentenceOf: (item: T) => Sentence): readonly T[] {
  const seen = new Set<string>();
  return items.filter((item) => {
    const { path, in: place } = sentenceOf(item).case;
    const key = JSON.stringify([place, path]);
    return !seen.has(key) && seen.add(key);
  });
}

/** The sentences to tell and, for developers, what belongs to each. */
function tell(
  violations: readonly Violation[],
  locale: Locale,
  sentences: Sentences,
  options: AnswerOptions,
): Pick<Answer, 'sentences' | 'details'> {
  const { developer, each } = options;
  const say = (violation: Violation): Sentence => sentences.say(violation, locale);
  if (!developer) {
    const all = sorted(violations.map(say), rankOf);
    return { sentences: each === 'first' ? firstOfEach(all, (one) => one) : all };
  }
  const all = sorted(
    violations.map((violation): Said => ({ sentence: say(violation), violation })),
    ({ sentence }) => rankOf(sentence),
  );
  const told = each === 'first' ? firstOfEach(all, ({ sentence }) => sentence) : all;
  return {
    sentences: told.map(({ sentence }) => sentence),
    details: told.map(({ sentence, violation }) =>
      developerDetail(sentence, violation, sentences.form, locale, options.limit, developer),
    ),
  };
}

/** The answer to a request that broke rules. */
export function answerViolations(
  violations: readonly Violation[],
  locale: Locale,
  sentences: Sentences,
  texts: Texts,
  options: AnswerOptions,
  occasion: Occasion = {},
): Answer {
  const told = tell(violations, locale, sentences, options);
  const args = { count: told.sentences.length };
  return { ...answerProblem('invalid-fields', args, locale, sentences.form.form.id, texts, options, occasion), ...told };
}

/** The answer to a request that went wrong as a whole. */
export function answerProblem(
  problem: string,
  args: Readonly<Record<string, unknown>>,
  locale: Locale,
  form: string,
  texts: Texts,
  options: AnswerOptions,
  { instance, members = {}, time, requestId }: Occasion = {},
): Answer {
  const { title, detail } = texts.problem(problem, form, locale);
  return {
    problem,
    type: options.typeBase === undefined ? 'about:blank' : options.typeBase + problem,
    status: options.statuses.get(problem) ?? 500,
    title: title?.format(options)(args) ?? problem,
    detail: detail?.format(options)(args) ?? '',
    ...{ instance, members, locale, time, requestId },
    sentences: [],
  };
}
