import type { FastifyReply, FastifyRequest } from 'fastify';
import { isJsonMedia } from '../core/base/json-media.js';
import {
  FORM_MEDIA,
  JSON_MEDIA,
  type BodyMedia,
  type Form,
  type FormMedia,
} from '../core/rules/form.js';
import { decodeText } from '../exchange/decode.js';
import { parsePayload, reasonOf } from '../workspace/reading/payload.js';
import { problem, send, sendMistake, type Service } from './routes.js';

/** The media type of what an HTML form sends, where a request is of such; without parameters. */
export const formMediaOf = ({ headers }: FastifyRequest): FormMedia | undefined => {
  const type = headers['content-type']?.split(';')[0]?.trim().toLowerCase();
  return FORM_MEDIA.find((one) => one === type);
};

const isCoded = (coding: string | undefined): boolean =>
  coding !== undefined && !/^\s*(?:identity)?\s*$/i.test(coding);

/** The bytes of a request's body. */
const bytesOf = ({ body }: FastifyRequest): Buffer =>
  Buffer.isBuffer(body) ? body : Buffer.alloc(0);

/**
 * Refuses a content coding or media type, with the header that lists the supported ones (RFC 9110
 * section 15.5.16).
 */
function unsupported(
  request: FastifyRequest,
  bytes: Buffer,
  reply: FastifyReply,
  media: readonly BodyMedia[] = [JSON_MEDIA],
): 'wrong-encoding' | 'wrong-media-type' | undefined {
  const { 'content-type': type, 'content-encoding': coding } = request.headers;
  if (isCoded(coding)) {
    void reply.header('accept-encoding', 'identity');
    return 'wrong-encoding';
  }
  if (bytes.length === 0 || (type !== undefined && isJsonMedia(type))) return undefined;
  const sent = formMediaOf(request);
  if (sent && media.includes(sent)) return undefined;
  // JSON is taken for every form: whoever tries one by hand sends that.
  void reply.header('accept', [...new Set([JSON_MEDIA, ...media])].join(', '));
  return 'wrong-media-type';
}

/**
 * The bytes of a request's body, where they may be what the form takes; else the request is
 * answered, and nothing is returned.
 * @param form the form that it is for, whose texts the answer uses
 */
export function bodyBytes(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  { id, media }: Pick<Form, 'id' | 'media'>,
): Buffer | undefined {
  const bytes = bytesOf(request);
  const trouble = unsupported(request, bytes, reply, media);
  if (!trouble) return bytes;
  void send(reply, problem(service, request, trouble, aboutForm(id)));
  return undefined;
}

const aboutForm = (form: string | undefined): { form?: string } =>
  form === undefined ? {} : { form };

/** The reason and the place of a body that cannot be read. */
export interface Unreadable {
  readonly problem: 'empty-body' | 'malformed-body' | 'too-large' | 'refused';
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
  return send(
    reply,
    problem(service, request, name, { ...aboutForm(form), params: members, members }),
  );
}

/**
 * Returns the bytes that a backend sent, where they may be JSON; else it answers with the mistake
 * and returns nothing.
 */
export function bytesFromBackend(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
): Buffer | undefined {
  const bytes = bytesOf(request);
  const trouble = unsupported(request, bytes, reply);
  if (!trouble) return bytes;
  const mistake =
    trouble === 'wrong-encoding'
      ? 'send the body without compression'
      : 'send the body as application/json';
  void sendMistake(service, request, reply, { mistake }, 415);
  return undefined;
}

/**
 * Reads the JSON that a backend sent. Where it is invalid, it answers with the mistake and returns
 * nothing.
 */
export function readPosted(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
): { readonly value: unknown } | undefined {
  const bytes = bytesFromBackend(service, request, reply);
  if (!bytes) return undefined;
  const text = decodeText(bytes);
  const payload = text === undefined ? undefined : parsePayload(text);
  if (payload && !('problem' in payload)) return payload;
  const mistake = payload ? reasonOf(payload) : 'the body is not text in UTF-8';
  void sendMistake(
    service,
    request,
    reply,
    { mistake },
    payload?.problem === 'too-large' ? 413 : 400,
  );
  return undefined;
}
