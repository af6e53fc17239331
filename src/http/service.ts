import { randomUUID } from 'node:crypto';
import type { Socket } from 'node:net';
import fastify, { LogController, type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import type { Logger } from 'pino';
import { ERROR_STATUSES } from '../core/body/problems.js';
import type { ProblemOptions, Rendered } from '../workspace/renderer.js';
import { addForms } from './forms.js';
import { addHealth } from './health.js';
import { addPacks } from './packs.js';
import { addPages } from './pages.js';
import { addRendering } from './rendering.js';
import type { ServedWorkspace } from './state.js';

/** How much the service lets anyone ask of it. */
export interface Limits {
  /** Bytes of a body. */
  readonly body: number;
  /** Bytes of all headers of a request. */
  readonly headers: number;
  /** Milliseconds until a request must have come in whole. */
  readonly request: number;
  readonly connections: number;
}

export const DEFAULT_LIMITS: Limits = { body: 1024 * 1024, headers: 16 * 1024, request: 10_000, connections: 1000 };

export interface ServiceOptions {
  readonly served: ServedWorkspace;
  readonly limits: Limits;
  readonly log: Logger;
  readonly version: string;
}

/** What the routes share. */
export interface Service {
  readonly app: FastifyInstance;
  readonly served: ServedWorkspace;
  readonly version: string;
  /** Whether it is stopping: what came is answered, but no more should come. */
  stopping: boolean;
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

/** What Node's parser refused before there was a request: answered by hand, since nothing else is left. */
function onClientError(error: NodeJS.ErrnoException, socket: Socket): void {
  if (error.code === 'ECONNRESET' || !socket.writable) {
    socket.destroy();
    return;
  }
  const status = error.code === 'HPE_HEADER_OVERFLOW' ? 431 : error.code === 'ERR_HTTP_REQUEST_TIMEOUT' ? 408 : 400;
  const title = ERROR_STATUSES.get(status) ?? '';
  const body = JSON.stringify({ type: 'about:blank', title, status });
  const head = `HTTP/1.1 ${status} ${title}\r\nContent-Type: application/problem+json\r\nContent-Length: ${Buffer.byteLength(body)}\r\nConnection: close\r\n\r\n`;
  socket.end(head + body);
}

/** Makes the service; nothing is kept between requests, so several can stand behind any load balancer. */
export function makeService({ served, limits, log, version }: ServiceOptions): Service {
  const app = fastify({
    loggerInstance: log,
    logController: new LogController({ disableRequestLogging: true }),
    bodyLimit: limits.body,
    requestTimeout: limits.request,
    keepAliveTimeout: 5000,
    // Requests that come on open connections while it stops are still answered.
    return503OnClosing: false,
    forceCloseConnections: 'idle',
    genReqId: () => randomUUID(),
    clientErrorHandler: onClientError,
    http: { maxHeaderSize: limits.headers, connectionsCheckingInterval: Math.min(1000, limits.request) },
  }) as unknown as FastifyInstance;
  app.server.maxConnections = limits.connections;
  app.server.headersTimeout = limits.request;
  const service: Service = { app, served, version, stopping: false };

  // Bodies stay as they came until their size and depth are known to be sane.
  app.removeAllContentTypeParsers();
  app.addContentTypeParser('*', { parseAs: 'buffer' }, (_, body, done) => {
    done(null, body);
  });
  app.addHook('onRequest', (request, reply, done) => {
    reply.header('request-id', request.id);
    done();
  });
  app.addHook('onResponse', (request, reply, done) => {
    if (!log.isLevelEnabled('info')) {
      done();
      return;
    }
    // Neither bodies nor query strings: either may hold what is secret.
    const [path] = request.url.split('?');
    log.info({
      id: request.id,
      method: request.method,
      path,
      status: reply.statusCode,
      ms: Math.round(reply.elapsedTime * 10) / 10,
    });
    done();
  });
  app.setNotFoundHandler((request, reply) => send(reply, problem(service, request, 'not-found')));
  app.setErrorHandler((error: NodeJS.ErrnoException & { statusCode?: number }, request, reply) => {
    if (error.statusCode === 413) return send(reply, problem(service, request, 'too-large'));
    if (error.statusCode !== undefined && error.statusCode < 500)
      return send(reply, problem(service, request, 'malformed-body', { params: { located: 'no' } }));
    log.error({ id: request.id, err: error });
    return send(reply, problem(service, request, 'unexpected'));
  });

  addHealth(service);
  addRendering(service);
  addPacks(service);
  addPages(service);
  addForms(service);
  return service;
}
