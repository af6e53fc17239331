import { spawn, type ChildProcess } from 'node:child_process';
import * as z from 'zod';
import { AuditTally, type TallyData } from '../../core/audit/tally.js';
import type { ByteRange } from '../../exchange/json-lines.js';
import { installedFile } from '../../workspace/disk/installed.js';
import type { Part } from '../../workspace/auditing/parts.js';
import { complaint, Complaint } from '../../workspace/disk/complaint.js';

/**
 * The message of a process that audited a part: a tally with lines counted from the part's first,
 * or why there is none.
 */
export type PartResult =
  | { readonly done: TallyData; readonly lines: number }
  | {
      readonly failed: {
        readonly sentence: string;
        readonly file?: string | undefined;
        readonly line?: number | undefined;
      };
    };

const resultSchema = z.union([
  z.object({ done: z.custom<TallyData>((value) => typeof value === 'object'), lines: z.int() }),
  z.object({
    failed: z.object({
      sentence: z.string(),
      file: z.string().optional(),
      line: z.int().optional(),
    }),
  }),
]);

/** Names a whole file instead of a range. */
const WHOLE = 'whole';

const rangeText = ({ range }: Part): string => (range ? `${range.start}-${range.end}` : WHOLE);

/** The range that a part was named by. @throws {Complaint} where it is none */
export function rangeOf(text: string): ByteRange | undefined {
  if (text === WHOLE) return undefined;
  const [, start, end] = /^(\d{1,15})-(\d{1,15})$/.exec(text) ?? [];
  if (start === undefined || end === undefined || Number(start) >= Number(end))
    throw complaint('wrong-use', [`--part is for our own processes, and "${text}" is not a range`]);
  return { start: Number(start), end: Number(end) };
}

/** Audits a part in a process of its own. */
function inProcess(
  part: Part,
  options: readonly string[],
  program: string,
  children: Set<ChildProcess>,
): Promise<PartResult> {
  return new Promise((resolve, reject) => {
    const given = ['audit', ...options, '--part', rangeText(part), '--', part.file];
    const child = spawn(process.execPath, [...process.execArgv, program, ...given], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    children.add(child);
    const said: Buffer[] = [];
    child.stdout.on('data', (bytes: Buffer) => said.push(bytes));
    child.on('error', reject);
    child.on('close', (code, signal) => {
      children.delete(child);
      try {
        resolve(resultSchema.parse(JSON.parse(Buffer.concat(said).toString('utf8'))));
      } catch {
        // Whatever it complained of is on standard error already.
        reject(
          complaint('wrong-use', [
            `a part of ${part.file} could not be audited (${signal ?? `exit code ${code ?? ''}`}); try --jobs 1`,
          ]),
        );
      }
    });
  });
}

const shifted = (tally: TallyData, by: number): TallyData => ({
  ...tally,
  endpoints: tally.endpoints.map((endpoint) => ({
    ...endpoint,
    deviations: endpoint.deviations.map((one) =>
      one.first.line === undefined
        ? one
        : { ...one, first: { ...one.first, line: one.first.line + by } },
    ),
  })),
});

/**
 * Audits parts in several processes at a time, and joins what they found: the same as one process
 * finds, to the byte.
 * @param options those of the command that hold for each part
 * @param program our own program
 * @throws {Complaint} of the first part that could not be read
 */
export async function auditParts(
  all: readonly Part[],
  jobs: number,
  options: readonly string[],
  done: (parts: number) => void,
  program: string = installedFile('cli.cjs'),
): Promise<AuditTally> {
  const results = new Array<PartResult | undefined>(all.length).fill(undefined);
  const children = new Set<ChildProcess>();
  let next = 0;
  let finished = 0;
  let isFailed = false;
  const lane = async (): Promise<void> => {
    for (let at = next++; at < all.length && !isFailed; at = next++) {
      const part = all[at];
      if (!part) return;
      const result = await inProcess(part, options, program, children);
      results[at] = result;
      if ('failed' in result) isFailed = true;
      done(++finished);
    }
  };
  try {
    await Promise.all(Array.from({ length: jobs }, lane));
  } catch (error) {
    isFailed = true;
    for (const child of children) child.kill();
    throw error;
  }
  const tally = new AuditTally();
  let before = 0;
  for (const [at, result] of results.entries()) {
    const part = all[at];
    // Lines of a file go on from where the part before ended.
    if (part?.file !== all[at - 1]?.file || !part?.range) before = 0;
    if (!result) continue;
    if ('failed' in result) {
      const { sentence, file, line } = result.failed;
      // Parts are begun in order, and what was begun is ended, so that all lines before it are
      // counted.
      const location =
        file === undefined
          ? undefined
          : { file, ...(line === undefined ? {} : { line: line + before }) };
      throw new Complaint('wrong-content', sentence, location);
    }
    tally.join(shifted(result.done, before));
    before += result.lines;
  }
  return tally;
}
