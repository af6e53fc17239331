import { keyed } from '../core/base/keyed.js';
import { printPath } from '../core/path/path.js';
import { problemOfStatus } from '../core/body/status-problems.js';
import type { BrokenRules, Rendered, Renderer, RenderOptions } from '../render/rendering.js';
import { RefusedBody } from './read-body.js';
import type { ChosenLocale, ErrorAnswerOptions, Headers, NamedProblem } from './hooks.js';

/** Names by which frameworks refuse a request, and the problem that each is. */
const BY_NAME: Readonly<Record<string, string>> = keyed({
  // body-parser, which most middlewares for bodies use.
  'entity.parse.failed': 'malformed-body',
  'entity.too.large': 'too-large',
  'request.size.invalid': 'malformed-body',
  'encoding.unsupported': 'wrong-encoding',
  'charset.unsupported': 'wrong-media-type',
  'request.aborted': 'malformed-body',
  'entity.verify.failed': 'not-allowed',
  'parameters.too.many': 'too-large',
  // Fastify
  FST_ERR_CTP_BODY_TOO_LARGE: 'too-large',
  FST_ERR_CTP_INVALID_MEDIA_TYPE: 'wrong-media-type',
  FST_ERR_CTP_EMPTY_JSON_BODY: 'empty-body',
  FST_ERR_CTP_INVALID_JSON_BODY: 'malformed-body',
  FST_ERR_CTP_INVALID_CONTENT_LENGTH: 'malformed-body',
  FST_ERR_NOT_FOUND: 'not-found',
  // Files of forms
  LIMIT_FILE_SIZE: 'too-large',
  LIMIT_FILE_COUNT: 'too-large',
  LIMIT_PART_COUNT: 'too-large',
});

/** Headers of an error that clients get. */
const PASSED = ['retry-after', 'allow', 'www-authenticate'];

type Bag = Readonly<Record<string, unknown>>;

const bagOf = (value: unknown): Bag =>
  typeof value === 'object' && value !== null ? (value as Bag) : {};

/** So many errors inside of each other are looked at. */
const DEEPEST = 8;

/** An error and what it wraps, from the outside. */
function* errorsIn(error: unknown): Generator<Bag> {
  let one = error;
  for (let depth = 0; depth < DEEPEST && typeof one === 'object' && one !== null; depth++) {
    yield one as Bag;
    one = (one as Bag).cause;
  }
}

const isErrorStatus = (status: unknown): status is number =>
  typeof status === 'number' && Number.isInteger(status) && status >= 400 && status < 600;

/** The status that an error carries, wherever its library keeps it. */
function statusOf(error: Bag): number | undefined {
  const { status, statusCode, output } = error;
  return [status, statusCode, bagOf(output).statusCode].find(isErrorStatus);
}

/** Nobody waits for longer than a year. */
const LONGEST_WAIT = 366 * 24 * 60 * 60;
const HTTP_DATE = /^\w{3}, \d\d \w{3} \d{4} \d\d:\d\d:\d\d GMT$/;

/** `Retry-After` (RFC 9110 section 10.2.3): whole seconds, or a date; nothing for all else. */
function waitIn(value: unknown): string | undefined {
  const text = typeof value === 'number' ? String(value) : value;
  if (typeof text !== 'string') return undefined;
  const seconds = /^\d+(?:\.\d+)?$/.test(text) ? Math.ceil(Number(text)) : NaN;
  if (seconds <= LONGEST_WAIT) return String(seconds);
  return HTTP_DATE.test(text) ? text : undefined;
}

function headersOf(error: Bag): Headers {
  const given = Object.entries({ ...bagOf(bagOf(error.output).headers), ...bagOf(error.headers) });
  return Object.fromEntries(
    given.flatMap(([name, value]): [string, string][] => {
      const key = name.toLowerCase();
      const text =
        key === 'retry-after' ? waitIn(value) : typeof value === 'number' ? String(value) : value;
      return PASSED.includes(key) &&
        typeof text === 'string' &&
        /^[\t\x20-\x7e]{1,1000}$/.test(text)
        ? [[key, text]]
        : [];
    }),
  );
}

/**
 * The problem that an error of a framework or a plugin is: what it says by name, else its status,
 * which is the answer's too.
 * @returns `unexpected` for everything that says neither
 */
export function problemOf(error: unknown): NamedProblem {
  for (const one of errorsIn(error)) {
    const status = statusOf(one);
    const name = [one.code, one.type].find(
      (word) => typeof word === 'string' && Object.hasOwn(BY_NAME, word),
    );
    if (status === undefined && name === undefined) continue;
    const problem = BY_NAME[String(name)] ?? problemOfStatus(status ?? 500);
    const headers = headersOf(one);
    const wait = Number(headers['retry-after']);
    return {
      problem,
      headers,
      ...(status === undefined ? {} : { status }),
      ...(Number.isInteger(wait) ? { params: { seconds: wait } } : {}),
    };
  }
  return { problem: 'unexpected' };
}

/** Sent where the pack itself cannot say that something went wrong. */
const LAST_RESORT: Rendered = {
  status: 500,
  headers: { 'content-type': 'application/problem+json' },
  body: '{"type":"about:blank","title":"Internal Server Error","status":500}',
};

