import { keyed } from '../base/keyed.js';
import { saidOf } from '../message/compile.js';
import { valueText } from '../text/value.js';
import type { Phrase } from '../texts/phrase.js';
import type { TextLookup } from '../texts/lookup.js';
import type { Locale } from '../locale/tag.js';
import { compareRanks } from '../rules/form-index.js';
import {
  declaredBy,
  type Sentence,
  type Sentences,
  type SentenceOptions,
} from '../violation/sentence.js';
import type { Violation } from '../rules/violation.js';
import { unresolved } from '../violation/warning.js';
import { problemOf } from './broken-problem.js';
import { developerDetail, type DeveloperDetail, type LocationOf } from './developer.js';
import { TELLS_WHETHER, TO_TRY_AGAIN } from './problems.js';
import { ERROR_STATUSES } from './status-phrases.js';

/** The default for the most violations in an answer. */
export const MOST_TOLD = 100;

/**
 * The most violations that are put into words, to be sorted and sent or counted; a report may list
 * any number.
 */
export const MOST_SAID = 1000;

/**
 * A detail made of what broke: all sentences, with something between them, or the first alone, as
 * if nothing else were broken.
 */
export type DetailOption =
  { readonly of: 'all'; readonly separator: string } | { readonly of: 'first' };

/** How the workspace answers. */
export interface AnswerOptions extends SentenceOptions {
  /** The prefix of problem type URIs; without it the type is `about:blank`. */
  readonly typeBase?: string | undefined;
  /** Whether the answer has all violations of a field, or the first only. */
  readonly perField: 'all' | 'first';
  /** The most violations in the answer; of the others their number. */
  readonly maxViolations: number;
  /** Whether texts beside the input are included. */
  readonly inline?: boolean | undefined;
  /** The detail of broken rules, where it is not a text of its own. */
  readonly detail?: DetailOption | undefined;
  /** Status by problem. */
  readonly statuses: ReadonlyMap<string, number>;
  /** Returns the place of a text in its file; present where the answer is for developers. */
  readonly developer?: LocationOf | undefined;
}

/** The data of one occurrence of a problem besides the broken rules. */
export interface Occasion {
  /** A URI reference (RFC 9457 section 3.1.5). */
  readonly instance?: string | undefined;
  /** Extension members (RFC 9457 section 3.2). */
  readonly members?: Readonly<Record<string, unknown>> | undefined;
  /** When it happened, by RFC 3339. */
  readonly time?: string | undefined;
  readonly requestId?: string | undefined;
  /** The trace that it belongs to (W3C Trace Context): 32 hexadecimal digits. */
  readonly traceId?: string | undefined;
  /** The path that was asked for, without its query. */
  readonly address?: string | undefined;
  /** The status, where what went wrong has one of its own. */
  readonly status?: number | undefined;
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
  /** Further members of this answer (extension members, RFC 9457 section 3.2). */
  readonly members: Readonly<Record<string, unknown>>;
  /** The locale asked for and found. */
  readonly locale: Locale;
  /** The languages of the texts that it is made of; empty where none has a text. */
  readonly locales: readonly Locale[];
  /** When it happened, by RFC 3339, where a shape has a place for it. */
  readonly time?: string | undefined;
  readonly requestId?: string | undefined;
  readonly traceId?: string | undefined;
  /** The path that was asked for, without its query. */
  readonly address?: string | undefined;
  /** After how many seconds a client may try again. */
  readonly retryAfter?: number | undefined;
  /** The number of omitted violations; with many thousand, the rest is not counted. */
  readonly more: number;
  /** In document order. */
  readonly sentences: readonly Sentence[];
  /** For each sentence, the details for developers; absent in answers for clients. */
  readonly details?: readonly DeveloperDetail[] | undefined;
}

/**
 * The longest value of a problem's parameter in its texts, in graphemes: names and addresses, which
 * a message is made around.
 */
const MOST_ECHOED = 500;
const MOST_LISTED = 100;

/** Nobody waits for longer than a year. */
const LONGEST_WAIT = 366 * 24 * 60 * 60;

/** Whole seconds to wait (RFC 9110 section 10.2.3); nothing for what is not a number of them. */
const secondsIn = (value: unknown): number | undefined =>
  typeof value === 'number' && value >= 0 && value <= LONGEST_WAIT ? Math.ceil(value) : undefined;

/** Returns a parameter of a problem as its texts may show it. */
function echoed(value: unknown): unknown {
  if (Array.isArray(value)) return value.slice(0, MOST_LISTED).map(echoed);
  const isOther =
    typeof value === 'string' ||
    (typeof value === 'object' && value !== null && !(value instanceof Date));
  return isOther ? valueText(value, MOST_ECHOED) : value;
}

const WHETHER = Object.entries(TELLS_WHETHER);

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
    const { where } = sentenceOf(item).case;
    return !seen.has(where) && seen.add(where);
  });
}

/** How many fields sentences speak of. */
const fieldsOf = (sentences: readonly Sentence[]): number =>
  firstOfEach(sentences, (one) => one).length;

/** Returns the part of a list that is shown. */
function capped<T>(items: readonly T[], most: number): readonly T[] {
  return items.length > most ? items.slice(0, most) : items;
}

