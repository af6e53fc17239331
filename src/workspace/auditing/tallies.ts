import * as z from 'zod';
import type { AuditTally, TallyData } from '../../core/audit/tally.js';
import { DEVIATIONS, type DeviationKind } from '../../core/audit/recording.js';
import { complaint } from '../disk/complaint.js';
import { readText } from '../disk/files.js';

const KINDS = Object.keys(DEVIATIONS) as [DeviationKind, ...DeviationKind[]];
const count = z.int().min(0);

const place = z
  .strictObject({
    file: z.string(),
    line: z.int().min(1).optional(),
    entry: z.int().min(1).optional(),
  })
  .transform(({ file, line, entry }) => ({
    file,
    ...(line === undefined ? {} : { line }),
    ...(entry === undefined ? {} : { entry }),
  }));

const tallySchema = z.strictObject({
  tally: z.literal(1),
  /**
   * The shape that bodies were held against: what was held against another cannot be joined with
   * it.
   */
  shape: z.string(),
  responses: count,
  deviating: count,
  endpoints: z.array(
    z.strictObject({
      endpoint: z.string(),
      responses: count,
      deviations: z.array(
        z.strictObject({
          kind: z.enum(KINDS),
          message: z.string(),
          count: z.int().min(1),
          first: place,
        }),
      ),
      more: count,
    }),
  ),
});

/** A tally as a file: JSON, an endpoint a line, so that it can be looked at. */
export function tallyText(tally: AuditTally, shape: string): string {
  const { responses, deviating, endpoints } = tally.data();
  const head = JSON.stringify({ tally: 1, shape, responses, deviating }).slice(0, -1);
  return `${head},"endpoints":[\n${endpoints.map((one) => JSON.stringify(one)).join(',\n')}\n]}\n`;
}

/**
 * Reads a tally that was written before.
 * @param shape the one that it must be of
 * @throws {Complaint} where it is none, or of another shape
 */
export function readTally(file: string, shape: string): TallyData {
  const named = file === '-' ? 'standard input' : file;
  const refuse = (sentence: string): Error =>
    complaint('wrong-content', [sentence], { file: named });
  let value: unknown;
  try {
    value = JSON.parse(readText(file, named, 'a tally'));
  } catch (error) {
    if (error instanceof SyntaxError)
      throw refuse('this is not a tally; --join reads what "zeitwort audit --tally" wrote');
    throw error;
  }
  const read = tallySchema.safeParse(value);
  if (!read.success)
    throw refuse(
      'this is not a tally of this version; --join reads what "zeitwort audit --tally" wrote',
    );
  if (read.data.shape !== shape)
    throw refuse(
      `this tally is of the shape ${read.data.shape}, not of ${shape}; join tallies of one shape, or name it with --shape`,
    );
  return read.data;
}
