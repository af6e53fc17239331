import { createHash } from 'node:crypto';
import {
  existsSync,
  lstatSync,
  mkdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  rmdirSync,
} from 'node:fs';
import path from 'node:path';
import picomatch from 'picomatch';
import * as z from 'zod';
import { complaint, Complaint } from '../disk/complaint.js';
import { reviewFileOf } from '../disk/files.js';
import { isShared, WorkspaceFolder } from '../reading/folder.js';
import { isInterrupted, JOURNAL, readPlain, SCRATCH } from '../disk/scratch.js';
import {
  replaceFile,
  syncFolder,
  targetOf,
  tidy,
  writeDurably,
  writingFailed,
  type Owned,
} from '../disk/write.js';
import { withLock, type Say } from './lock.js';

/** A file to be written, by its name in the workspace; nothing as the text takes it away. */
export interface Write {
  readonly file: string;
  readonly text: string | undefined;
}

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
  version: z.literal(2),
  /**
   * `staging`: no target was touched yet. `writing`: all new texts are on the disk, and take their
   * places.
   */
  state: z.enum(['staging', 'writing']),
  steps: z.array(stepSchema),
});

type Step = z.infer<typeof stepSchema>;
type Journal = z.infer<typeof journalSchema>;

const hashOf = (bytes: Uint8Array | string | undefined): string =>
  bytes === undefined ? '' : createHash('sha256').update(bytes).digest('hex');

/** What git, npm and we keep for ourselves is nothing that an edit writes. */
const CLOSED = new Set(['.git', 'node_modules', SCRATCH, '..', '.', '']);

/**
 * Whether a file outside of a workspace is one that its settings share with others: a catalog, or
 * the review beside it.
 */
function isSharedText(folder: string, file: string): boolean {
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

const stagedOf = (target: string, step: Step): string =>
  path.join(path.dirname(target), step.staged);

function readJournal(file: string): Journal | undefined {
  try {
    return journalSchema.parse(JSON.parse(readPlain(file)?.toString('utf8') ?? ''));
  } catch {
    return undefined;
  }
}

const HOW =
  'run "zeitwort fix --recover finish" once that is put right, or "zeitwort fix --recover drop" to leave all files as they are now';

const stuck = (why: string): Complaint =>
  complaint('wrong-use', [`an edit was interrupted here and cannot be finished: ${why}; ${HOW}`]);

/**
 * Takes the places of a journal apart into targets and what is left to be done there; throws where
 * anything is not as it was left.
 */
function leftOf(root: string, { steps }: Journal): { step: Step; target: string }[] {
  return steps.flatMap((step) => {
    const target = placeOf(root, step.to);
    // What is outside is never taken away for the sake of a journal: anybody can know what stands
    // there.
    if (target === undefined || (step.staged === '' && isShared(step.to)))
      throw stuck(`"${step.to.slice(0, 80)}" is no file that an edit here may write`);
    const now = hashOf(readPlain(target));
    if (now === step.after) return [];
    if (now !== step.before) throw stuck(`${step.to} was changed since`);
    if (step.staged !== '' && hashOf(readPlain(stagedOf(target, step))) !== step.after)
      throw stuck(`what was to be written to ${step.to} is gone`);
    return [{ step, target }];
  });
}

function carryOut(left: readonly { step: Step; target: string }[]): void {
  for (const { step, target } of left) {
    if (step.staged === '') rmSync(target, { force: true });
    else renameSync(stagedOf(target, step), target);
  }
  for (const folder of new Set(left.map(({ target }) => path.dirname(target)))) syncFolder(folder);
}

/** Takes away what a journal staged, and the journal. What does not look like ours stays. */
function forget(root: string, file: string, journal: Journal | undefined): void {
  for (const step of journal?.steps ?? []) {
    const target = step.staged === '' ? undefined : placeOf(root, step.to);
    const staged = target === undefined ? undefined : stagedOf(target, step);
    if (staged !== undefined && readPlain(staged) !== undefined) rmSync(staged, { force: true });
  }
  rmSync(file, { force: true, recursive: true });
}

/**
 * Ends what a run that was killed had begun: what it had only prepared is cleared away, what it had
 * begun to write is finished, after a word. For runs that edit, with nothing of the workspace read
 * yet.
 * @throws {Complaint} where it cannot be finished; it says how to go on
 */
export function recover(folder: string, say: Say): void {
  if (!isInterrupted(folder)) return;
  withLock(
    folder,
    (scratch) => {
      const file = path.join(scratch, JOURNAL);
      if (!existsSync(file)) return;
      const journal = readJournal(file);
      if (!journal) throw stuck(`${path.join(SCRATCH, JOURNAL)} is no journal of this version`);
      const root = realpathSync(folder);
      if (journal.state === 'staging') {
        forget(root, file, journal);
        return;
      }
      const left = leftOf(root, journal);
      if (left.length > 0)
        say(
          `finishing an edit that was interrupted: ${left.map(({ step }) => step.to).join(', ')}`,
        );
      finish(root, file, journal, left);
    },
    say,
  );
}

function finish(
  root: string,
  file: string,
  journal: Journal,
  left: readonly { step: Step; target: string }[],
): void {
  try {
    carryOut(left);
  } catch (error) {
    throw stuck(writingFailed(left.map(({ step }) => step.to).join(', '), error).sentence);
  }
  forget(root, file, journal);
}

/**
 * Gives up what an interrupted edit had begun: every file stays as it is now, and what was staged
 * is cleared away.
 * @returns the files that it would still have written
 */
export function drop(folder: string, say: Say): string[] {
  if (!isInterrupted(folder)) return [];
  return withLock(
    folder,
    (scratch) => {
      const file = path.join(scratch, JOURNAL);
      const journal = readJournal(file);
      const root = realpathSync(folder);
      const open = (journal?.steps ?? []).filter(({ to, after }) => {
        const target = placeOf(root, to);
        return target !== undefined && hashOf(readPlain(target)) !== after;
      });
      forget(root, file, journal);
      return open.map(({ to }) => to);
    },
    say,
  );
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
 * Writes several files as one: all new texts go to the disk beside their targets, then a journal
 * lists them, then each takes its place. A run that is killed before the journal says so has
 * changed nothing; after it, the next run that edits finishes. What fails is taken back at once.
 * @param check called with the lock, before anything is written; it throws where the files are not
 * as they were read
 * @throws {Complaint} when the folder or the disk does not let us; nothing has changed then
 */
export function writeAll(folder: string, writes: readonly Write[], check: () => void): void {
  recover(folder, () => undefined);
  withLock(folder, (scratch) => {
    check();
    const journal = path.join(scratch, JOURNAL);
    tidy(scratch);
    const root = realpathSync(folder);
    const made: string[] = [];
    let plans: Planned[] = [];
    let at = folder;
    const note = (state: Journal['state']): void => {
      at = path.join(SCRATCH, JOURNAL);
      replaceFile(
        journal,
        JSON.stringify({
          version: 2,
          state,
          steps: plans.map(({ step }) => step),
        } satisfies Journal),
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
      forget(root, journal, undefined);
    } catch (error) {
      const failure = error instanceof Complaint ? error : writingFailed(at, error);
      try {
        takeBack(plans);
        for (const { step, target } of plans)
          if (step.staged !== '') rmSync(stagedOf(target, step), { force: true });
        rmSync(journal, { force: true });
        removeEmpty(made);
      } catch {
        throw stuck(failure.sentence);
      }
      throw failure;
    }
  });
}
