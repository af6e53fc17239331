import type { FastifyReply, FastifyRequest } from 'fastify';
import { decodeText } from '../workspace/files.js';
import { parsePayload } from '../workspace/payload.js';
import { problem, send, type Service } from './routes.js';

const JSON_TYPE = /^application\/(?:[\w.+-]+\+)?json\s*(?:;|$)/i;

/**
 * The bytes of a request's body, where they may be JSON; else the request is answered, and nothing is returned.
 * @param form the form that it is for, whose texts the answer uses
 */
export function bodyBytes(service: Service, request: FastifyRequest, reply: FastifyReply, form?: string): Buffer | undefined {
  const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
  const type = request.headers['content-type'];
  if (bytes.length === 0 || (type !== undefined && JSON_TYPE.test(type))) return bytes;
  void send(reply.header('accept', 'application/json'), problem(service, request, 'wrong-media-type', aboutForm(form)));
  return undefined;
}

const aboutForm = (form: string | undefined): { form?: string } => (form === undefined ? {} : { form });

/** What is wrong with a body that is none, and where. */
export interface Unreadable {
  readonly problem: 'empty-body' | 'malformed-body' | 'too-large';
  readonly line?: number | undefined;
  readonly column?: number | undefined;
}

/** Answers a request whose body cannot be read. */
export function sendUnreadable(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  { problem: name, line, column }: Unreadable,
  form?: string,
): FastifyReply {
  const members = line === undefined ? {} : { line, column };
  const params = { ...members, located: line === undefined ? 'no' : 'yes' };
  return send(reply, problem(service, request, name, { ...aboutForm(form), params, members }));
}

/** Reads the JSON of a request. Where there is none, the request is answered, and nothing is returned. */
export function readJson(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  form?: string,
): { readonly value: unknown; readonly text: string } | undefined {
  const bytes = bodyBytes(service, request, reply, form);
  if (!bytes) return undefined;
  const text = decodeText(bytes);
  const payload = text === undefined ? { problem: 'malformed-body' as const } : parsePayload(text);
  if (!('problem' in payload)) return payload;
  sendUnreadable(service, request, reply, payload, form);
  return undefined;
}
