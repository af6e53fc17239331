// The check of a large workspace against a process that only reads and parses the same files: cold, with nothing changed, its
// memory, and how it grows with the locales.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { makeLarge } from './large-workspace.mjs';
import { atMost, compare, processTime } from './pairs.mjs';

const PARSE = `const fs=require('fs');for(const d of ['messages','rules'])for(const f of fs.readdirSync(d))JSON.parse(fs.readFileSync(d+'/'+f,'utf8'));`;

/** The most memory that a process had, in MB; nothing where the machine has no GNU time. */
function peakMemory(args, cwd) {
  if (!existsSync('/usr/bin/time')) return undefined;
  const { stderr } = spawnSync('/usr/bin/time', ['-f', '%M', process.execPath, ...args], { cwd, encoding: 'utf8' });
  return Number(stderr.trim().split('\n').at(-1)) / 1024;
}

/** @param program the file of the program */
export function checkBench(program) {
  const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-bench-'));
  const at = (locales) => path.join(folder, String(locales));
  try {
    console.log(`a workspace of 40 locales with 5,000 messages each: ${(makeLarge(at(40), 40, 5000) / 1e6).toFixed(1)} MB`);
    const cold = [program, 'check', '--no-cache', '--fail-on', 'never'];
    const parse = ['read and parse the same files', processTime(['-e', PARSE], at(40))];
    compare('check, cold', 'ms', 5, ['zeitwort check', processTime(cold, at(40))], parse, atMost(6));
    const kept = [program, 'check', '--fail-on', 'never'];
    compare('check, nothing changed', 'ms', 7, ['zeitwort check', processTime(kept, at(40))], parse, atMost(2));
    const memory = peakMemory(cold, at(40));
    if (memory !== undefined) console.log(`check, peak memory\n  ${memory.toFixed(0)} MB (at most 600)`);
    for (const locales of [5, 80]) makeLarge(at(locales), locales, 5000);
    const [few, many] = [5, 80].map((locales) => Math.min(...Array.from({ length: 3 }, processTime(cold, at(locales)))));
    console.log(`check, from 5 to 80 locales\n  ${(few / 5).toFixed(0)} and ${(many / 80).toFixed(0)} ms a locale`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
