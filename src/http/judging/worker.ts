import { parentPort, workerData } from 'node:worker_threads';
import type { Path } from '../../core/path/path.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { formBody, gathered } from '../../core/rules/parameters.js';
import { trimmed } from '../../core/rules/trim.js';
import { MASK } from '../../core/text/value.js';
import type { Warn } from '../../core/violation/warning.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { decodeText } from '../../exchange/decode.js';
import { Judge } from '../../workspace/judging/judge.js';
import { OutOfTime } from '../../workspace/judging/watch.js';
import { parsePayload } from '../../workspace/reading/payload.js';
import { RuleBook } from '../../workspace/reading/rule-book.js';
import { Tables } from '../../workspace/reading/tables.js';
import { errorListFrom } from '../../workspace/answering/violations.js';
import { formParts } from './form-parts.js';
import type { Asked, Brief, ErrorListJob, Job, Outcome, RequestJob, Said } from './job.js';

const brief = workerData as Brief;
const texts = new Map(brief.texts);

function read(file: string): string {
  const text = texts.get(file);
  if (text === undefined) throw complaint('not-found', [file]);
  return text;
}

const book = new RuleBook(
  brief.rules,
  { read, shown: (file) => file, isThere: (file) => texts.has(file) },
  brief.blank,
);
const tables = new Tables(brief.tables, read);
const judge = new Judge(
  { schemas: book.schemas, tables, zone: brief.zone },
  { budget: brief.budget },
);

/** Returns the accepted value without secret members; its depth is bounded already. */
function shown(value: unknown, isSecret: (path: Path) => boolean, path: Path = []): unknown {
  if (isSecret(path)) return MASK;
  if (Array.isArray(value))
    return value.map((one: unknown, at) => shown(one, isSecret, [...path, at]));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([name, member]) => [name, shown(member, isSecret, [...path, name])]),
  );
}

const textIn = ({ buffer, byteOffset, byteLength }: Uint8Array): string | undefined =>
  decodeText(Buffer.from(buffer, byteOffset, byteLength));

/** The most warnings logged for one report; each entry may cause one. */
const MOST_WARNINGS = 20;

function readErrorList(form: FormIndex, { body, reader }: ErrorListJob): Outcome {
  const warnings: string[] = [];
  const warn: Warn = ({ message }) => {
    if (warnings.length < MOST_WARNINGS) warnings.push(message);
  };
  return {
    kind: 'read',
    report: errorListFrom(textIn(body), reader, form, brief.readers, {
      warn,
      judge: (index, value) => judge.judge(index, { body: value }).violations,
    }),
    warnings,
  };
}

/** The content of a body, or why it cannot be read. */
type Sent = { readonly value: unknown } | Extract<Outcome, { kind: 'unreadable' }>;

function readJson(body: Uint8Array): Sent {
  const text = textIn(body);
  const payload = text === undefined ? { problem: 'malformed-body' as const } : parsePayload(text);
  if (!('problem' in payload)) return payload;
  const { line, column } = 'line' in payload ? payload : {};
  return { kind: 'unreadable', problem: payload.problem, line, column };
}

/** Reads what an HTML form sent. */
async function readForm(form: FormIndex, body: Uint8Array, media: string): Promise<Sent> {
  const parts = await formParts(body, media);
  if (parts) return { value: formBody(form, parts) };
  return { kind: 'unreadable', problem: body.length === 0 ? 'empty-body' : 'refused' };
}

function outcomeOf(form: FormIndex, job: RequestJob, sent: Sent | undefined): Outcome {
  if (sent && 'kind' in sent) return sent;
  const { query, headers, segments } = job;
  const request = trimmed(form, {
    body: sent?.value,
    query: gathered(new URLSearchParams(query)),
    path: segments,
    header: headers,
  });
  const { violations, more } = judge.judge(form, request);
  if (violations.length > 0) return { kind: 'broken', violations, more };
  const isSecret = form.gate([], 'body');
  const accepted = isSecret ? shown(request.body, isSecret) : request.body;
  return { kind: 'accepted', body: sent ? JSON.stringify(accepted) : undefined };
}

async function outcome(form: FormIndex, job: Job): Promise<Outcome> {
  try {
    if (job.kind === 'report') return judge.watch.within(() => readErrorList(form, job));
    const { body, media } = job;
    // No budget of the judge holds for it; the body's length bounds it.
    const ofForm = body && media !== undefined ? await readForm(form, body, media) : undefined;
    return judge.watch.within(() => outcomeOf(form, job, ofForm ?? (body && readJson(body))));
  } catch (error) {
    if (error instanceof OutOfTime)
      return { kind: 'late', why: error.message, hurried: judge.watch.hurried };
    return {
      kind: 'failed',
      why: error instanceof Error ? (error.stack ?? error.message) : String(error),
    };
  }
}

const say = (said: Said): void => parentPort?.postMessage(said);

const hurry = (sources: Brief['hurried']): void => {
  for (const source of sources) judge.watch.hurry(source);
};
hurry(brief.hurried);

parentPort?.on('message', (asked: Asked) => {
  if ('hurry' in asked) {
    hurry(asked.hurry);
    return;
  }
  if ('tryRest' in asked) {
    tryNext();
    return;
  }
  const { number, job } = asked;
  const form = book.forms.get(job.form);
  if (!form) {
    say({ done: number, outcome: { kind: 'failed', why: `there is no form ${job.form}` } });
    return;
  }
  try {
    if (job.kind === 'request') judge.prepare(form);
  } catch (error) {
    say({
      done: number,
      outcome: { kind: 'failed', why: error instanceof Error ? error.message : String(error) },
    });
    return;
  }
  say({ begun: number });
  void outcome(form, job).then((done) => {
    say({ done: number, outcome: done });
  });
});

/**
 * The time that a worker spends on trying forms before it is ready, in milliseconds. It is enough
 * for all forms of most workspaces; those that are left are tried between requests.
 */
const TRYING_MS = 500;

/** Finds what cannot be run before anybody asks for it, form by form. */
function* tried(): Generator<string | undefined, undefined> {
  for (const form of book.forms.values()) {
    try {
      judge.prepare(form);
      yield undefined;
    } catch (error) {
      yield `the form "${form.form.id}" cannot be validated: ${error instanceof Error ? error.message : String(error)}`;
    }
  }
}

const trying = tried();

/** Tries forms until a point in time; returns what cannot be run, and whether some are left. */
function tryUntil(end: number): { readonly failures: string[]; readonly isLeft: boolean } {
  const failures: string[] = [];
  for (;;) {
    const step = trying.next();
    if (step.done) return { failures, isLeft: false };
    if (step.value !== undefined) failures.push(step.value);
    if (performance.now() >= end) return { failures, isLeft: true };
  }
}

function tryNext(): void {
  const { failures, isLeft } = tryUntil(0);
  for (const failed of failures) say({ failed });
  if (isLeft) setImmediate(tryNext);
}

const first = tryUntil(performance.now() + TRYING_MS);
say({ ready: first.failures });