/** The sentences of the answer and, for developers, the details of each. */
function tell(
  violations: readonly Violation[],
  locale: Locale,
  sentences: Sentences,
  options: AnswerOptions,
): Pick<Answer, 'sentences' | 'details' | 'more'> & { readonly fields: number } {
  const { developer, perField, maxViolations, inline } = options;
  const say = (violation: Violation): Sentence => sentences.say(violation, locale, inline);
  if (!developer) {
    const all = sorted(violations.map(say), rankOf);
    const kept = perField === 'first' ? firstOfEach(all, (one) => one) : all;
    return {
      sentences: capped(kept, maxViolations),
      more: Math.max(0, kept.length - maxViolations),
      fields: fieldsOf(all),
    };
  }
  const all = sorted(
    violations.map((violation): Said => ({ sentence: say(violation), violation })),
    ({ sentence }) => rankOf(sentence),
  );
  const wanted = perField === 'first' ? firstOfEach(all, ({ sentence }) => sentence) : all;
  const kept = capped(wanted, maxViolations);
  return {
    more: wanted.length - kept.length,
    fields: fieldsOf(all.map(({ sentence }) => sentence)),
    sentences: kept.map(({ sentence }) => sentence),
    details: kept.map(({ sentence, violation }) =>
      developerDetail(sentence, violation, sentences.form, locale, options.shorten, developer),
    ),
  };
}

/**
 * The answer to a request that broke rules.
 * @param more how many more violations there are than those given
 */
export function answerViolations(
  violations: readonly Violation[],
  locale: Locale,
  sentences: Sentences,
  texts: TextLookup,
  options: AnswerOptions,
  occasion: Occasion = {},
  more = 0,
): Answer {
  const broken = problemOf(violations, sentences.form, options.statuses);
  if (broken) {
    const { problem, use, violation } = broken;
    const { id } = sentences.form.form;
    const params = keyed<unknown>({ ...declaredBy(use), ...violation.params });
    // Its texts may say all that a message of the field may say.
    for (const text of Object.values(texts.problem(id, problem, locale)))
      if (text)
        Object.assign(
          params,
          sentences.argumentsFor(violation, text.signature.names, locale, text),
        );
    return answerProblem(problem, params, locale, id, texts, options, occasion);
  }
  const said = capped(violations, MOST_SAID);
  const { detail } = options;
  const isAlone = detail?.of === 'first';
  const { fields, ...listed } = tell(
    said,
    locale,
    sentences,
    isAlone ? { ...options, maxViolations: 1 } : options,
  );
  const rest = isAlone ? 0 : listed.more + violations.length - said.length + more;
  const args = isAlone
    ? { count: 1, fields: 1 }
    : { count: listed.sentences.length + rest, fields };
  const answer = answerProblem(
    'invalid-fields',
    args,
    locale,
    sentences.form.form.id,
    texts,
    options,
    occasion,
  );
  const languages = new Set(answer.locales);
  for (const { case: at } of listed.sentences) if (at.spoken) languages.add(at.spoken.locale);
  return {
    ...answer,
    ...listed,
    ...(detail
      ? {
          detail: listed.sentences
            .map(({ text }) => text)
            .join(detail.of === 'all' ? detail.separator : ''),
        }
      : {}),
    locales: languages.size === answer.locales.length ? answer.locales : [...languages],
    more: rest,
  };
}

/** The URI of a problem's type (RFC 9457 section 3.1.1). */
export const typeUri = (problem: string, { typeBase }: Pick<AnswerOptions, 'typeBase'>): string =>
  typeBase === undefined ? 'about:blank' : typeBase + problem;

/** The answer to a request that went wrong as a whole. */
export function answerProblem(
  problem: string,
  given: Readonly<Record<string, unknown>>,
  locale: Locale,
  form: string,
  texts: TextLookup,
  options: AnswerOptions,
  { members = {}, status: own, ...occasion }: Occasion = {},
): Answer {
  const isToTry = TO_TRY_AGAIN.has(problem);
  const seconds = isToTry ? secondsIn(given.seconds) : undefined;
  const { title, detail } = texts.problem(form, problem, locale);
  // A backend's data about a request may come from a client.
  const args = Object.fromEntries(
    Object.entries(given).map(([name, value]) => [name, echoed(value)]),
  );
  if (isToTry) args.seconds = seconds;
  for (const [key, name] of WHETHER) args[key] ??= args[name] === undefined ? 'no' : 'yes';
  const status = own ?? options.statuses.get(problem) ?? 500;
  const languages: Locale[] = [];
  const say = (entry: Phrase | undefined): string | undefined => {
    if (!entry) return undefined;
    const { text, lacking } = saidOf(entry.format(options, locale), args);
    if (lacking === undefined) {
      if (!languages.includes(entry.locale)) languages.push(entry.locale);
      return text;
    }
    options.warn?.(unresolved({ argument: lacking, file: entry.file, problem }));
    return undefined;
  };
  return {
    problem,
    type: typeUri(problem, options),
    status,
    // Without a text of its own it has the one that HTTP has for it.
    title: say(title) ?? ERROR_STATUSES.get(status) ?? problem,
    detail: say(detail) ?? '',
    ...occasion,
    members,
    locale,
    locales: languages,
    retryAfter: seconds,
    more: 0,
    sentences: [],
  };
}

/**
 * The value of `Content-Language` (RFC 9110 section 8.5): the languages of the texts that clients
 * get.
 */
export const contentLanguage = ({ locales: languages, locale }: Answer): string =>
  languages.length === 0 ? locale : languages.join(', ');

/**
 * Returns the details for developers about a sentence of an answer; nothing in answers for clients.
 */
export const detailOf = ({ details }: Answer, at: number): DeveloperDetail | undefined =>
  details?.[at];
