import type { FastifyRequest } from 'fastify';
import { isObject } from '../core/reading.js';
import { Complaint } from '../workspace/complaint.js';
import type { RenderOptions } from '../workspace/renderer.js';
import { checkReport } from '../workspace/violations.js';
import { readJson } from './body.js';
import { problem, send, type Service } from './routes.js';

/** What came more than once comes as a list. */
interface Query {
  readonly locale?: string | readonly string[];
  readonly shape?: string | readonly string[];
}

const first = (given: string | readonly string[] | undefined): string | undefined =>
  typeof given === 'string' ? given : given?.[0];

/** How a caller wants its answer: `?locale=` wins over `Accept-Language`, `?shape=` over the workspace's. */
function wanted(request: FastifyRequest): RenderOptions {
  const query = request.query as Query;
  const [locale, shape] = [first(query.locale), first(query.shape)];
  return {
    requestId: request.id,
    acceptLanguage: request.headers['accept-language'],
    ...(locale === undefined ? {} : { locale }),
    ...(shape === undefined ? {} : { shape }),
  };
}

/** Violations in, the body for a client out, with the status and the headers that go with it. */
export function addRendering(service: Service): void {
  const { app, served } = service;
  app.post('/-/render/:form', (request, reply) => {
    const { renderer, workspace } = served.current;
    const { form: id } = request.params as { form: string };
    const form = workspace.forms.get(id);
    if (!form) return send(reply, problem(service, request, 'not-found'));
    const payload = readJson(service, request, reply, id);
    if (!payload) return reply;
    const report = checkReport(payload.value, form);
    if ('mistake' in report) {
      const members = { mistake: report.mistake, at: report.at };
      return send(reply, problem(service, request, 'malformed-body', { params: { located: 'no' }, members }));
    }
    try {
      return send(reply, renderer.render({ ...report, form: id }, wanted(request)));
    } catch (error) {
      if (!(error instanceof Complaint)) throw error;
      return send(reply, problem(service, request, 'not-found', { members: { mistake: error.sentence } }));
    }
  });
  app.post('/-/problem/:problem', (request, reply) => {
    const { renderer, workspace } = served.current;
    const { problem: name } = request.params as { problem: string };
    if (!workspace.config.statuses.has(name)) return send(reply, problem(service, request, 'not-found'));
    const empty = !Buffer.isBuffer(request.body) || request.body.length === 0;
    const payload = empty ? { value: {} } : readJson(service, request, reply);
    if (!payload) return reply;
    const { params, instance } = isObject(payload.value) ? payload.value : {};
    try {
      const told = { ...(isObject(params) ? { params } : {}), ...(typeof instance === 'string' ? { instance } : {}) };
      return send(reply, renderer.renderProblem(name, { ...wanted(request), ...told }));
    } catch (error) {
      if (!(error instanceof Complaint)) throw error;
      return send(reply, problem(service, request, 'not-found', { members: { mistake: error.sentence } }));
    }
  });
}
