import type { FastifyReply, FastifyRequest } from 'fastify';
import { decodeText } from '../workspace/files.js';
import { parsePayload } from '../workspace/payload.js';
import { problem, send, type Service } from './service.js';

const JSON_TYPE = /^application\/(?:[\w.+-]+\+)?json\s*(?:;|$)/i;

/**
 * Reads the JSON of a request. Where there is none, the request is answered, and nothing is returned.
 * @param form the form that it is for, whose texts the answer uses
 */
export function readJson(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  form?: string,
): { readonly value: unknown; readonly text: string } | undefined {
  const about = form === undefined ? {} : { form };
  const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
  const type = request.headers['content-type'];
  if (bytes.length > 0 && (type === undefined || !JSON_TYPE.test(type))) {
    void send(reply.header('accept', 'application/json'), problem(service, request, 'wrong-media-type', about));
    return undefined;
  }
  const text = decodeText(bytes);
  const payload = text === undefined ? { problem: 'malformed-body' as const, reason: '' } : parsePayload(text);
  if (!('problem' in payload)) return payload;
  const members = payload.line === undefined ? {} : { line: payload.line, column: payload.column };
  const params = { ...members, located: payload.line === undefined ? 'no' : 'yes' };
  void send(reply, problem(service, request, payload.problem, { ...about, params, members }));
  return undefined;
}
