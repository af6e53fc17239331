import { execFileSync } from 'node:child_process';
import { complaint } from '../disk/complaint.js';

/**
 * The commands of git that are run: each reads objects, references or the index, and none of them
 * runs a filter, a text converter, an external diff or a hook. `config` sets what the repository's
 * own configuration says, where somebody asks for it (`merge --install`).
 */
type Command =
  'rev-parse' | 'rev-list' | 'merge-base' | 'ls-tree' | 'ls-files' | 'cat-file' | 'config';

/**
 * Settings that override the configuration of a repository. The repository comes with the folder
 * that is looked at, so nothing in its configuration may start a program: no file system monitor,
 * no hook. A repository without a work tree, which a clone can contain as plain files, is not used.
 */
const FIXED = [
  '--no-pager',
  '--literal-pathspecs',
  ...['core.fsmonitor=false', 'core.hooksPath=/dev/null', 'safe.bareRepository=explicit'].flatMap(
    (setting) => ['-c', setting],
  ),
];

/**
 * Objects that are missing are not fetched: a partial clone names the program that would send them.
 * GIT_NO_LAZY_FETCH is known from git 2.45 on, GIT_ALLOW_PROTOCOL to all. Replaced objects are
 * those of the repository, not of the revision. What a hook set (GIT_DIR, GIT_INDEX_FILE) stays.
 */
const ENVIRONMENT = {
  GIT_ALLOW_PROTOCOL: 'none',
  GIT_NO_LAZY_FETCH: '1',
  GIT_NO_REPLACE_OBJECTS: '1',
  GIT_OPTIONAL_LOCKS: '0',
  GIT_TERMINAL_PROMPT: '0',
};

/** The most that git may print, in bytes, and the longest that it may take, in milliseconds. */
const MOST_BYTES = 512 * 1024 * 1024;
const LONGEST = 60_000;

/** Why git did not answer, in its own words where it has some. */
function reasonOf(error: unknown): string {
  if (!(error instanceof Error)) return 'is it installed?';
  if ('code' in error && error.code === 'ETIMEDOUT')
    return `it took longer than ${LONGEST / 1000} s`;
  if ('code' in error && error.code === 'ENOBUFS') return 'its answer is too long';
  const said = 'stderr' in error ? String(error.stderr).trim().split('\n')[0] : '';
  return said || 'is it installed?';
}

/**
 * Runs git. This is the only function that does.
 * @param folder the folder that git works in
 * @param purpose what git is asked for, as the object of "git cannot tell"
 * @param input git's standard input
 * @returns git's output
 * @throws {Complaint} with the first line of git's error when it fails
 */
export function git(
  folder: string,
  command: Command,
  args: readonly string[],
  purpose: string,
  input?: string,
): Buffer {
  try {
    return execFileSync('git', [...FIXED, command, ...args], {
      cwd: folder,
      env: { ...process.env, ...ENVIRONMENT },
      stdio: ['pipe', 'pipe', 'pipe'],
      input: input ?? '',
      maxBuffer: MOST_BYTES,
      timeout: LONGEST,
      killSignal: 'SIGKILL',
    });
  } catch (error) {
    throw complaint('wrong-use', [
      `git cannot tell ${purpose} (${reasonOf(error)}); name a revision of this repository`,
    ]);
  }
}
