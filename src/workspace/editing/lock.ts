import { closeSync, existsSync, lstatSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import path from 'node:path';
import { complaint, Complaint } from '../disk/complaint.js';
import { readPlain, SCRATCH, scratchOf } from '../disk/scratch.js';
import { codeOf } from '../disk/system-error.js';
import { writingFailed } from '../disk/write.js';
import { held } from './held.js';
import { isRunning, ourselves, type Who } from './who.js';

/** How long to wait for another run that edits, in milliseconds; no edit takes a second. */
const PATIENCE_MS = 20_000;
/** After so long whoever waits is told for whom. */
const MOMENT_MS = 1000;
/** A lock of a machine that we cannot ask is given up after this. */
const FOREIGN_MS = 60_000;
/** A lock is empty for the moment between its making and its writing. */
const EMPTY_MS = 500;
const PAUSE_MS = 15;

/** Says something on the way, for whoever waits. */
export type Say = (sentence: string) => void;

/**
 * A lock as it is read: by whom, since when (epoch milliseconds by the file), and what it is told
 * from another by.
 */
interface Held {
  readonly who: Who | undefined;
  readonly since: number;
  readonly mark: string;
}

const textOr = (value: unknown): string => (typeof value === 'string' ? value : '');

function whoIn(text: string): Who | undefined {
  try {
    const { pid, host, boot, started } = JSON.parse(text) as Partial<Record<keyof Who, unknown>>;
    if (!Number.isSafeInteger(pid) || Number(pid) <= 0 || typeof host !== 'string')
      return undefined;
    return { pid: Number(pid), host, boot: textOr(boot), started: textOr(started) };
  } catch {
    return undefined;
  }
}

function look(file: string): Held | undefined {
  const stat = lstatSync(file, { throwIfNoEntry: false });
  if (!stat) return undefined;
  return {
    who: whoIn(readPlain(file)?.toString('utf8') ?? ''),
    since: stat.mtimeMs,
    mark: `${stat.ino} ${stat.mtimeMs} ${stat.size}`,
  };
}

/**
 * Whether whoever made a lock is gone, killed before it could take it away.
 * @param watched for how long it was seen unchanged, in milliseconds
 */
function isLeft({ who, since }: Held, watched: number): boolean {
  // Nobody can be asked: what no process of ours writes is left as soon as it was certainly not
  // being written.
  if (!who) return watched > EMPTY_MS || Date.now() - since > EMPTY_MS;
  // We hold none, or we would not ask: it is of an earlier process of our number.
  if (who.pid === process.pid && isRunning(who) !== undefined) return true;
  return isRunning(who) === undefined ? Date.now() - since > FOREIGN_MS : isRunning(who) === false;
}

function take(file: string, words: string): boolean {
  try {
    const handle = openSync(file, 'wx');
    try {
      writeSync(handle, words);
    } finally {
      closeSync(handle);
    }
    return true;
  } catch (error) {
    if (codeOf(error) === 'EEXIST') return false;
    throw error;
  }
}

/**
 * Takes away a lock that was left; of several that try, one moves it, and moves what it looked at.
 */
function clear(file: string, watched: number): void {
  const aside = `${file}.${process.pid}.left`;
  try {
    renameSync(file, aside);
    const moved = look(aside);
    if (!moved || isLeft(moved, watched)) rmSync(aside, { force: true, recursive: true });
    // It was taken anew between the look and the move: give it back, unless a third has taken its
    // place.
    else if (!existsSync(file)) renameSync(aside, file);
  } catch {
    // Another was quicker.
  }
}

function pause(): void {
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, PAUSE_MS);
}

function told({ who, since }: Held): string {
  const when = Number.isFinite(since) ? new Date(since).toISOString() : 'an unknown time';
  if (!who) return `somebody (since ${when}, the lock does not say who)`;
  return `process ${who.pid} on ${who.host.slice(0, 80)} (since ${when})`;
}

function waitFor(file: string, say: Say): void {
  const start = Date.now();
  let seen: { mark: string; from: number } = { mark: '', from: start };
  let said = false;
  // Worked out before there is a lock: it stands empty for a moment only.
  const words = JSON.stringify(ourselves());
  while (!take(file, words)) {
    const held = look(file);
    if (!held) continue;
    if (held.mark !== seen.mark) seen = { mark: held.mark, from: Date.now() };
    const watched = Date.now() - seen.from;
    if (isLeft(held, watched)) {
      clear(file, watched);
      continue;
    }
    const waited = Date.now() - start;
    if (waited > PATIENCE_MS)
      throw complaint('wrong-use', [
        `this workspace is being edited by ${told(held)}; wait for it, or remove ${file} if it is gone`,
      ]);
    if (waited > MOMENT_MS && !said) {
      said = true;
      say(
        `waiting for ${told(held)}, which is editing this workspace; remove ${file} if it is gone`,
      );
    }
    pause();
  }
}

function acquire(folder: string, say: Say): string {
  try {
    const file = path.join(scratchOf(folder), 'lock');
    waitFor(file, say);
    return file;
  } catch (error) {
    if (error instanceof Complaint) throw error;
    throw writingFailed(path.join(folder, SCRATCH), error);
  }
}

/**
 * Holds the lock of a workspace until `releaseLocks`, so that what is read is still so when it is
 * written.
 * @throws {Complaint} when another holds it for too long, or the folder cannot be written to
 */
export function holdLock(folder: string, say: Say): void {
  if (held.has(folder)) return;
  held.set(folder, acquire(folder, say));
}

/**
 * Runs work while no other run edits the workspace.
 * @throws {Complaint} when another holds the lock for too long, or the folder cannot be written to
 */
export function withLock<T>(
  folder: string,
  work: (scratch: string) => T,
  say: Say = () => undefined,
): T {
  if (held.has(folder)) return work(path.join(folder, SCRATCH));
  const file = acquire(folder, say);
  try {
    return work(path.dirname(file));
  } finally {
    rmSync(file, { force: true });
  }
}