let hasWarned = false;

/** Reports unexpected errors; without a hook it prints the first one only. */
function tell<R>(fault: unknown, request: R, { onUnexpected }: ErrorAnswerOptions<R>): void {
  try {
    if (onUnexpected) onUnexpected(fault, request);
    else if (!hasWarned) {
      hasWarned = true;
      const { process } = globalThis as { process?: { emitWarning?: (text: string) => void } };
      process?.emitWarning?.(
        `zeitwort-runtime answered an unexpected error; set onUnexpected to get each (${fault instanceof Error ? fault.message : String(fault)})`,
      );
    }
  } catch {
    // The hook may fail as well; the client gets its answer all the same.
  }
}

function chosen<R>(request: R, how: ErrorAnswerOptions<R>): Partial<ChosenLocale> {
  const said = how.locale?.(request);
  return typeof said === 'string' ? { locale: said } : (said ?? {});
}

/** The answer with what the choice of its language means to caches (RFC 9111 section 4.1). */
function forCaches(answer: Rendered, { locale, vary }: Partial<ChosenLocale>): Rendered {
  if (locale === undefined) return answer;
  const cached: Headers = vary === undefined ? { 'cache-control': 'private' } : { vary };
  return { ...answer, headers: { ...answer.headers, ...cached } };
}

/** Rejects anything but a text, since the result of a hook is sent to clients. */
function mustBeText(instance: unknown): void {
  if (instance !== undefined && typeof instance !== 'string')
    throw new TypeError('the instance of an answer is a text');
}

/** The answer to one request, and what it is of. */
interface Attempt {
  readonly answer: Rendered;
  readonly problem: string;
  readonly broken?: BrokenRules;
}

/**
 * The answer to whatever went wrong: broken rules, a problem of yours, what the framework refused,
 * or something unexpected. It throws with `strict` alone.
 * @param wishes what the request says of the answer, such as `acceptLanguage`
 */
export function answerTo<R>(
  renderer: Renderer,
  error: unknown,
  request: R,
  wishes: () => RenderOptions,
  how: ErrorAnswerOptions<R>,
): Rendered {
  const attempt = (): Attempt => {
    const language = chosen(request, how);
    const instance = how.instance?.(request);
    const base = {
      ...wishes(),
      ...(language.locale === undefined ? {} : { locale: language.locale }),
    };
    const broken = how.read?.(error, request);
    if (broken) {
      const of = instance === undefined ? broken : { instance, ...broken };
      mustBeText(of.instance);
      const answer = forCaches(renderer.render(of, base), language);
      return { answer, problem: 'invalid-fields', broken };
    }
    const own = error instanceof RefusedBody ? error.problem : how.problem?.(error, request);
    const named = own === undefined ? problemOf(error) : own;
    const { problem, headers, ...more } = typeof named === 'string' ? { problem: named } : named;
    if (own === undefined && (more.status ?? (problem === 'unexpected' ? 500 : 0)) >= 500)
      tell(error, request, how);
    const of = { ...base, ...(instance === undefined ? {} : { instance }), ...more };
    mustBeText(of.instance);
    const answer = forCaches(renderer.renderProblem(problem, of), language);
    return { answer: { ...answer, headers: { ...answer.headers, ...headers } }, problem };
  };
  try {
    const { answer, problem, broken } = attempt();
    how.onAnswer?.(request, {
      status: answer.status,
      locale: answer.headers['content-language'] ?? '',
      problem,
      ...(broken
        ? {
            ...(broken.form === undefined ? {} : { form: broken.form }),
            violations: logged(broken, renderer),
          }
        : {}),
    });
    return answer;
  } catch (fault) {
    if (how.strict) throw fault;
    tell(fault, request, how);
    return unexpected(renderer, wishes);
  }
}

/** Violations without what a client sent: values, parameters, keys inside of something secret. */
function logged({ form, violations }: BrokenRules, renderer: Renderer): BrokenRules['violations'] {
  const { index } = renderer.form(form);
  return violations.map(({ path, rule, as, in: part }) => ({
    path: printPath(index.shownPath(index.readPath(path, part ?? 'body'), part ?? 'body')),
    rule,
    ...(as === undefined ? {} : { as }),
    ...(part === undefined ? {} : { in: part }),
  }));
}

/** Says that something unexpected happened, in the client's language where that is possible. */
function unexpected(renderer: Renderer, wishes: () => RenderOptions): Rendered {
  for (const options of [wishes, () => ({})]) {
    try {
      return renderer.renderProblem('unexpected', options());
    } catch {
      // The next way asks for less.
    }
  }
  return LAST_RESORT;
}

/** The answer where no route is for an address. It throws with `strict` alone. */
export const answerNoRoute = <R>(
  renderer: Renderer,
  request: R,
  wishes: () => RenderOptions,
  how: ErrorAnswerOptions<R>,
): Rendered =>
  answerTo(renderer, undefined, request, wishes, {
    ...how,
    read: () => undefined,
    problem: () => 'not-found',
  });
