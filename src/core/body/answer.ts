import type { Texts } from '../catalog/texts.js';
import type { Locale } from '../locale/tag.js';
import { compareRanks } from '../rules/form-index.js';
import type { Sentence, Sentences, SentenceOptions } from '../violation/sentence.js';
import type { Violation } from '../violation/violation.js';

/** How the workspace answers. */
export interface AnswerOptions extends SentenceOptions {
  /** What problem type URIs start with; without it the type is `about:blank`. */
  readonly typeBase?: string | undefined;
  /** Whether all violations of a field are told, or the first only. */
  readonly each: 'all' | 'first';
  /** Status by problem. */
  readonly statuses: ReadonlyMap<string, number>;
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
  /** In document order. */
  readonly sentences: readonly Sentence[];
}

function inDocumentOrder(sentences: Sentence[]): Sentence[] {
  // Nearly always they come in order already, and looking is cheaper than sorting.
  const sorted = sentences.every((one, at) => {
    const before = sentences[at - 1];
    return !before || compareRanks(before.case.rank, one.case.rank) <= 0;
  });
  return sorted ? sentences : sentences.sort((one, other) => compareRanks(one.case.rank, other.case.rank));
}

function firstOfEach(sentences: readonly Sentence[]): Sentence[] {
  const seen = new Set<string>();
  return sentences.filter(({ case: { path, in: place } }) => {
    const key = JSON.stringify([place, path]);
    return !seen.has(key) && seen.add(key);
  });
}

/** The answer to a request that broke rules. */
export function answerViolations(
  violations: readonly Violation[],
  locale: Locale,
  sentences: Sentences,
  texts: Texts,
  options: AnswerOptions,
  instance?: string,
): Answer {
  const said = inDocumentOrder(violations.map((violation) => sentences.say(violation, locale)));
  const told = options.each === 'first' ? firstOfEach(said) : said;
  return answerProblem('invalid-fields', { count: told.length }, locale, sentences.form.form.id, texts, options, told, instance);
}

/** The answer to a request that went wrong as a whole. */
export function answerProblem(
  problem: string,
  args: Readonly<Record<string, unknown>>,
  locale: Locale,
  form: string,
  texts: Texts,
  options: AnswerOptions,
  sentences: readonly Sentence[] = [],
  instance?: string,
  members: Answer['members'] = {},
): Answer {
  const { title, detail } = texts.problem(problem, form, locale);
  return {
    problem,
    type: options.typeBase === undefined ? 'about:blank' : options.typeBase + problem,
    status: options.statuses.get(problem) ?? 500,
    title: title?.format(options)(args) ?? problem,
    detail: detail?.format(options)(args) ?? '',
    instance,
    members,
    locale,
    sentences,
  };
}
