import { closeSync, fsyncSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import path from 'node:path';
import { complaint } from './complaint.js';

/**
 * Writes a file whole or not at all: into a temporary file beside it, to the disk, then renamed over it.
 * @throws {Complaint} when the folder or the disk does not let us; the old file stands as it was
 */
export function writeWhole(file: string, text: string): void {
  const temporary = path.join(path.dirname(file), `.${path.basename(file)}.${process.pid}.tmp`);
  try {
    const handle = openSync(temporary, 'w');
    try {
      const bytes = Buffer.from(text);
      for (let written = 0; written < bytes.length;) written += writeSync(handle, bytes, written);
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
    renameSync(temporary, file);
  } catch (error) {
    rmSync(temporary, { force: true });
    throw complaint('not-writable', [file, error instanceof Error && 'code' in error ? String(error.code) : String(error)]);
  }
}
