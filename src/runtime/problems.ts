import type { RenderOptions, Rendered, Renderer, BrokenRules } from '../render/rendering.js';
import { keyed } from '../core/base/keyed.js';

/** What a backend made of a request, told to whoever asked. */
export interface ErrorAnswerOptions<R = unknown> {
  /**
   * What broke rules, out of an error of your own (a validator's, say); nothing where it is
   * something else.
   */
  readonly read?: (error: unknown, request: R) => BrokenRules | undefined;
  /** The problem that an error of your own is (`conflict`); nothing where it is something else. */
  readonly problem?: (error: unknown) => string | undefined;
  /** Told of errors that nobody expected; clients learn nothing of them. */
  readonly onUnexpected?: (error: unknown) => void;
}

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
  FST_ERR_BAD_URL: 'not-found',
});

const BY_STATUS: Readonly<Record<number, string>> = {
  400: 'malformed-body',
  403: 'not-allowed',
  404: 'not-found',
  405: 'wrong-method',
  409: 'conflict',
  413: 'too-large',
  415: 'wrong-media-type',
  422: 'malformed-body',
};

/**
 * The problem that an error of a framework is: what it says by name, else its status.
 * @returns `unexpected` for everything that is no client's doing
 */
export function problemOf(error: unknown): string {
  if (typeof error !== 'object' || error === null) return 'unexpected';
  const { code, type, status, statusCode } = error as Readonly<Record<string, unknown>>;
  for (const name of [code, type])
    if (typeof name === 'string' && Object.hasOwn(BY_NAME, name))
      return BY_NAME[name] ?? 'unexpected';
  return BY_STATUS[Number(status ?? statusCode)] ?? 'unexpected';
}

/**
 * The answer to whatever went wrong: broken rules, a problem of yours, what the framework refused,
 * or something unexpected.
 */
export function answerTo<R>(
  renderer: Renderer,
  error: unknown,
  request: R,
  options: RenderOptions,
  how: ErrorAnswerOptions<R>,
): Rendered {
  const report = how.read?.(error, request);
  if (report) return renderer.render(report, options);
  const problem = how.problem?.(error) ?? problemOf(error);
  if (problem === 'unexpected') how.onUnexpected?.(error);
  return renderer.renderProblem(problem, options);
}
