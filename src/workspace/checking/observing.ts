import * as z from 'zod';
import { Observations } from '../../core/check/observed.js';
import { FIELD_PLACES, type FieldPlace } from '../../core/rules/form.js';
import { linesOf } from '../../exchange/json-lines.js';
import { complaint } from '../complaint.js';
import { readingFailed } from '../files.js';
import type { Workspace } from '../workspace.js';

const place = z.enum(FIELD_PLACES as readonly [FieldPlace, ...FieldPlace[]]).optional();
const one = z.object({ path: z.string(), in: place, rule: z.string().min(1), as: z.string().optional() });

/** A line of a log: what one request broke, or one violation with how often it was seen. Logs may say more of each. */
const lineSchema = z.union([
  z.object({ form: z.string(), violations: z.array(one) }),
  one.extend({ form: z.string(), count: z.int().min(1).optional() }),
]);

/**
 * Reads violations that production logged, as JSON Lines, one line in memory at a time.
 * @param file its path, or `-` for standard input
 * @throws {Complaint} for a line that is none, with its number
 */
export async function readObserved(file: string, workspace: Workspace): Promise<Observations> {
  const observations = new Observations((id) => workspace.forms.get(id));
  try {
    for await (const { first, lines } of linesOf(file))
      for (const [at, text] of lines.entries()) if (text.trim() !== '') observe(text, observations, file, first + at);
  } catch (error) {
    throw error instanceof Error && 'code' in error && error.name !== 'Complaint' ? readingFailed(file, error) : error;
  }
  return observations;
}

function observe(text: string, observations: Observations, file: string, line: number): void {
  const read = lineSchema.safeParse(parsed(text, file, line));
  if (!read.success)
    throw complaint(
      'wrong-content',
      ['a line has "form" and "violations", or "form", "path" and "rule"; see the reference of formats'],
      { file, line, column: 1 },
    );
  const { data } = read;
  if ('violations' in data)
    for (const violation of data.violations) observations.add({ form: data.form, count: 1, ...violation });
  else observations.add({ ...data, count: data.count ?? 1 });
}

function parsed(text: string, file: string, line: number): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw complaint('wrong-content', ['this line is no JSON; a log of violations has one object a line'], {
      file,
      line,
      column: 1,
    });
  }
}
