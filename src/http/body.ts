import type { FastifyReply, FastifyRequest } from 'fastify';
import { decodeText } from '../workspace/files.js';
import { parsePayload } from '../workspace/payload.js';
import { problem, send, sendMistake, type Service } from './routes.js';

const JSON_TYPE = /^application\/(?:[\w.+-]+\+)?json\s*(?:;|$)/i;

/**
 * The bytes of a request's body, where they may be JSON; else the request is answered, and nothing is returned.
 * @param form the form that it is for, whose texts the answer uses
 */
export function bodyBytes(service: Service, request: FastifyRequest, reply: FastifyReply, form?: string): Buffer | undefined {
  const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
  const coding = request.headers['content-encoding'];
  if (isCoded(coding)) {
    void send(reply.header('accept-encoding', 'identity'), problem(service, request, 'wrong-encoding', aboutForm(form)));
    return undefined;
  }
  const type = request.headers['content-type'];
  if (bytes.length === 0 || (type !== undefined && JSON_TYPE.test(type))) return bytes;
  void send(reply.header('accept', 'application/json'), problem(service, request, 'wrong-media-type', aboutForm(form)));
  return undefined;
}

const isCoded = (coding: string | undefined): boolean => coding !== undefined && !/^\s*(?:identity)?\s*$/i.test(coding);

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

/** Reads the JSON that a backend sends. Where there is none, it is told of its mistake, and nothing is returned. */
export function readJson(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
): { readonly value: unknown } | undefined {
  const refuse = (mistake: string, status: number): undefined => {
    void sendMistake(service, request, reply, { mistake }, status);
    return undefined;
  };
  const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
  const { 'content-type': type, 'content-encoding': coding } = request.headers;
  if (isCoded(coding)) {
    void reply.header('accept-encoding', 'identity');
    refuse('send the body without compression', 415);
    return;
  }
  if (bytes.length > 0 && !(type !== undefined && JSON_TYPE.test(type))) {
    void reply.header('accept', 'application/json');
    refuse('send the body as application/json', 415);
    return;
  }
  const text = decodeText(bytes);
  if (text === undefined) {
    refuse('the body is no text in UTF-8', 400);
    return;
  }
  const payload = parsePayload(text);
  if (!('problem' in payload)) return payload;
  const { line, column, reason } = payload;
  const where = line === undefined ? '' : ` (line ${line}, column ${column ?? 1})`;
  refuse(`${reason}${where}`, payload.problem === 'too-large' ? 413 : 400);
}
