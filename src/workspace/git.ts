import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { complaint } from './complaint.js';

/**
 * Asks git about the repository that a folder is in.
 * @throws {Complaint} with what git says
 */
export function git(folder: string, args: readonly string[], purpose: string): Buffer {
  try {
    return execFileSync('git', args, { cwd: folder, stdio: ['ignore', 'pipe', 'pipe'], maxBuffer: 1024 * 1024 * 1024 });
  } catch (error) {
    const said = error instanceof Error && 'stderr' in error ? String(error.stderr).trim().split('\n')[0] : '';
    throw complaint('wrong-use', [
      `git cannot tell ${purpose} (${said || 'is it installed?'}); name a revision of this repository`,
    ]);
  }
}

/** What a workspace can be made of. */
const WANTED = /\.(?:jsonc?|ya?ml|csv)$/i;

/**
 * Runs work on a folder as it was in a revision, in a temporary place that is gone afterwards.
 * @throws {Complaint} when git does not know the revision, or the folder was not there
 */
export function atRevision<T>(folder: string, revision: string, work: (folder: string) => T): T {
  const purpose = `what ${revision} holds`;
  const commit = git(folder, ['rev-parse', '--verify', '--end-of-options', `${revision}^{commit}`], purpose)
    .toString()
    .trim();
  const listed = git(folder, ['ls-tree', '-r', '-z', '--name-only', commit, '--', '.'], purpose).toString('utf8').split('\0');
  const files = listed.filter((file) => WANTED.test(file));
  if (!files.includes('zeitwort.yaml'))
    throw complaint('wrong-use', [`there is no zeitwort.yaml in this folder at ${revision}; name a later revision`]);
  const place = mkdtempSync(path.join(tmpdir(), 'zeitwort-'));
  try {
    for (const file of files) {
      const target = path.join(place, file);
      mkdirSync(path.dirname(target), { recursive: true });
      writeFileSync(target, git(folder, ['show', `${commit}:./${file}`], purpose));
    }
    return work(place);
  } finally {
    rmSync(place, { recursive: true, force: true });
  }
}
