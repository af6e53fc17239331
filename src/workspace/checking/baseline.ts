import * as z from 'zod';
import type { Finding } from '../../core/finding.js';
import { complaint } from '../disk/complaint.js';
import { readText } from '../disk/files.js';
import { fingerprints } from './fingerprints.js';
import { parseJson } from '../documents/json.js';
import { writeWhole } from '../disk/write.js';

const baselineSchema = z.strictObject({
  baseline: z.literal(1),
  findings: z.array(z.strictObject({ id: z.string(), kind: z.string(), message: z.string() })),
});

/**
 * The ids of findings that are known and stay silent.
 * @throws {Complaint} when the file is not a baseline
 */
export function readBaseline(file: string): ReadonlySet<string> {
  const result = baselineSchema.safeParse(
    parseJson(readText(file, file, 'a baseline'), file, false),
  );
  if (!result.success)
    throw complaint('wrong-content', ['this is not a baseline; write one with --write-baseline'], {
      file,
    });
  return new Set(result.data.findings.map(({ id }) => id));
}

/**
 * Writes findings down as known, one a line and sorted, so that it merges well. What is mended is
 * dropped by it.
 */
export function writeBaseline(file: string, findings: readonly Finding[]): void {
  const ids = fingerprints(findings);
  const lines = findings
    .map(({ kind, message }, at) => ({ id: ids[at] ?? '', kind, message }))
    .sort((one, other) => (one.kind + one.id < other.kind + other.id ? -1 : 1))
    .map((one) => `    ${JSON.stringify(one)}`);
  const list = lines.length === 0 ? '[]' : `[\n${lines.join(',\n')}\n  ]`;
  writeWhole(file, `{\n  "baseline": 1,\n  "findings": ${list}\n}\n`);
}

/** Findings that the baseline does not know. */
export function unknownTo(known: ReadonlySet<string>, findings: readonly Finding[]): Finding[] {
  const ids = fingerprints(findings);
  return findings.filter((_, at) => !known.has(ids[at] ?? ''));
}
