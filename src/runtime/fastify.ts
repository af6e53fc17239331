import { isNativeError } from '../exchange/violations/native-error.js';
import type { Rendered, Renderer, BrokenRules } from '../render/rendering.js';
import { fromSchemaErrors } from './schema-errors.js';
import { wishesOf, type Incoming } from './wishes.js';
import type { ErrorAnswerOptions } from './hooks.js';
import { answerNoRoute, answerTo } from './problems.js';
import { keyed } from '../core/base/keyed.js';

export type * from './hooks.js';
export { problemOf } from './problems.js';

/** The members of a Fastify request that are used. */
export interface FastifyRequest extends Incoming {
  readonly body?: unknown;
  readonly query?: unknown;
  readonly params?: unknown;
  readonly routeOptions?: { readonly config?: object };
}

/** The members of a Fastify reply that are used. */
interface FastifyReply {
  code(status: number): unknown;
  headers(values: Readonly<Record<string, string>>): unknown;
  /** A function, whose type hangs on the route's; it takes bytes. */
  readonly send: unknown;
}

/** Handlers for `setNotFoundHandler` and `setErrorHandler`. */
export interface FastifyAnswers<R extends FastifyRequest = FastifyRequest> {
  readonly noRoute: (request: R, reply: FastifyReply) => unknown;
  readonly failure: (error: unknown, request: R, reply: FastifyReply) => unknown;
}

/** The form of a route: `config: { form: 'visitor-pass' }`. */
function formOf({ routeOptions }: FastifyRequest): string | undefined {
  const { form } = (routeOptions?.config ?? {}) as { readonly form?: unknown };
  return typeof form === 'string' ? form : undefined;
}

/**
 * Reads the errors of Fastify's own validation, for the form that the route names, or without a
 * form.
 */
function validated(
  renderer: Renderer,
  error: unknown,
  request: FastifyRequest,
): BrokenRules | undefined {
  const form = formOf(request);
  const { validation, validationContext } = (
    typeof error === 'object' && error !== null ? error : {}
  ) as Readonly<Record<string, unknown>>;
  if (!Array.isArray(validation) || !validation.every(isNativeError)) return undefined;
  const parts: Readonly<Record<string, unknown>> = keyed({
    querystring: request.query,
    params: request.params,
    headers: request.headers,
  });
  const payload = parts[String(validationContext)] ?? request.body;
  return { form, violations: fromSchemaErrors(error, { form: renderer.form(form), payload }) };
}

// As bytes, since Fastify adds a charset to texts, which JSON has no use for (RFC 8259 section 11).
function sent(reply: FastifyReply, { status, headers, body }: Rendered): FastifyReply {
  reply.code(status);
  reply.headers(headers);
  const { send } = reply as { readonly send: (this: unknown, body: Uint8Array) => unknown };
  send.call(reply, new TextEncoder().encode(body));
  return reply;
}

/**
 * Makes the answers of a Fastify application: what its own validation finds too, where a route has
 * its form in `config`.
 */
export function fastifyAnswers<R extends FastifyRequest = FastifyRequest>(
  renderer: Renderer,
  how: ErrorAnswerOptions<R> = {},
): FastifyAnswers<R> {
  return {
    noRoute: (request, reply) =>
      sent(
        reply,
        answerNoRoute(renderer, request, () => wishesOf(request), how),
      ),
    failure: (error, request, reply) => {
      const read = (): BrokenRules | undefined =>
        how.read?.(error, request) ?? validated(renderer, error, request);
      return sent(
        reply,
        answerTo(renderer, error, request, () => wishesOf(request), { ...how, read }),
      );
    },
  };
}
