import { JSON_MEDIA } from '../core/rules/form.js';
import { randomUUID } from 'node:crypto';
import type { Socket } from 'node:net';
import { availableParallelism } from 'node:os';
import fastify, { LogController, type FastifyInstance, type FastifyRequest } from 'fastify';
import type { Logger } from 'pino';
import { ERROR_STATUSES } from '../core/body/status-phrases.js';
import { DEFAULT_BUDGET } from '../workspace/judging/watch.js';
import type { Rendered } from '../render/rendering.js';
import { addForms } from './forms.js';
import { addHealth } from './health.js';
import { addPacks } from './packs.js';
import { addPages } from './pages.js';
import { addRendering } from './rendering.js';
import { problem, send, type Service } from './routes.js';
import { sendNothingHere } from './site.js';
import type { ServedWorkspace } from './state.js';
import { requestOf } from './trace.js';

/** How much the service lets anyone ask of it. */
export interface Limits {
  /** Bytes of a body. */
  readonly body: number;
  /** Bytes of all headers of a request. */
  readonly headers: number;
  /** Milliseconds until a request must have come in whole. */
  readonly request: number;
  readonly connections: number;
  /** Milliseconds that the judging of one request may take. */
  readonly judging: number;
  /** Requests judged at a time. */
  readonly judges: number;
  /** Milliseconds for which a connection may stand still while an answer is sent. */
  readonly sending: number;
}

/**
 * Requests of one connection that wait for their answers; more are sent by nobody who reads these.
 */
const MOST_PIPELINED = 8;
/** Bytes of answers that a connection has not taken when it asks for more. */
const MOST_UNREAD = 4 * 1024 * 1024;

export const DEFAULT_LIMITS: Limits = {
  body: 1024 * 1024,
  headers: 16 * 1024,
  request: 10_000,
  connections: 1000,
  sending: 30_000,
  judging: DEFAULT_BUDGET,
  judges: Math.max(1, Math.min(4, availableParallelism() - 1)),
};

export interface ServiceOptions {
  readonly served: ServedWorkspace;
  readonly limits: Limits;
  readonly log: Logger;
  readonly version: string;
  /** Whether requests for a host are answered, by their `Host`; all are where absent. */
  readonly hosts?: ((host: string | undefined) => boolean) | undefined;
}

/**
 * An address of the service's own as metrics call it; what is asked for where nothing is has one
 * name.
 */
function addressOf({ method, routeOptions: { url } }: FastifyRequest): string {
  return url === undefined || url === '/*'
    ? 'other'
    : `${method} ${url.replace(/:(\w+)/g, '{$1}')}`;
}

/**
 * Splits a request target; an absolute one has the host too, which goes before the header (RFC 9112
 * section 3.2.2).
 */
