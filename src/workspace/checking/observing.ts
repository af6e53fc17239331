import * as z from 'zod';
import { Observations } from '../../core/check/observed.js';
import { FIELD_PLACES, type RequestPart } from '../../core/rules/form.js';
import { linesOf } from '../../exchange/json-lines.js';
import { complaint } from '../disk/complaint.js';
import { readingFailed } from '../disk/files.js';
import type { Workspace } from '../reading/workspace.js';

const place = z.enum(FIELD_PLACES as readonly [RequestPart, ...RequestPart[]]).optional();
const one = z.object({
  path: z.string(),
  in: place,
  rule: z.string().min(1),
  as: z.string().optional(),
});

/**
 * A line of a log: what one request broke, or one violation with how often it was seen. Logs may
 * say more of each.
 */
const lineSchema = z.union([
  z.object({ form: z.string(), violations: z.array(one) }),
  one.extend({ form: z.string(), count: z.int().min(1).optional() }),
]);

/**
 * Reads violations that production logged, as JSON Lines, some lines in memory at a time; or what
 * the service counts.
 * @param files their paths, `-` for standard input
 * @throws {Complaint} for a line that is none, with its number
 */
export async function readObserved(
  files: readonly string[],
  workspace: Workspace,
): Promise<Observations> {
  const observations = new Observations((id) => workspace.forms.get(id));
  for (const file of files) await readFile(file, observations);
  return observations;
}

async function readFile(file: string, observations: Observations): Promise<void> {
  try {
    for await (const { first, lines } of linesOf(file))
      for (const [at, text] of lines.entries())
        if (text.trim() !== '') observeLine(text.trimEnd(), observations, file, first + at);
  } catch (error) {
    throw error instanceof Error && 'code' in error && error.name !== 'Complaint'
      ? readingFailed(file, error)
      : error;
  }
}

/** A sample of OpenMetrics: its name, its labels, its value, and perhaps a time. */
const SAMPLE = /^([a-zA-Z_:][\w:]*)(?:\{(.*)\})? (\S+)(?: \S+)?$/;
const LABEL = /(\w+)="((?:[^"\\]|\\.)*)"/g;
const COUNTED = 'zeitwort_violations_total';

/** A line of what the service counts; of other samples nothing is taken. */
function observeSample(text: string, observations: Observations, file: string, line: number): void {
  const [, name, labels = '', value] = SAMPLE.exec(text) ?? [];
  if (name === undefined)
    throw complaint('wrong-content', ['this line is not a sample of OpenMetrics'], {
      file,
      line,
      column: 1,
    });
  if (name !== COUNTED) return;
  const plain = (escaped: string): string =>
    escaped.replace(/\\(.)/g, (_, sign) => (sign === 'n' ? '\n' : String(sign)));
  const said = new Map(
    [...labels.matchAll(LABEL)].map(([, label = '', escaped = '']) => [label, plain(escaped)]),
  );
  const read = lineSchema.safeParse({
    form: said.get('form'),
    path: said.get('field') ?? '',
    rule: said.get('rule'),
    in: said.get('in') ?? 'body',
    count: Number(value),
  });
  if (!read.success)
    throw complaint(
      'wrong-content',
      [`a sample of ${COUNTED} has form, field and rule, and a whole number`],
      {
        file,
        line,
        column: 1,
      },
    );
  if ('path' in read.data) observations.add({ ...read.data, count: read.data.count ?? 1 });
}

function observeLine(text: string, observations: Observations, file: string, line: number): void {
  if (/^[a-zA-Z_:]/.test(text)) observeSample(text, observations, file, line);
  else if (!text.startsWith('#')) observe(text, observations, file, line);
}

function observe(text: string, observations: Observations, file: string, line: number): void {
  const read = lineSchema.safeParse(parsed(text, file, line));
  if (!read.success)
    throw complaint(
      'wrong-content',
      [
        'a line has "form" and "violations", or "form", "path" and "rule"; see the reference of formats',
      ],
      { file, line, column: 1 },
    );
  const { data } = read;
  if ('violations' in data)
    for (const violation of data.violations)
      observations.add({ form: data.form, count: 1, ...violation });
  else observations.add({ ...data, count: data.count ?? 1 });
}

function parsed(text: string, file: string, line: number): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw complaint(
      'wrong-content',
      [
        'this line is neither JSON nor a sample of OpenMetrics; a log of violations has one object a line',
      ],
      {
        file,
        line,
        column: 1,
      },
    );
  }
}
