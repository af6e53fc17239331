import { closeSync, fchmodSync, fsyncSync, openSync, realpathSync, renameSync, rmSync, statSync, writeSync } from 'node:fs';
import path from 'node:path';
import { complaint, type Complaint } from './complaint.js';

/** What the file system said no to, as a complaint. */
export function writingFailed(file: string, error: unknown): Complaint {
  return complaint('not-writable', [file, error instanceof Error && 'code' in error ? String(error.code) : String(error)]);
}

/** Writes a file anew, down to the disk. */
export function writeDurably(file: string, text: string, mode?: number): void {
  const handle = openSync(file, 'w');
  try {
    // What a file may be read by stays, whatever this process would give a new one.
    if (mode !== undefined) fchmodSync(handle, mode);
    const bytes = Buffer.from(text);
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

/** The file that a name leads to once links are followed, and its permissions. */
export function targetOf(file: string): { readonly file: string; readonly mode: number | undefined } {
  try {
    const real = realpathSync(file);
    return { file: real, mode: statSync(real).mode & 0o777 };
  } catch {
    return { file, mode: undefined };
  }
}

/**
 * Writes a file whole or not at all: into a temporary file beside it, to the disk, then renamed over it.
 * @throws {Complaint} when the folder or the disk does not let us; the old file stands as it was
 */
export function writeWhole(named: string, text: string): void {
  const { file, mode } = targetOf(named);
  const temporary = path.join(path.dirname(file), `.${path.basename(file)}.${process.pid}.tmp`);
  try {
    writeDurably(temporary, text, mode);
    renameSync(temporary, file);
  } catch (error) {
    rmSync(temporary, { force: true });
    throw writingFailed(named, error);
  }
}
