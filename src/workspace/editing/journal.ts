import { createHash } from 'node:crypto';
import { lstatSync, realpathSync, renameSync, rmSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import picomatch from 'picomatch';
import * as z from 'zod';
import { complaint, type Complaint } from '../disk/complaint.js';
import { reviewFileOf } from '../disk/files.js';
import { readPlain, SCRATCH, scratchIfOurs } from '../disk/scratch.js';
import { systemCodeOf } from '../disk/system-error.js';
import { syncFolder, writingFailed } from '../disk/write.js';
import { isShared, WorkspaceFolder } from '../reading/folder.js';

/** The file in the scratch folder that says who edits a workspace, and how far the edit is. */
export const JOURNAL = 'edit.json';

/** A new text waits beside its target, under a name that says whose it is. */
const STAGED = /^\.zeitwort-new-\d+-\d+$/;
const HASH = /^(?:[0-9a-f]{64})?$/;

const stepSchema = z.strictObject({
  /**
   * The target, in the workspace once links are followed, relative to its folder and with forward
   * slashes.
   */
  to: z.string(),
  /** The new file beside the target; empty where the target is taken away. */
  staged: z.string().refine((name) => name === '' || STAGED.test(name)),
  /** SHA-256 of what was there before and of what comes; empty for no file. */
  before: z.string().regex(HASH),
  after: z.string().regex(HASH),
});

const journalSchema = z.strictObject({
  version: z.literal(3),
  /** The process that edits, and its machine. */
  pid: z.int().positive(),
  host: z.string(),
  /**
   * `reading`: nothing was written. `staging`: new texts are written beside their targets, and no
   * target was touched. `writing`: all new texts are on the disk, and take their places.
   */
  state: z.enum(['reading', 'staging', 'writing']),
  steps: z.array(stepSchema),
});

export type Step = z.infer<typeof stepSchema>;
export type Journal = z.infer<typeof journalSchema>;

export const hashOf = (bytes: Uint8Array | string | undefined): string =>
  bytes === undefined ? '' : createHash('sha256').update(bytes).digest('hex');

/** Folders of git, npm and ours: no edit writes there. */
const CLOSED = new Set(['.git', 'node_modules', SCRATCH, '..', '.', '']);

/**
 * Whether a file outside of a workspace is one that its settings share with others: a catalog, or
 * the review beside it.
 */
export function isSharedText(folder: string, file: string): boolean {
  try {
    const { config } = WorkspaceFolder.openFolder(folder);
    return config.texts.some(
      (glob) => isShared(glob) && picomatch([glob, reviewFileOf(glob)])(file),
    );
  } catch {
    return false;
  }
}

/**
 * The absolute path of a journal's target, if it is what it says: in the workspace or shared with
 * it, not a link, in no folder that leads out. A journal is believed nothing: it may have come with
 * the folder.
 */
function placeOf(root: string, to: string): string | undefined {
  if (isShared(to) && !isSharedText(root, to)) return undefined;
  const parts = to.replace(/^(?:\.\.\/)+/, '').split('/');
  if (
    path.isAbsolute(to) ||
    to.includes('\\') ||
    parts.some((part) => CLOSED.has(part.toLowerCase()))
  )
    return undefined;
  const target = path.join(root, to);
  try {
    if (realpathSync(path.dirname(target)) !== path.dirname(target)) return undefined;
  } catch {
    return undefined;
  }
  const stat = lstatSync(target, { throwIfNoEntry: false });
  return stat === undefined || stat.isFile() ? target : undefined;
}

export const stagedOf = (target: string, step: Step): string =>
  path.join(path.dirname(target), step.staged);

/** The journal that a text holds; nothing where it holds none of this version. */
export function journalIn(text: string): Journal | undefined {
  try {
    return journalSchema.parse(JSON.parse(text));
  } catch {
    return undefined;
  }
}

const HOW =
  'run "zeitwort fix --recover finish" once that is put right, or "zeitwort fix --recover drop" to leave all files as they are now';

export const stuck = (why: string): Complaint =>
  complaint('wrong-use', [`an edit was interrupted here and cannot be finished: ${why}; ${HOW}`]);

/** No edit takes that long, in milliseconds: the number of its process is another's by then. */
const LONGEST_MS = 60_000;

/**
 * Whether the run that made a journal is gone. The process of another machine cannot be asked, and
 * one of our own number is an earlier one: whoever has the turn does not ask.
 * @param age of the journal, in milliseconds; negative where the clocks differ
 */
export function isLeft({ pid, host }: Journal, age: number): boolean {
  if (age > LONGEST_MS) return true;
  if (host !== hostname()) return false;
  if (pid === process.pid) return true;
  try {
    process.kill(pid, 0);
    return false;
  } catch (error) {
    return systemCodeOf(error) !== 'EPERM';
  }
}

/** Whether an edit was begun in a workspace and not ended; for readers, who leave it alone. */
export function isInterrupted(folder: string): boolean {
  const scratch = scratchIfOurs(folder);
  const file = path.join(scratch ?? '', JOURNAL);
  const stat = scratch === undefined ? undefined : lstatSync(file, { throwIfNoEntry: false });
  if (!stat) return false;
  const text = readPlain(file)?.toString('utf8');
  const journal = journalIn(text ?? '');
  // An empty one is being made, or was: nothing had begun.
  if (!journal) return text !== '';
  return journal.state === 'writing' && isLeft(journal, Date.now() - stat.mtimeMs);
}

/**
 * Returns the steps of a journal that are not done.
 * @throws {Complaint} where anything is not as it was left
 */
function leftOf(root: string, { steps }: Journal): { step: Step; target: string }[] {
  return steps.flatMap((step) => {
    const target = placeOf(root, step.to);
    // What is outside is never taken away for the sake of a journal: anybody can know what stands
    // there.
    if (target === undefined || (step.staged === '' && isShared(step.to)))
      throw stuck(`"${step.to.slice(0, 80)}" is not a file that an edit here may write`);
    // Another run may finish the same journal: a staged file that it moves after this look is found
    // in its place below.
    const isStaged = step.staged === '' || hashOf(readPlain(stagedOf(target, step))) === step.after;
    const now = hashOf(readPlain(target));
    if (now === step.after) return [];
    if (now !== step.before) throw stuck(`${step.to} was changed since`);
    if (!isStaged) throw stuck(`what was to be written to ${step.to} is gone`);
    return [{ step, target }];
  });
}

/** Puts new texts in their places. Several may do so for one journal: each step is done once. */
export function carryOut(left: readonly { step: Step; target: string }[]): void {
  for (const { step, target } of left) {
    if (step.staged === '') rmSync(target, { force: true });
    else
      try {
        renameSync(stagedOf(target, step), target);
      } catch (error) {
        if (hashOf(readPlain(target)) !== step.after) throw error;
      }
  }
  for (const folder of new Set(left.map(({ target }) => path.dirname(target)))) syncFolder(folder);
}

/** Removes what a journal staged. What does not look like ours stays. */
function clearStaged(root: string, { steps }: Journal): void {
  for (const step of steps) {
    const target = step.staged === '' ? undefined : placeOf(root, step.to);
    const staged = target === undefined ? undefined : stagedOf(target, step);
    if (staged !== undefined && readPlain(staged) !== undefined) rmSync(staged, { force: true });
  }
}

/** How somebody ends an edit that another began; `say` hears what it does. */
export type Ending = (folder: string, journal: Journal | undefined) => void;

/**
 * Finishes what a run that was killed had begun to write, after a word, and clears away what it had
 * only prepared.
 * @throws {Complaint} where it cannot be finished; it says how to go on
 */
export const finishing =
  (say: (sentence: string) => void): Ending =>
  (folder, journal) => {
    if (!journal) throw stuck(`${path.join(SCRATCH, JOURNAL)} is not a journal of this version`);
    const root = realpathSync(folder);
    if (journal.state === 'writing') {
      const left = leftOf(root, journal);
      const files = left.map(({ step }) => step.to).join(', ');
      if (left.length > 0) say(`finishing an edit that was interrupted: ${files}`);
      try {
        carryOut(left);
      } catch (error) {
        throw stuck(writingFailed(files, error).sentence);
      }
    }
    clearStaged(root, journal);
  };

/**
 * Gives up what an interrupted edit had begun: every file stays as it is now, and what was staged
 * is cleared away.
 * @param open gets the files that it would still have written
 */
export const dropping =
  (open: string[]): Ending =>
  (folder, journal) => {
    if (!journal) return;
    const root = realpathSync(folder);
    for (const { to, after } of journal.steps) {
      const target = placeOf(root, to);
      if (target !== undefined && hashOf(readPlain(target)) !== after) open.push(to);
    }
    clearStaged(root, journal);
  };
