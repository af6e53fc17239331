import {
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import { complaint } from '../complaint.js';
import { SCRATCH } from '../scratch.js';
import { writingFailed } from '../write.js';

/** How long to wait for another run that edits, in milliseconds; no edit takes a second. */
const PATIENCE_MS = 20_000;
/** A lock of a machine that we cannot ask is given up after this. */
const FOREIGN_MS = 60_000;
const PAUSE_MS = 15;

const code = (error: unknown): string =>
  typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : '';

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return code(error) === 'EPERM';
  }
}

/** Whether whoever made a lock is gone, killed before it could take it away. */
function isLeft(file: string): boolean {
  try {
    const [pid = '', host] = readFileSync(file, 'utf8').split(' ');
    // A lock is empty for the moment between its making and its writing.
    const age = Date.now() - statSync(file).mtimeMs;
    if (pid === '') return age > 2000;
    return host === hostname() ? !isAlive(Number(pid)) : age > FOREIGN_MS;
  } catch {
    return false;
  }
}

function take(file: string): boolean {
  try {
    const handle = openSync(file, 'wx');
    try {
      writeSync(handle, `${process.pid} ${hostname()}`);
    } finally {
      closeSync(handle);
    }
    return true;
  } catch (error) {
    if (code(error) === 'EEXIST') return false;
    throw error;
  }
}

/** Takes away a lock that was left; of several that try, one moves it, and moves what it looked at. */
function clear(file: string): void {
  const aside = `${file}.${process.pid}.left`;
  try {
    renameSync(file, aside);
    if (isLeft(aside)) rmSync(aside, { force: true });
    // It was taken anew between the look and the move: give it back, unless a third has taken its place.
    else if (!existsSync(file)) renameSync(aside, file);
  } catch {
    // Another was quicker.
  }
}

function pause(): void {
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, PAUSE_MS);
}

/** The scratch folder of a workspace, made where it is not there, and kept out of version control. */
export function scratchOf(folder: string): string {
  const scratch = path.join(folder, SCRATCH);
  if (!existsSync(scratch)) mkdirSync(scratch, { recursive: true });
  const ignore = path.join(scratch, '.gitignore');
  if (!existsSync(ignore)) writeFileSync(ignore, '*\n');
  return scratch;
}

/** The folders whose lock this process holds until it ends. */
const held = new Set<string>();

function acquire(folder: string): string {
  try {
    const file = path.join(scratchOf(folder), 'lock');
    const start = Date.now();
    while (!take(file)) {
      if (isLeft(file)) clear(file);
      else if (Date.now() - start > PATIENCE_MS)
        throw complaint('wrong-use', [`another run is editing this workspace; wait for it, or remove ${file} if there is none`]);
      else pause();
    }
    return file;
  } catch (error) {
    if (error instanceof Error && error.name === 'Complaint') throw error;
    throw writingFailed(path.join(folder, SCRATCH), error);
  }
}

/**
 * Holds the lock of a workspace until the process ends, so that what is read is still so when it is written.
 * @throws {Complaint} when another holds it for too long, or the folder cannot be written to
 */
export function holdLock(folder: string): void {
  if (held.has(folder)) return;
  const file = acquire(folder);
  held.add(folder);
  process.once('exit', () => {
    rmSync(file, { force: true });
  });
}

/**
 * Runs work while no other run edits the workspace.
 * @throws {Complaint} when another holds the lock for too long, or the folder cannot be written to
 */
export function withLock<T>(folder: string, work: (scratch: string) => T): T {
  if (held.has(folder)) return work(path.join(folder, SCRATCH));
  const file = acquire(folder);
  try {
    return work(path.dirname(file));
  } finally {
    rmSync(file, { force: true });
  }
}
