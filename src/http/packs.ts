import type { FastifyReply, FastifyRequest } from 'fastify';
import { localeForHeader } from '../render/accept-language.js';
import { addOwn, problem, send, type Service } from './routes.js';

/**
 * Whether what a client has is what we have (RFC 9110 section 13.1.2: weak comparison, `*` for
 * anything).
 */
function isKnown(header: string | undefined, tag: string): boolean {
  if (header === undefined) return false;
  return (
    header.trim() === '*' || header.split(',').some((one) => one.trim().replace(/^W\//, '') === tag)
  );
}

/** Packed catalogs, each with a strong validator: its own hash. */
export function addPacks(service: Service): void {
  const { served } = service;
  const give = (
    request: FastifyRequest,
    reply: FastifyReply,
    tag: string,
    chosen: boolean,
  ): FastifyReply => {
    const locale = served.current.workspace.offer.locales.find((one) => one === tag);
    if (locale === undefined) return send(reply, problem(service, request, 'not-found'));
    const { pack, bytes } = served.current.pack(locale);
    const etag = `"${pack.hash}"`;
    void reply
      .header('etag', etag)
      .header('cache-control', 'no-cache')
      .header('content-language', locale);
    if (chosen) void reply.header('vary', 'accept-language');
    if (isKnown(request.headers['if-none-match'], etag)) return reply.code(304).send();
    return reply.type('application/json').send(bytes);
  };
  addOwn(service, 'GET', '/packs', (request, reply) =>
    give(
      request,
      reply,
      localeForHeader(request.headers['accept-language'], served.current.workspace.offer),
      true,
    ),
  );
  addOwn(service, 'GET', '/packs/:locale', (request, reply) =>
    give(
      request,
      reply,
      (request.params as { locale: string }).locale.replace(/\.json$/, ''),
      false,
    ),
  );
}
