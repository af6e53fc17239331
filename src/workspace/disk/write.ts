import { randomBytes } from 'node:crypto';
import {
  closeSync,
  existsSync,
  fchmodSync,
  fchownSync,
  fstatSync,
  fsyncSync,
  lstatSync,
  mkdirSync,
  openSync,
  readdirSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
  type Stats,
} from 'node:fs';
import path from 'node:path';
import { complaint, type Complaint } from './complaint.js';
import { systemCodeOf } from './system-error.js';

/** Returns the complaint about a write that the file system refused. */
export function writingFailed(file: string, error: unknown): Complaint {
  return complaint('not-writable', [file, systemCodeOf(error) || String(error)]);
}

/** The mode and owner that a new file takes from the one it replaces. */
export type Owned = Pick<Stats, 'mode' | 'uid' | 'gid'>;

/**
 * A new file is as readable as the old one, and belongs to whom that belonged, as far as we are
 * allowed to give it away.
 */
function takeOver(handle: number, { mode, uid, gid }: Owned): void {
  const now = fstatSync(handle);
  if (now.uid !== uid || now.gid !== gid) {
    for (const [user, group] of [
      [uid, gid],
      [now.uid, gid],
    ] as const) {
      try {
        fchownSync(handle, user, group);
        break;
      } catch {
        // Only root gives files away; a group that we are in is kept at least.
      }
    }
  }
  fchmodSync(handle, mode & 0o777);
}

/**
 * Writes a file that is not there yet, down to the disk; never through a link, nor over anything.
 */
export function writeDurably(file: string, text: string | Uint8Array, like?: Owned): void {
  const handle = openSync(file, 'wx');
  try {
    if (like) takeOver(handle, like);
    const bytes = typeof text === 'string' ? Buffer.from(text) : text;
    for (let written = 0; written < bytes.length;) written += writeSync(handle, bytes, written);
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}

/** Makes sure that what a folder lists is on the disk; some systems cannot, and have no need to. */
export function syncFolder(folder: string): void {
  try {
    const handle = openSync(folder, 'r');
    try {
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
  } catch {
    // The file itself is on the disk.
  }
}

/** The file that a name leads to once links are followed, and what a new one takes over from it. */
export function targetOf(file: string): {
  readonly file: string;
  readonly like: Owned | undefined;
} {
  try {
    const real = realpathSync(file);
    return { file: real, like: statSync(real) };
  } catch {
    return { file, like: undefined };
  }
}

/** The names of files that are being written. */
const TEMPORARY = /^\.zeitwort-\d+-[0-9a-f]{12}\.tmp$/;
/** Milliseconds after which such a file is of a run that was killed. */
const LEFT_AFTER = 60_000;

/**
 * Clears away what runs that were killed left half written in a folder; what is younger may be in
 * the making.
 */
export function tidy(folder: string): void {
  try {
    for (const name of readdirSync(folder)) {
      if (!TEMPORARY.test(name)) continue;
      const file = path.join(folder, name);
      const stat = lstatSync(file, { throwIfNoEntry: false });
      if (stat?.isFile() && Math.abs(Date.now() - stat.mtimeMs) > LEFT_AFTER)
        rmSync(file, { force: true });
    }
  } catch {
    // What cannot be cleared away disturbs nothing but the eye.
  }
}

/** Puts a file in the place of another, or of a link: whole or not at all. */
export function replaceFile(file: string, text: string | Uint8Array, like?: Owned): void {
  const temporary = path.join(
    path.dirname(file),
    `.zeitwort-${process.pid}-${randomBytes(6).toString('hex')}.tmp`,
  );
  try {
    writeDurably(temporary, text, like);
    renameSync(temporary, file);
  } catch (error) {
    rmSync(temporary, { force: true });
    throw error;
  }
}

/**
 * Where a file that somebody named is to be written. A name below the folder that he stands in
 * stays below it: a link that came with a workspace must not lead what he writes elsewhere. Whoever
 * means the other place can name it.
 * @throws {Complaint} when a link leads out
 */
function outputOf(named: string): ReturnType<typeof targetOf> {
  const target = targetOf(named);
  const parts = named.split(/[/\\]/);
  if (path.isAbsolute(named) || parts.includes('..')) return target;
  let folder = path.dirname(path.resolve(target.file));
  while (!existsSync(folder)) folder = path.dirname(folder);
  const relative = path.relative(realpathSync('.'), realpathSync(folder));
  if (relative.split(path.sep)[0] === '..' || path.isAbsolute(relative))
    throw complaint('link-elsewhere', [named]);
  return target;
}

/**
 * Writes a file whole or not at all: into a temporary file beside it, to the disk, then renamed
 * over it. Folders that are missing are made.
 * @throws {Complaint} when the folder or the disk does not let us; the old file stands as it was
 */
export function writeWhole(named: string, text: string | Uint8Array): void {
  const { file, like } = outputOf(named);
  try {
    mkdirSync(path.dirname(file), { recursive: true });
    tidy(path.dirname(file));
    replaceFile(file, text, like);
  } catch (error) {
    throw writingFailed(named, error);
  }
}
