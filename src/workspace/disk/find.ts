import { existsSync, statSync } from 'node:fs';
import path from 'node:path';
import { complaint } from './complaint.js';

/** The file that makes a folder a workspace. */
export const CONFIG_FILE = 'zeitwort.yaml';

/**
 * The folder that holds the workspace file: the first on the way up.
 * @param from where to start
 * @throws {Complaint} when there is none
 */
export function findWorkspace(from: string): string {
  const start = path.resolve(from);
  if (!statSync(start, { throwIfNoEntry: false })?.isDirectory())
    throw complaint('not-found', [`the folder ${from}`]);
  for (let directory = start; ; directory = path.dirname(directory)) {
    if (existsSync(path.join(directory, CONFIG_FILE))) return directory;
    if (directory === path.dirname(directory))
      throw complaint('no-workspace', [from === '.' ? 'this folder' : from]);
  }
}
