import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { complaint } from './complaint.js';
import { CONFIG_FILE, readConfig } from './config.js';
import { isShared } from './folder.js';
import { placeOfGlob } from './globs.js';
import { SCRATCH } from './scratch.js';

/** The settings of a repository, by name, that git runs programs for. */
const RUNS =
  /^(?:filter\..*\.(?:clean|smudge|process)|diff\..*\.(?:command|textconv)|diff\.external|core\.(?:fsmonitor|sshcommand|gitproxy|alternaterefscommand))$/is;

const known = new Map<string, readonly string[]>();

/**
 * Switches off what a repository's own settings would have git run: it came with the folder, as hooks do, and to look at
 * differences is no reason to run anything. Settings of the user and of the machine hold.
 */
function harmless(folder: string): readonly string[] {
  const kept = known.get(folder);
  if (kept) return kept;
  let names: string[] = [];
  for (const scope of ['--local', '--worktree']) {
    try {
      const listed = execFileSync('git', ['config', scope, '--includes', '--name-only', '--list', '-z'], {
        cwd: folder,
        stdio: ['ignore', 'pipe', 'ignore'],
      });
      names = names.concat(listed.toString('utf8').split('\0'));
    } catch {
      // There is no repository, or no settings of this kind; git itself says so if it matters.
    }
  }
  const off = [...new Set(names.filter((name) => RUNS.test(name)))].flatMap((name) => ['-c', `${name}=`]);
  const always = ['--no-pager', '-c', 'core.fsmonitor=false', '-c', 'core.hooksPath=/dev/null'];
  known.set(folder, [...off, ...always]);
  return [...off, ...always];
}

/**
 * Asks git about the repository that a folder is in.
 * @throws {Complaint} with what git says
 */
export function git(folder: string, args: readonly string[], purpose: string, input?: string): Buffer {
  try {
    return execFileSync('git', [...harmless(folder), ...args], {
      cwd: folder,
      stdio: [input === undefined ? 'ignore' : 'pipe', 'pipe', 'pipe'],
      ...(input === undefined ? {} : { input }),
      maxBuffer: 1024 * 1024 * 1024,
    });
  } catch (error) {
    const said = error instanceof Error && 'stderr' in error ? String(error.stderr).trim().split('\n')[0] : '';
    throw complaint('wrong-use', [
      `git cannot tell ${purpose} (${said || 'is it installed?'}); name a revision of this repository`,
    ]);
  }
}

/** What a workspace can be made of. */
const WANTED = /\.(?:jsonc?|ya?ml|csv)$/i;

/** What files hold in a commit, or in the index (`''`): one process for all. */
function* blobs(folder: string, tree: string, files: readonly string[], purpose: string): Generator<[string, Buffer]> {
  const asked = files.map((file) => `${tree}:./${file}\n`).join('');
  const told = git(folder, ['cat-file', '--batch'], purpose, asked);
  let at = 0;
  for (const file of files) {
    const end = told.indexOf('\n', at);
    const size = Number(told.toString('utf8', at, end).split(' ').at(-1));
    if (Number.isNaN(size))
      throw complaint('wrong-content', ['git has no one text of this file, perhaps since a merge is open; finish that first'], {
        file,
      });
    yield [file, told.subarray(end + 1, end + 1 + size)];
    at = end + 1 + size + 1;
  }
}

/** What settings say of texts that are shared with other workspaces; nothing where they are broken, which is told later. */
function sharedIn(settings: string): { readonly up: string; readonly globs: readonly string[] } {
  try {
    const { root, texts } = readConfig(settings, CONFIG_FILE);
    return { up: root, globs: texts.filter(isShared) };
  } catch {
    return { up: '.', globs: [] };
  }
}

/** A folder as it is in git, in a temporary place. */
export interface Unpacked {
  readonly folder: string;
  /** The temporary place of the folder that it was to lie in. */
  readonly root: string;
  /** Takes the place away. */
  readonly remove: () => void;
}

/**
 * Puts a folder as it is in a commit, or as it is staged, into a temporary place.
 * @param revision absent for what is staged
 * @param around a folder that it lies in, or itself: the place has as many folders between the two
 * @throws {Complaint} when git does not know the revision, or the folder is not there
 */
export function unpackAt(folder: string, revision?: string, around = folder): Unpacked {
  const purpose = revision === undefined ? 'what is staged' : `what ${revision} holds`;
  const commit =
    revision === undefined
      ? ''
      : git(folder, ['rev-parse', '--verify', '--end-of-options', `${revision}^{commit}`], purpose)
          .toString()
          .trim();
  // Neither what a check or an edit kept, nor names that lead elsewhere.
  const listed = (place: string): string[] => {
    const list =
      commit === '' ? ['ls-files', '-z', '--cached', '--', place] : ['ls-tree', '-r', '-z', '--name-only', commit, '--', place];
    return git(folder, list, purpose)
      .toString('utf8')
      .split('\0')
      .filter(
        (file) => WANTED.test(file) && !/[\r\n]/.test(file) && !file.split('/').some((part) => part.toLowerCase() === SCRATCH),
      );
  };
  const own = listed('.').filter((file) => !file.split('/').includes('..'));
  if (!own.includes(CONFIG_FILE))
    throw complaint('wrong-use', [
      revision === undefined
        ? 'the zeitwort.yaml of this folder is not in git; add it'
        : `there is no zeitwort.yaml in this folder at ${revision}; name a later revision`,
    ]);
  const settings = new Map(blobs(folder, commit, [CONFIG_FILE], purpose)).get(CONFIG_FILE)?.toString('utf8') ?? '';
  const { up, globs } = sharedIn(settings);
  const shared = [...new Set(globs.map(placeOfGlob))].flatMap((place) => listed(place).filter(isShared));
  const files = [...own, ...new Set(shared)];
  // Names of what is shared lead out of the folder, and must not lead out of the place.
  const outermost = [around, path.join(folder, up)].sort((one, other) => one.length - other.length)[0] ?? folder;
  const temporary = mkdtempSync(path.join(tmpdir(), 'zeitwort-'));
  const place = path.join(temporary, path.relative(outermost, folder));
  const root = path.join(temporary, path.relative(outermost, around));
  const remove = (): void => {
    rmSync(temporary, { recursive: true, force: true });
  };
  try {
    for (const [file, text] of blobs(folder, commit, files, purpose)) {
      const target = path.join(place, file);
      mkdirSync(path.dirname(target), { recursive: true });
      writeFileSync(target, text);
    }
    return { folder: place, root, remove };
  } catch (error) {
    remove();
    throw error;
  }
}

/**
 * Runs work on a folder as it was in a revision, in a temporary place that is gone afterwards.
 * @throws {Complaint} when git does not know the revision, or the folder was not there
 */
export function atRevision<T>(folder: string, revision: string, work: (folder: string) => T): T {
  const { folder: place, remove } = unpackAt(folder, revision);
  try {
    return work(place);
  } finally {
    remove();
  }
}
