import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import { SCRATCH } from '../scratch.js';
import { syncFolder, targetOf, writeDurably, writingFailed } from '../write.js';
import { withLock } from './lock.js';

/** A file to be written, by its name in the workspace; nothing as the text takes it away. */
export interface Write {
  readonly file: string;
  readonly text: string | undefined;
}

interface Step {
  /** The new file in the scratch folder; empty where the target is taken away. */
  readonly from: string;
  /** The target, in the workspace or where a link leads, as an absolute path. */
  readonly to: string;
}

const JOURNAL = 'journal.json';
const isNew = (name: string): boolean => name.startsWith('new-');

/** Carries out what a journal lists; what was carried out already is passed over, so that it can be begun again at any time. */
function carryOut(scratch: string, steps: readonly Step[]): void {
  for (const { from, to } of steps) {
    if (from === '') rmSync(to, { force: true });
    else if (existsSync(path.join(scratch, from))) renameSync(path.join(scratch, from), to);
  }
  for (const folder of new Set(steps.map(({ to }) => path.dirname(to)))) syncFolder(folder);
  rmSync(path.join(scratch, JOURNAL), { force: true });
}

function stepsOf(scratch: string): Step[] | undefined {
  try {
    return JSON.parse(readFileSync(path.join(scratch, JOURNAL), 'utf8')) as Step[];
  } catch {
    return undefined;
  }
}

/** Finishes what a run that was killed had begun to write, and clears away what it had only prepared. Called with the lock. */
function settle(scratch: string): void {
  const steps = stepsOf(scratch);
  if (steps) carryOut(scratch, steps);
  for (const name of readdirSync(scratch)) if (isNew(name)) rmSync(path.join(scratch, name), { force: true });
}

/** Finishes what a killed run had begun, if there is anything; asked at every start, so it looks for one file and no more. */
export function recover(folder: string): void {
  if (!existsSync(path.join(folder, SCRATCH, JOURNAL))) return;
  withLock(folder, settle);
}

/**
 * Writes several files as one: all new texts go to the disk first, then a journal that lists them, then each takes its place.
 * A run that is killed before the journal stands has changed nothing; after it, the next run finishes.
 * @param check called with the lock, before anything is written; it throws where the files are not as they were read
 * @throws {Complaint} when the folder or the disk does not let us; nothing has changed then
 */
export function writeAll(folder: string, writes: readonly Write[], check: () => void): void {
  withLock(folder, (scratch) => {
    settle(scratch);
    check();
    const steps: Step[] = [];
    let at = '';
    try {
      for (const [place, { file, text }] of writes.entries()) {
        at = file;
        const { file: to, mode } = targetOf(path.join(folder, file));
        const from = text === undefined ? '' : `new-${process.pid}-${place}`;
        if (text !== undefined) {
          mkdirSync(path.dirname(to), { recursive: true });
          writeDurably(path.join(scratch, from), text, mode);
        }
        steps.push({ from, to });
      }
      at = path.join(SCRATCH, JOURNAL);
      const prepared = path.join(scratch, 'new-journal');
      writeDurably(prepared, JSON.stringify(steps));
      renameSync(prepared, path.join(scratch, JOURNAL));
    } catch (error) {
      for (const name of readdirSync(scratch)) if (isNew(name)) rmSync(path.join(scratch, name), { force: true });
      throw writingFailed(at, error);
    }
    try {
      carryOut(scratch, steps);
    } catch (error) {
      throw writingFailed(steps.map(({ to }) => to).join(', '), error);
    }
  });
}
