import type { FastifyReply, FastifyRequest } from 'fastify';
import type { FormIndex } from '../core/rules/form-index.js';
import type { FormMatch } from '../workspace/reading/request-forms.js';
import { sendNothingHere } from './site.js';
import { bodyBytes, formMediaOf, sendUnreadable } from './body.js';
import { sendIndex } from './index-page.js';
import { localeAsked, methodsAt, OWN, send, sendMistake, type Service } from './routes.js';
import { occasionOf, requestOf } from './trace.js';

const takesBody = ({ form }: FormIndex, method: string): boolean =>
  method !== 'GET' && method !== 'HEAD' && form.fields.some((field) => field.in === 'body');

async function answer(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  match: FormMatch,
): Promise<FastifyReply> {
  const { form, segments } = match;
  const { id } = form.form;
  request.endpoint = form.form.request;
  const wantsBody = takesBody(form, request.method);
  const bytes = wantsBody ? bodyBytes(service, request, reply, form.form) : undefined;
  if (wantsBody && !bytes) return reply;
  const body = bytes?.length === 0 && form.form.bodyOptional ? undefined : bytes;
  const [, given = ''] = request.url.split(/\?(.*)/s);
  // A parameter of ours is none of the form's, unless that has one of this name.
  const isOurs = !form.form.fields.some(
    (field) => field.in === 'query' && field.pattern[0] === 'locale',
  );
  const query = isOurs ? given.replace(/(?:^|&)locale=[^&]*/g, '').replace(/^&/, '') : given;
  const { current } = service.served;
  const headers = Object.fromEntries(
    Object.entries(request.headers).filter(([, value]) => value !== undefined),
  );
  const outcome = await current.judges.judge({
    kind: 'request',
    form: id,
    query,
    headers,
    segments,
    ...(body ? { body } : {}),
    ...(body && formMediaOf(request) ? { media: request.headers['content-type'] } : {}),
  });
  // RFC 7240: a page that shows each text beside its input asks for those that leave the label out.
  const asksInline = /(?:^|,)\s*inline\s*(?:[;,]|$)/i.test(String(request.headers.prefer ?? ''));
  const options = {
    acceptLanguage: request.headers['accept-language'],
    ...(isOurs ? localeAsked(service, request) : {}),
    ...occasionOf(request),
    address: request.shownPath,
    ...(asksInline ? { inline: true } : {}),
  };
  switch (outcome.kind) {
    case 'unreadable':
      return sendUnreadable(service, request, reply, outcome, id);
    case 'broken': {
      const { violations, more } = outcome;
      return send(reply, current.renderer.render({ form: id, violations, more }, options));
    }
    case 'accepted':
      reply.code(request.method === 'POST' ? 201 : 200).type('application/json; charset=utf-8');
      return reply.send(outcome.body ?? JSON.stringify({ accepted: true }));
    case 'late':
      service.log.warn(
        { ...requestOf(request), form: id, why: outcome.why },
        'a request was not validated',
      );
      return send(reply, current.renderer.renderProblem('not-validated', { ...options, form: id }));
    case 'read':
    case 'failed':
      throw new Error(outcome.kind === 'failed' ? outcome.why : 'a request was taken for a report');
  }
}

/** The stand-in backend: each form at its own method and path. */
export function addForms(service: Service): void {
  service.app.all('/*', (request, reply) => {
    const [path = '/'] = request.url.split('?');
    const { routes } = service.served.current;
    // RFC 9110 section 9.3.2: what answers GET answers HEAD, without the body.
    const match =
      routes.find(request.method, path) ??
      (request.method === 'HEAD' ? routes.find('GET', path) : undefined);
    if (match) return answer(service, request, reply, match);
    if (path === '/' && (request.method === 'GET' || request.method === 'HEAD'))
      return sendIndex(service, request, reply);
    if (path.startsWith(`${OWN}/`) && methodsAt(service, path).length === 0) {
      const mistake = `there is no address ${path} here; ${OWN}/openapi.json lists those that there are`;
      return sendMistake(service, request, reply, { mistake }, 404);
    }
    return sendNothingHere(service, request, reply);
  });
}
