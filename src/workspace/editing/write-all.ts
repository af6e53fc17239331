import { existsSync, mkdirSync, readFileSync, realpathSync, rmSync, rmdirSync } from 'node:fs';
import path from 'node:path';
import { complaint, Complaint } from '../disk/complaint.js';
import { readPlain, SCRATCH } from '../disk/scratch.js';
import {
  replaceFile,
  targetOf,
  tidy,
  writeDurably,
  writingFailed,
  type Owned,
} from '../disk/write.js';
import { isShared } from '../reading/folder.js';
import {
  carryOut,
  hashOf,
  isSharedText,
  JOURNAL,
  stagedOf,
  stuck,
  type Journal,
  type Step,
} from './journal.js';
import { inTurn } from './turn.js';

/** A file to be written, by its name in the workspace; nothing as the text takes it away. */
export interface Write {
  readonly file: string;
  readonly text: string | undefined;
}

/** One file of an edit, with what is needed to write it and to take that back. */
interface Planned {
  readonly step: Step;
  readonly target: string;
  readonly text: string | undefined;
  readonly old: Uint8Array | undefined;
  readonly like: Owned | undefined;
}

/**
 * Makes the folders that a target needs; returns those that were not there, the outermost first.
 */
function makeFolders(folder: string): string[] {
  const made: string[] = [];
  for (let at = folder; !existsSync(at); at = path.dirname(at)) made.unshift(at);
  mkdirSync(folder, { recursive: true });
  return made;
}

function removeEmpty(made: readonly string[]): void {
  for (const folder of [...made].reverse()) {
    try {
      rmdirSync(folder);
    } catch {
      // Somebody put something there meanwhile.
    }
  }
}

/** The nearest folder around a file that is there. */
function standing(file: string): string {
  let folder = path.dirname(file);
  while (!existsSync(folder)) folder = path.dirname(folder);
  return folder;
}

function planned(folder: string, { file, text }: Write, number: number): Planned {
  const root = realpathSync(folder);
  const { file: found, like } = targetOf(path.join(folder, file));
  // A file that is new comes into a folder that may be a link.
  const around = standing(found);
  const target = like ? found : path.join(realpathSync(around), path.relative(around, found));
  const to = path.relative(root, target).split(path.sep).join('/');
  if (path.isAbsolute(to) || (isShared(to) && !isSharedText(folder, to)))
    throw complaint('outside-workspace', [file]);
  const old = like ? readFileSync(target) : undefined;
  const staged = text === undefined ? '' : `.zeitwort-new-${process.pid}-${number}`;
  return {
    step: { to, staged, before: hashOf(old), after: hashOf(text) },
    target,
    text,
    old,
    like,
  };
}

/** Takes back what was written already; the journal stays where not even that is possible. */
function takeBack(plans: readonly Planned[]): void {
  for (const { target, old, like, step } of plans) {
    if (hashOf(readPlain(target)) === step.before) continue;
    if (old === undefined) rmSync(target, { force: true });
    else replaceFile(target, old, like);
  }
}

/**
 * Writes several files as one: all new texts go to the disk beside their targets, then the journal
 * lists them, then each takes its place. A run that is killed before the journal says so has
 * changed nothing; after it, the next run that edits finishes. What fails is taken back at once.
 * @param check called in our turn, before anything is written; it throws where the files are not
 * as they were read
 * @throws {Complaint} when the folder or the disk does not let us; nothing has changed then
 */
export function writeAll(folder: string, writes: readonly Write[], check: () => void): void {
  inTurn(folder, (turn) => {
    check();
    tidy(path.dirname(turn.file));
    const made: string[] = [];
    let plans: Planned[] = [];
    let at = folder;
    const note = (state: Journal['state']): void => {
      at = path.join(SCRATCH, JOURNAL);
      turn.note(
        state,
        plans.map(({ step }) => step),
      );
    };
    try {
      plans = writes.map((write, number) => {
        at = write.file;
        return planned(folder, write, number);
      });
      note('staging');
      for (const { step, target, text, like } of plans) {
        at = step.to;
        made.push(...makeFolders(path.dirname(target)));
        if (text !== undefined) writeDurably(stagedOf(target, step), text, like);
      }
      note('writing');
      for (const plan of plans) {
        at = plan.step.to;
        carryOut([plan]);
      }
      turn.note('reading', []);
    } catch (error) {
      const failure = error instanceof Complaint ? error : writingFailed(at, error);
      // Whoever took the turn over has ended the edit its own way.
      if (!turn.isOurs()) throw failure;
      try {
        takeBack(plans);
        for (const { step, target } of plans)
          if (step.staged !== '') rmSync(stagedOf(target, step), { force: true });
        turn.note('reading', []);
        removeEmpty(made);
      } catch {
        throw stuck(failure.sentence);
      }
      throw failure;
    }
  });
}
