import type { FastifyReply, FastifyRequest } from 'fastify';
import type { Path } from '../core/path/path.js';
import type { Request } from '../core/rules/evaluate.js';
import type { FormIndex } from '../core/rules/form-index.js';
import { MASK } from '../core/text/value.js';
import { gathered } from '../workspace/parameters.js';
import type { FormMatch } from '../workspace/request-forms.js';
import { readJson } from './body.js';
import { problem, send, type Service } from './service.js';

/** What was accepted, without what is secret; the depth is bounded already. */
function shown(value: unknown, form: FormIndex, path: Path = []): unknown {
  if (form.isSecret(path)) return MASK;
  if (Array.isArray(value)) return value.map((one: unknown, at) => shown(one, form, [...path, at]));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([name, member]) => [name, shown(member, form, [...path, name])]));
}

const takesBody = ({ form }: FormIndex, method: string): boolean =>
  method !== 'GET' && method !== 'HEAD' && form.fields.some((field) => field.in === 'body');

function answer(service: Service, request: FastifyRequest, reply: FastifyReply, { form, segments }: FormMatch): FastifyReply {
  const { id } = form.form;
  const wantsBody = takesBody(form, request.method);
  const payload = wantsBody ? readJson(service, request, reply, id) : { value: undefined };
  if (!payload) return reply;
  const [, search = ''] = request.url.split(/\?(.*)/s);
  const headers = Object.fromEntries(
    Object.entries(request.headers).flatMap(([name, value]) => (value === undefined ? [] : [[name, value]])),
  );
  const query = gathered(new URLSearchParams(search));
  const whole: Request = { body: payload.value, query, path: segments, header: headers };
  const { current } = service.served;
  const violations = current.violations(id, whole);
  if (violations.length > 0) {
    const options = { acceptLanguage: request.headers['accept-language'], requestId: request.id };
    return send(reply, current.renderer.render({ form: id, violations }, options));
  }
  const accepted = wantsBody ? shown(payload.value, form) : { accepted: true };
  return reply.code(request.method === 'POST' ? 201 : 200).send(accepted);
}

/** The stand-in backend: each form at its own method and path. */
export function addForms(service: Service): void {
  service.app.all('/*', (request, reply) => {
    const [path = '/'] = request.url.split('?');
    const match = service.served.current.routes.find(request.method, path);
    return match ? answer(service, request, reply, match) : send(reply, problem(service, request, 'not-found'));
  });
}
