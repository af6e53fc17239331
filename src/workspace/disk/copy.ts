import { cpSync, existsSync, mkdirSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { complaint } from './complaint.js';
import { demoFolder } from './installed.js';
import { SCRATCH } from './scratch.js';

/** The workspaces that ship with the program. */
export type Shipped = 'observatory' | 'small' | 'house';

/**
 * Copies a shipped workspace into a folder, which is made where it is not there.
 * @returns the names of what was copied, relative to the folder
 * @throws {Complaint} when something of the same name is there already, before anything is written
 */
export function copyShipped(which: Shipped, folder: string): string[] {
  const from = path.join(demoFolder(), which);
  const names = readdirSync(from, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.relative(from, path.join(entry.parentPath, entry.name)))
    .filter((name) => !name.startsWith(SCRATCH))
    .sort();
  const taken = names.find((name) => existsSync(path.join(folder, name)));
  if (taken !== undefined) throw complaint('not-empty', [path.join(folder, taken)]);
  try {
    mkdirSync(folder, { recursive: true });
    // Somebody may have checked the shipped one itself; what that left is not part of it.
    cpSync(from, folder, { recursive: true, filter: (file) => path.basename(file) !== SCRATCH });
  } catch (error) {
    throw complaint('not-writable', [
      folder,
      error instanceof Error && 'code' in error ? String(error.code) : String(error),
    ]);
  }
  return names;
}
