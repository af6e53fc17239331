import type { FastifyReply, FastifyRequest } from 'fastify';
import * as z from 'zod';
import { toPointer } from '../core/path/pointer.js';
import type { FormIndex } from '../core/rules/form-index.js';
import { suggestion } from '../core/text/closest.js';
import { decodeText } from '../exchange/decode.js';
import { Complaint, oneLine } from '../workspace/disk/complaint.js';
import type { Rendered, RenderOptions } from '../render/rendering.js';
import {
  errorListFrom,
  mayHavePayload,
  type ErrorListOutcome,
} from '../workspace/answering/violations.js';
import { explainIssue } from '../workspace/reading/zod-issues.js';
import { bytesFromBackend, readPosted } from './body.js';
import { addOwn, send, sendMistake, type Service } from './routes.js';
import { occasionOf, requestOf } from './trace.js';

/** Query parameters; a repeated one is a list. */
interface Query {
  readonly locale?: string | readonly string[];
  readonly shape?: string | readonly string[];
  readonly reader?: string | readonly string[];
}

const first = (given: string | readonly string[] | undefined): string | undefined =>
  typeof given === 'string' ? given : given?.[0];

/**
 * How a caller wants its answer: `?locale=` wins over `Accept-Language`, `?shape=` over the
 * workspace's.
 */
function wanted(request: FastifyRequest): RenderOptions {
  const query = request.query as Query;
  const [locale, shape] = [first(query.locale), first(query.shape)];
  return {
    ...occasionOf(request),
    acceptLanguage: request.headers['accept-language'],
    ...(locale === undefined ? {} : { locale }),
    ...(shape === undefined ? {} : { shape }),
  };
}

/**
 * Longer reports are read by a thread that judges, within the budget of a request; to hand over a
 * short one takes longer.
 */
const SHORT = 32 * 1024;

/** Unknown paths that one line of the log names. */
const MOST_LOGGED = 20;

/**
 * Reads the report that a backend sent, as `?reader=` says; what cannot be read as it stands is in
 * the log.
 * @returns nothing where the request is answered already
 */
async function errorListOf(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  form: FormIndex,
): Promise<ErrorListOutcome | undefined> {
  const { workspace, judges } = service.served.current;
  const body = bytesFromBackend(service, request, reply);
  if (!body) return undefined;
  const reader = first((request.query as Query).reader) ?? 'violations';
  const log = (message: string): void => {
    service.log.warn({ ...requestOf(request), form: form.form.id, reader }, message);
  };
  const text = decodeText(body);
  // What stands beside a payload may ask for what the form's own rules find in it.
  if (body.length <= SHORT && !(text !== undefined && mayHavePayload(text)))
    return errorListFrom(text, reader, form, workspace.config.readers, {
      warn: ({ message }) => {
        log(message);
      },
    });
  const outcome = await judges.judge({ kind: 'report', form: form.form.id, body, reader });
  if (outcome.kind === 'read') {
    outcome.warnings.forEach(log);
    return outcome.report;
  }
  if (outcome.kind === 'late')
    return { mistake: `the report was not read: ${outcome.why}`, status: 503 };
  throw new Error(outcome.kind === 'failed' ? outcome.why : 'a report was taken for a request');
}

/** Violations in, the body for a client out, with the status and the headers that go with it. */
export function addRendering(service: Service): void {
  const { served } = service;
  addOwn(service, 'POST', '/render/:form', async (request, reply) => {
    const { renderer, workspace } = served.current;
    const { form: id } = request.params as { form: string };
    const form = workspace.forms.get(id);
    if (!form) {
      const mistake = `there is no form "${id}"${suggestion(id, workspace.forms.keys())}`;
      return sendMistake(service, request, reply, { mistake }, 404);
    }
    const report = await errorListOf(service, request, reply, form);
    if (!report) return reply;
    if ('mistake' in report)
      return sendMistake(service, request, reply, report, report.status ?? 400);
    const { unknown, ...broken } = report;
    // All other violations are answered; the log has those that the form does not know.
    if (unknown.length > 0)
      service.log.warn(
        { ...requestOf(request), form: id, unknown: unknown.slice(0, MOST_LOGGED).map(oneLine) },
        'violations of fields that the form has not',
      );
    return rendered(service, request, reply, () =>
      renderer.render({ ...broken, form: id }, wanted(request)),
    );
  });
  addOwn(service, 'POST', '/problem/:problem', (request, reply) => {
    const { renderer, workspace } = served.current;
    const { problem: name } = request.params as { problem: string };
    const { statuses } = workspace.config;
    if (!statuses.has(name)) {
      const mistake = `there is no problem "${name}"${suggestion(name, statuses.keys())}; declare it under "problems" in zeitwort.yaml`;
      return sendMistake(service, request, reply, { mistake }, 404);
    }
    const empty = !Buffer.isBuffer(request.body) || request.body.length === 0;
    const payload = empty ? { value: {} } : readPosted(service, request, reply);
    if (!payload) return reply;
    const parsed = problemSchema.safeParse(payload.value);
    if (!parsed.success) {
      const { sentence, keys } = explainIssue(
        parsed.error,
        payload.value,
        'the data of a problem',
        () => Object.keys(problemSchema.shape),
      );
      return sendMistake(service, request, reply, { mistake: sentence, at: toPointer(keys) });
    }
    return rendered(service, request, reply, () =>
      renderer.renderProblem(name, { ...wanted(request), ...parsed.data }),
    );
  });
}

const problemSchema = z.strictObject({
  params: z.record(z.string(), z.unknown()).optional(),
  instance: z.string().optional(),
  members: z.record(z.string(), z.unknown()).optional(),
});

/** Sends what is rendered; what the caller named that is not there is its mistake. */
function rendered(
  service: Service,
  request: FastifyRequest,
  reply: FastifyReply,
  render: () => Rendered,
): FastifyReply {
  try {
    return send(reply, render());
  } catch (error) {
    if (!(error instanceof Complaint)) throw error;
    return sendMistake(service, request, reply, { mistake: error.sentence });
  }
}