function targetOf(target: string): { readonly path: string; readonly host?: string } {
  const [whole, host] = /^https?:\/\/([^/?#]*)/i.exec(target) ?? [];
  if (whole === undefined || host === undefined) return { path: target };
  const path = target.slice(whole.length);
  return { path: path.startsWith('/') ? path : `/${path}`, host };
}

/**
 * Sent where not even a problem can be rendered. It has nothing of the error, which is for the log.
 */
const bare = (status: number): Rendered => ({
  status,
  headers: { 'content-type': 'application/problem+json' },
  body: JSON.stringify({ type: 'about:blank', title: ERROR_STATUSES.get(status) ?? '', status }),
});

/** Answers requests that Node's parser refused, by hand, since no request object exists. */
function onClientError(error: NodeJS.ErrnoException, socket: Socket): void {
  if (error.code === 'ECONNRESET' || !socket.writable) {
    socket.destroy();
    return;
  }
  const status =
    error.code === 'HPE_HEADER_OVERFLOW'
      ? 431
      : error.code === 'ERR_HTTP_REQUEST_TIMEOUT'
        ? 408
        : 400;
  const { body } = bare(status);
  const head = `HTTP/1.1 ${status} ${ERROR_STATUSES.get(status) ?? ''}\r\nContent-Type: application/problem+json\r\nX-Content-Type-Options: nosniff\r\nContent-Length: ${Buffer.byteLength(body)}\r\nConnection: close\r\n\r\n`;
  socket.end(head + body);
}

/**
 * Makes the service; nothing is kept between requests, so several can stand behind any load
 * balancer.
 */
export function makeService({ served, limits, log, version, hosts }: ServiceOptions): Service {
  const app = fastify({
    loggerInstance: log,
    logController: new LogController({ disableRequestLogging: true }),
    bodyLimit: limits.body,
    requestTimeout: limits.request,
    keepAliveTimeout: 5000,
    // Who takes nothing of an answer for so long is gone, or means harm.
    connectionTimeout: limits.sending,
    // Requests that come on open connections while it stops are still answered.
    return503OnClosing: false,
    forceCloseConnections: 'idle',
    genReqId: () => randomUUID(),
    clientErrorHandler: onClientError,
    routerOptions: { maxParamLength: limits.headers },
    rewriteUrl: ({ url = '/' }) => targetOf(url).path,
    // What the router refuses before there is a route: escapes that are none, for example.
    frameworkErrors: (_, request, reply) => {
      reply.header('x-content-type-options', 'nosniff');
      void send(reply, problem(service, request, 'not-found'));
    },
    http: {
      maxHeaderSize: limits.headers,
      connectionsCheckingInterval: Math.min(1000, limits.request),
    },
  }) as unknown as FastifyInstance;
  app.server.maxConnections = limits.connections;
  app.server.headersTimeout = limits.request;
  const service: Service = { app, served, version, log, own: [], stopping: false };

  // Bodies stay as they came until their size and depth are known to be sane.
  app.removeAllContentTypeParsers();
  app.addContentTypeParser('*', { parseAs: 'buffer' }, (_, body, done) => {
    done(null, body);
  });
  app.decorateRequest('shownPath', '');
  app.decorateRequest('endpoint', undefined);
  const unanswered = new WeakMap<Socket, number>();
  app.addHook('onRequest', (request, reply, done) => {
    const { socket } = request.raw;
    const waiting = (unanswered.get(socket) ?? 0) + 1;
    unanswered.set(socket, waiting);
    if (waiting > MOST_PIPELINED || socket.writableLength > MOST_UNREAD) {
      if (!socket.destroyed)
        log.warn(
          { requestId: request.id },
          'a connection asked for more than it reads and was closed',
        );
      reply.hijack();
      socket.destroy();
      return;
    }
    const [path = ''] = request.url.split('?');
    request.shownPath = served.current.routes.shown(path);
    // No browser takes an answer for a script or a page that is none.
    reply.header('request-id', request.id).header('x-content-type-options', 'nosniff');
    // Whoever keeps a connection should come back on another, which leads elsewhere by then.
    if (service.stopping) reply.header('connection', 'close');
    if (hosts && !hosts(targetOf(request.originalUrl).host ?? request.headers.host)) {
      const mistake = 'this service does not answer for the host named; start it with --allow-host';
      void send(reply, problem(service, request, 'not-allowed', { members: { mistake } }));
      return;
    }
    done();
  });
  app.addHook('onResponse', (request, reply, done) => {
    const { socket } = request.raw;
    unanswered.set(socket, (unanswered.get(socket) ?? 1) - 1);
    served.metrics.request(request.endpoint ?? addressOf(request), reply.statusCode);
    if (!log.isLevelEnabled('info')) {
      done();
      return;
    }
    // Neither bodies nor query strings: either may hold what is secret. A path is shown without its
    // secret parameters.
    log.info({
      ...requestOf(request),
      method: request.method,
      path: request.shownPath,
      status: reply.statusCode,
      ms: Math.round(reply.elapsedTime * 10) / 10,
    });
    done();
  });
  app.setNotFoundHandler((request, reply) => sendNothingHere(service, request, reply));
  app.setErrorHandler((error: NodeJS.ErrnoException & { statusCode?: number }, request, reply) => {
    if (error.statusCode === 413) return send(reply, problem(service, request, 'too-large'));
    // What is not a media type at all, such as `json`.
    if (error.statusCode === 415) {
      void reply.header('accept', JSON_MEDIA);
      return send(reply, problem(service, request, 'wrong-media-type'));
    }
    if (error.statusCode !== undefined && error.statusCode < 500)
      return send(reply, problem(service, request, 'malformed-body'));
    log.error({ ...requestOf(request), error });
    try {
      return send(reply, problem(service, request, 'unexpected'));
    } catch (worse) {
      log.error({ ...requestOf(request), error: worse });
      return send(reply, bare(500));
    }
  });

  addHealth(service);
  addRendering(service);
  addPacks(service);
  addPages(service);
  addForms(service);
  return service;
}
