import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import type { Logger } from 'pino';
import { ERROR_STATUSES } from '../core/body/status-phrases.js';
import type { Locale } from '../core/locale/tag.js';
import { localeForHeader } from '../render/accept-language.js';
import type { ProblemOptions, Rendered } from '../render/rendering.js';
import type { ServedWorkspace } from './state.js';
import { occasionOf, requestOf } from './trace.js';

/** The state that routes share. */
export interface Service {
  readonly app: FastifyInstance;
  readonly served: ServedWorkspace;
  readonly version: string;
  readonly log: Logger;
  /** The service's own addresses, each with the method that it takes. */
  readonly own: { readonly method: string; readonly shape: RegExp }[];
  /** Whether it is stopping: what came is answered, but no more should come. */
  stopping: boolean;
}

declare module 'fastify' {
  interface FastifyRequest {
    /** The path as logs may have it. */
    shownPath: string;
    /** The name of the endpoint in metrics, where that is not the route's own address. */
    endpoint: string | undefined;
  }
}

/** The prefix of the service's own addresses. */
export const OWN = '/zeitwort';

/** Answers at an address of the service's own, below `OWN`. */
export function addOwn(
  { app, own }: Service,
  method: 'GET' | 'POST',
  path: string,
  handler: (request: FastifyRequest, reply: FastifyReply) => unknown,
): void {
  const shape = path
    .split('/')
    .map((part) => (part.startsWith(':') ? '[^/]+' : part.replaceAll('.', '\\.')));
  own.push({ method, shape: new RegExp(`^${OWN}${shape.join('/')}$`) });
  app.route({ method, url: OWN + path, handler });
}

/** The methods that are taken at an address where this one is not; none where there is nothing. */
export function methodsAt({ own, served }: Service, path: string): string[] {
  const methods = [
    ...own.filter(({ shape }) => shape.test(path)).map(({ method }) => method),
    ...served.current.routes.methodsAt(path),
  ];
  return [...new Set(methods.flatMap((method) => (method === 'GET' ? ['GET', 'HEAD'] : [method])))];
}

/**
 * A mistake of the backend that asks, which is nothing for its clients: what, and where in what it
 * sent.
 */
export interface Mistake {
  readonly mistake: string;
  /** A JSON Pointer. */
  readonly at?: string | undefined;
}

/**
 * Answers a backend's mistake: in a type that no answer for clients has, without a language, and in
 * the log.
 * @param status 400 for invalid content, 404 for an unknown name
 */
export function sendMistake(
  { log }: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  { mistake, at }: Mistake,
  status = 400,
): FastifyReply {
  log.warn({ ...requestOf(request), mistake, at }, 'the backend made a mistake');
  const title = 'The backend made a mistake; this is not for its clients';
  const body = JSON.stringify({
    type: `${OWN}/mistake`,
    title,
    status,
    mistake,
    ...(at === undefined ? {} : { at }),
  });
  return send(reply, {
    status,
    headers: { 'content-type': 'application/problem+json', 'cache-control': 'no-store' },
    body,
  });
}

/** Sends an answer as it was rendered. */
export function send(reply: FastifyReply, { status, headers, body }: Rendered): FastifyReply {
  // Node knows some by older phrases.
  reply.raw.statusMessage = ERROR_STATUSES.get(status) ?? '';
  // As bytes, so that nobody adds a charset to media types that have no use for one.
  return reply.code(status).headers(headers).send(Buffer.from(body));
}

/** The language that `?locale=` asks for, where it is one of the workspace's. */
export function localeAsked(
  { served }: Service,
  request: FastifyRequest,
): { readonly locale?: Locale } {
  // What the router refuses has no query yet.
  const { locale: asked } = (request.query ?? {}) as { readonly locale?: unknown };
  const locale = served.current.workspace.config.locales.find((one) => one === asked);
  return locale === undefined ? {} : { locale };
}

/** The language of a page: what `?locale=` asks for, else what the browser does. */
export function pageLocale(service: Service, request: FastifyRequest): Locale {
  const { locale } = localeAsked(service, request);
  return (
    locale ??
    localeForHeader(request.headers['accept-language'], service.served.current.workspace.offer)
  );
}

/** Whether a client would rather have a page than JSON. */
export const wantsPage = ({ headers }: FastifyRequest): boolean =>
  /\btext\/html\b/.test(headers.accept ?? '');

/** Answers with a problem of the whole request, in the client's language. */
export function problem(
  service: Service,
  request: FastifyRequest,
  name: string,
  options: ProblemOptions = {},
): Rendered {
  return service.served.current.renderer.renderProblem(name, {
    acceptLanguage: request.headers['accept-language'],
    ...localeAsked(service, request),
    ...occasionOf(request),
    address: request.shownPath,
    ...options,
  });
}
