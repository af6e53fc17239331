// Recorded responses held against the contract, in one process, beside a process that parses the
// same lines.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { atMost, compare, processTime } from './pairs.mjs';
import { observatory, writeRecordings } from './recordings.mjs';

const PARSE = `
const { createReadStream } = require('node:fs');
const { createInterface } = require('node:readline');
(async () => {
  let members = 0;
  for await (const line of createInterface({ input: createReadStream(process.argv[1]), crlfDelay: Infinity }))
    members += Object.keys(JSON.parse(line)).length;
  console.log(members);
})();`;

export async function auditBench(program) {
  const folder = mkdtempSync(path.join(tmpdir(), 'recordings-'));
  try {
    const file = path.join(folder, 'night.jsonl');
    const lines = await writeRecordings(file, 100e6);
    console.log(`${lines} recorded responses, 100 MB`);
    compare(
      'audit of them in one process',
      'ms',
      5,
      [
        'zeitwort audit --jobs 1',
        processTime(
          [program, 'audit', file, '--jobs', '1', '--tally', path.join(folder, 'tally')],
          observatory,
        ),
      ],
      ['node reads and parses the lines', processTime(['-e', PARSE, file], observatory)],
      atMost(4),
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
