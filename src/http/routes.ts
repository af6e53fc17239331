import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import type { Logger } from 'pino';
import type { ProblemOptions, Rendered } from '../workspace/renderer.js';
import type { ServedWorkspace } from './state.js';

/** What the routes share. */
export interface Service {
  readonly app: FastifyInstance;
  readonly served: ServedWorkspace;
  readonly version: string;
  readonly log: Logger;
  /** Whether it is stopping: what came is answered, but no more should come. */
  stopping: boolean;
}

declare module 'fastify' {
  interface FastifyRequest {
    /** The path as logs may have it. */
    shownPath: string;
  }
}

/** Sends an answer as it was rendered. */
export function send(reply: FastifyReply, { status, headers, body }: Rendered): FastifyReply {
  // As bytes, so that nobody adds a charset to media types that have no use for one.
  return reply.code(status).headers(headers).send(Buffer.from(body));
}

/** Answers with a problem of the whole request, in the client's language. */
export function problem({ served }: Service, request: FastifyRequest, name: string, options: ProblemOptions = {}): Rendered {
  return served.current.renderer.renderProblem(name, {
    acceptLanguage: request.headers['accept-language'],
    requestId: request.id,
    ...options,
  });
}
