import { linkSync, lstatSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import { complaint, Complaint } from '../disk/complaint.js';
import { readPlain, SCRATCH, scratchOf } from '../disk/scratch.js';
import { systemCodeOf } from '../disk/system-error.js';
import { replaceFile, writingFailed } from '../disk/write.js';
import { held } from './held.js';
import { finishing, isLeft, JOURNAL, journalIn, type Ending, type Journal } from './journal.js';

/** How long to wait for another run that edits, in milliseconds; no edit takes a second. */
const PATIENCE_MS = 20_000;
/** After this time a waiting edit prints which process it waits for. */
const MOMENT_MS = 1000;
/** Without links, a journal is empty for the moment between its making and its writing. */
const EMPTY_MS = 500;
const PAUSE_MS = 15;

/** Says something on the way, for whoever waits. */
export type Say = (sentence: string) => void;

function journalText(state: Journal['state'], steps: Journal['steps']): string {
  const journal: Journal = { version: 3, pid: process.pid, host: hostname(), state, steps };
  return JSON.stringify(journal);
}

/**
 * Makes a file that is not there, whole from the beginning where the file system has links.
 * @throws {Error} with the code EEXIST where it is there
 */
function make(begun: string, file: string, text: string): void {
  try {
    linkSync(begun, file);
  } catch (error) {
    if (systemCodeOf(error) === 'EEXIST') throw error;
    writeFileSync(file, text, { flag: 'wx' });
  }
}

/** The turn to edit a workspace: the journal, made by this process, which alone writes it. */
export class Turn {
  private text = '';
  private state: Journal['state'] = 'reading';

  constructor(readonly file: string) {}

  /** Takes the turn where nobody has it. */
  take(): boolean {
    const text = journalText('reading', []);
    const begun = `${this.file}.${process.pid}.begun`;
    try {
      rmSync(begun, { force: true });
      writeFileSync(begun, text, { flag: 'wx' });
      make(begun, this.file, text);
    } catch (error) {
      if (systemCodeOf(error) === 'EEXIST') return false;
      throw error;
    } finally {
      rmSync(begun, { force: true });
    }
    this.text = text;
    return true;
  }

  /** Whether the journal is the one that this turn wrote. */
  isOurs(): boolean {
    return readPlain(this.file)?.toString('utf8') === this.text;
  }

  /**
   * Writes down how far the edit is.
   * @throws {Complaint} where another run took the turn over, as after a night in sleep
   */
  note(state: Journal['state'], steps: Journal['steps']): void {
    if (!this.isOurs())
      throw complaint('wrong-use', ['another run edits this workspace meanwhile; run this again']);
    const text = journalText(state, steps);
    replaceFile(this.file, text);
    this.text = text;
    this.state = state;
  }

  /** Gives the turn to others. An edit that could not be ended keeps its journal. */
  end(): void {
    if (this.state === 'reading' && this.isOurs()) rmSync(this.file, { force: true });
  }
}

/** Removes a journal that was ended; of several that try, one moves it. */
function clear(file: string, text: string | undefined): void {
  const aside = `${file}.${process.pid}.left`;
  try {
    renameSync(file, aside);
    if (readPlain(aside)?.toString('utf8') === text) {
      rmSync(aside, { force: true, recursive: true });
      return;
    }
    // It was made anew between the look and the move: it goes back, unless a third was quicker,
    // and then its maker hears of that when it writes.
    if (lstatSync(file, { throwIfNoEntry: false })) rmSync(aside, { force: true });
    else renameSync(aside, file);
  } catch {
    // Another was quicker.
  }
}

function pause(): void {
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, PAUSE_MS);
}

function whose(journal: Journal | undefined, since: number): string {
  const when = Number.isFinite(since) ? new Date(since).toISOString() : 'an unknown time';
  return journal
    ? `process ${journal.pid} on ${journal.host.slice(0, 80)} (since ${when})`
    : `somebody (since ${when}, the file does not say who)`;
}

/** Waits for the turn, or ends what a run that is gone has left. */
function waitFor(folder: string, file: string, ending: Ending, say: Say): Turn {
  const start = Date.now();
  let said = false;
  const turn = new Turn(file);
  while (!turn.take()) {
    const stat = lstatSync(file, { throwIfNoEntry: false });
    if (!stat) continue;
    const text = readPlain(file)?.toString('utf8');
    // It was removed since the look; what is there and no plain file has no text either.
    if (text === undefined && !lstatSync(file, { throwIfNoEntry: false })) continue;
    const journal = journalIn(text ?? '');
    const waited = Date.now() - start;
    const age = Date.now() - stat.mtimeMs;
    const isEmpty = text === '';
    if (journal ? isLeft(journal, age) : !isEmpty || Math.abs(age) > EMPTY_MS) {
      // A process that is gone may have ended its turn first, and then another has it by now.
      if (readPlain(file)?.toString('utf8') !== text) continue;
      if (!isEmpty) ending(folder, journal);
      clear(file, text);
      continue;
    }
    const who = whose(journal, stat.mtimeMs);
    if (waited > PATIENCE_MS)
      throw complaint('wrong-use', [
        `this workspace is being edited by ${who}; wait for it, or remove ${file} if it is gone`,
      ]);
    if (waited > MOMENT_MS && !said) {
      said = true;
      say(`waiting for ${who}, which is editing this workspace; remove ${file} if it is gone`);
    }
    pause();
  }
  return turn;
}

function begin(folder: string, ending: Ending, say: Say): Turn {
  try {
    return waitFor(folder, path.join(scratchOf(folder), JOURNAL), ending, say);
  } catch (error) {
    if (error instanceof Complaint) throw error;
    throw writingFailed(path.join(folder, SCRATCH), error);
  }
}

/**
 * Keeps the turn until `releaseTurns`, so that what is read is still so when it is written. An edit
 * that was interrupted is finished first, after a word.
 * @throws {Complaint} when another has it for too long, the interrupted edit cannot be finished, or
 * the folder cannot be written to
 */
export function keepTurn(folder: string, say: Say): void {
  if (!held.has(folder)) held.set(folder, begin(folder, finishing(say), say));
}

/** Ends an edit that was interrupted. @throws {Complaint} as `keepTurn` */
export function endLeft(folder: string, ending: Ending, say: Say): void {
  begin(folder, ending, say).end();
}

/**
 * Runs work while no other run edits the workspace.
 * @throws {Complaint} as `keepTurn`
 */
export function inTurn(folder: string, work: (turn: Turn) => void): void {
  // Only turns are put there.
  const kept = held.get(folder) as Turn | undefined;
  const turn =
    kept ??
    begin(
      folder,
      finishing(() => undefined),
      () => undefined,
    );
  try {
    work(turn);
  } finally {
    if (!kept) turn.end();
  }
}
