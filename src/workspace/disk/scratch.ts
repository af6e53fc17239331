import {
  closeSync,
  constants,
  fstatSync,
  lstatSync,
  mkdirSync,
  openSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { complaint } from './complaint.js';
import { systemCodeOf } from './system-error.js';

/** The folder of a workspace for what can be made anew at any time. */
export const SCRATCH = '.zeitwort';

/** Nothing that is kept there is larger; what is was put there by somebody else. */
const MOST_BYTES = 256 * 1024 * 1024;

type Scratch =
  | { readonly kind: 'none' }
  | { readonly kind: 'ours'; readonly at: string }
  | { readonly kind: 'refused'; readonly why: string };

/**
 * Looks at the scratch folder without trusting it: a workspace may come from anywhere, and what is
 * written here must not land where a link leads, nor be what somebody else on this machine
 * prepared.
 */
function look(folder: string): Scratch {
  const at = path.join(folder, SCRATCH);
  const stat = lstatSync(at, { throwIfNoEntry: false });
  if (!stat) return { kind: 'none' };
  if (stat.isSymbolicLink()) return { kind: 'refused', why: 'it is a link' };
  if (!stat.isDirectory()) return { kind: 'refused', why: 'it is not a folder' };
  const user = process.getuid?.();
  if (user !== undefined && stat.uid !== user)
    return { kind: 'refused', why: 'it belongs to another user' };
  return { kind: 'ours', at };
}

/** The scratch folder, where there is one that may be used. */
export function scratchIfOurs(folder: string): string | undefined {
  const scratch = look(folder);
  return scratch.kind === 'ours' ? scratch.at : undefined;
}

/**
 * The scratch folder of a workspace, made where it is not there, and kept out of version control.
 * @throws {Complaint} when it is a link, no folder, or somebody else's
 */
export function scratchOf(folder: string): string {
  const scratch = look(folder);
  const at = path.join(folder, SCRATCH);
  if (scratch.kind === 'refused') throw complaint('scratch-refused', [at, scratch.why]);
  if (scratch.kind === 'none') mkdirSync(at);
  const ignore = path.join(at, '.gitignore');
  try {
    // Never through a link, nor over what stands there.
    writeFileSync(ignore, '*\n', { flag: 'wx' });
  } catch (error) {
    if (systemCodeOf(error) === 'EEXIST') return at;
    rmSync(ignore, { force: true });
    throw error;
  }
  return at;
}

/**
 * The bytes of a plain file: not of a link, a pipe or a device; nothing where it is none of ours.
 */
export function readPlain(file: string): Buffer | undefined {
  let handle: number;
  try {
    handle = openSync(file, constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK);
  } catch {
    return undefined;
  }
  try {
    const stat = fstatSync(handle);
    return stat.isFile() && stat.size <= MOST_BYTES ? readFileSync(handle) : undefined;
  } catch {
    return undefined;
  } finally {
    closeSync(handle);
  }
}
