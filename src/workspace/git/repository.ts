import { lstatSync, realpathSync } from 'node:fs';
import path from 'node:path';
import { complaint } from '../disk/complaint.js';
import { isBelow } from '../disk/files.js';
import { git } from './git.js';

/** A file of a revision or of the index. */
export interface GitFile {
  /** The id of the object that holds its bytes; absent while a merge is open on it. */
  readonly id?: string;
}

/** The modes of regular files; links and submodules have others. */
const PLAIN_FILE = /^100(?:644|755)$/;

const printed = (output: Buffer): string => output.toString('utf8').replace(/\r?\n$/, '');

/** Whether a name out of git stays below the folder that it is joined to. */
const staysBelow = (name: string): boolean =>
  !name.split('/').some((part) => part === '' || part === '.' || part === '..');

/** The nearest folder at or above another that has a `.git`. */
function nearest(folder: string): string | undefined {
  for (let at = folder; ; at = path.dirname(at)) {
    if (lstatSync(path.join(at, '.git'), { throwIfNoEntry: false })) return at;
    if (at === path.dirname(at)) return undefined;
  }
}

/** The versions of a file in an open merge; absent where a side has none. */
export interface Sides {
  readonly base: Buffer | undefined;
  readonly ours: Buffer | undefined;
  readonly theirs: Buffer | undefined;
}

/** A repository of git with a work tree, read; of its configuration alone something is set. */
export class Repository {
  private constructor(
    /** The topmost folder of the work tree, links followed. */
    readonly top: string,
    private readonly purpose: string,
  ) {}

  /**
   * Finds the repository of a folder: that of the nearest `.git` on the way up, provided that git
   * finds the same.
   * @param purpose what git is asked for, as the object of "git cannot tell"
   * @throws {Complaint} when there is none, or its `.git` leads to a repository inside of the work
   * tree or with another one
   */
  static around(folder: string, purpose: string): Repository {
    const { GIT_DIR, GIT_WORK_TREE } = process.env;
    const top =
      nearest(realpathSync(folder)) ??
      (GIT_DIR === undefined ? undefined : realpathSync(GIT_WORK_TREE ?? '.'));
    if (top === undefined)
      throw complaint('wrong-use', [`git cannot tell ${purpose}: this folder is in no repository`]);
    const said = printed(
      git(top, 'rev-parse', ['--show-toplevel', '--absolute-git-dir'], purpose),
    ).split(/\r?\n/);
    const [work = '', kept = ''] = said.map((place) => realpathSync(place));
    // A clone brings no .git along but its own; what an archive brings could lead to a repository
    // among its files.
    const isEmbedded = isBelow(top, kept) && kept !== path.join(top, '.git');
    if (said.length !== 2 || work !== top || isEmbedded)
      throw complaint('wrong-use', [
        `git cannot tell ${purpose}: the .git in ${top} leads to ${isEmbedded ? 'a repository among its own files' : `the repository of ${work}`}; remove it, or work in a clone`,
      ]);
    return new Repository(top, purpose);
  }

  /**
   * The name of a folder in the repository, with forward slashes; nothing where it lies outside, an
   * empty one for the top.
   */
  nameOf(folder: string): string | undefined {
    const real = realpathSync(folder);
    if (real === this.top) return '';
    return isBelow(this.top, real)
      ? path.relative(this.top, real).split(path.sep).join('/')
      : undefined;
  }

  /**
   * The id of the commit that a revision names.
   * @throws {Complaint} when git does not know it
   */
  commit(revision: string): string {
    try {
      return printed(
        git(
          this.top,
          'rev-parse',
          ['--verify', '--end-of-options', `${revision}^{commit}`],
          this.purpose,
        ),
      );
    } catch {
      throw complaint('wrong-use', [
        `git cannot tell ${this.purpose}: there is no revision "${revision}"; name one of this repository`,
      ]);
    }
  }

  /** The newest commit that two have in common. @throws {Complaint} when they have none */
  base(one: string, other: string): string {
    return printed(
      git(this.top, 'merge-base', [this.commit(one), this.commit(other)], this.purpose),
    );
  }

  /**
   * The regular files below some folders, by name: of a commit, or of the index where none is
   * given.
   * @param folders names in the repository; an empty one for all
   */
  files(commit: string | undefined, folders: readonly string[]): Map<string, GitFile> {
    const places = folders.includes('') ? [] : ['--', ...folders];
    const output =
      commit === undefined
        ? git(this.top, 'ls-files', ['-sz', ...places], this.purpose)
        : git(this.top, 'ls-tree', ['-rlz', commit, ...places], this.purpose);
    const files = new Map<string, GitFile>();
    for (const line of output.toString('utf8').split('\0')) {
      const at = line.indexOf('\t');
      if (at < 0) continue;
      const [mode = '', ...fields] = line.slice(0, at).split(/ +/);
      const name = line.slice(at + 1);
      if (!PLAIN_FILE.test(mode) || !staysBelow(name)) continue;
      // "mode type id size" of a tree; "mode id stage" of the index, whose stages above 0 are sides
      // of a merge.
      const [id = '', isMerged] =
        commit === undefined ? [fields[0], fields[1] !== '0'] : [fields[1], false];
      files.set(name, isMerged ? {} : { id });
    }
    return files;
  }

  /**
   * The sides of a file that a merge is open on; nothing where none is.
   * @param name its name in the repository
   */
  sides(name: string): Sides | undefined {
    const output = git(this.top, 'ls-files', ['-uz', '--', name], this.purpose);
    const ids = new Map<string, string>();
    for (const line of output.toString('utf8').split('\0')) {
      const [, id, stage, file] = /^\d+ ([0-9a-f]+) ([123])\t([^]*)$/.exec(line) ?? [];
      if (id !== undefined && stage !== undefined && file === name) ids.set(stage, id);
    }
    if (ids.size === 0) return undefined;
    const bytes = this.bytes([...new Set(ids.values())]);
    const side = (stage: string): Buffer | undefined => bytes.get(ids.get(stage) ?? '');
    return { base: side('1'), ours: side('2'), theirs: side('3') };
  }

  /**
   * The last commits that changed something below a folder, the newest first, and when, in seconds
   * since 1970.
   * @param name the folder's name in the repository; empty for the top
   */
  history(name: string, most: number): { readonly commit: string; readonly time: number }[] {
    const asked = [
      '--timestamp',
      `--max-count=${most}`,
      'HEAD',
      ...(name === '' ? [] : ['--', name]),
    ];
    return printed(git(this.top, 'rev-list', asked, this.purpose))
      .split('\n')
      .flatMap((line) => {
        const [time = '', commit] = line.split(' ');
        return commit === undefined ? [] : [{ commit, time: Number(time) }];
      });
  }

  /** Sets something in the repository's own configuration. */
  configure(name: string, value: string): void {
    git(this.top, 'config', ['--local', name, value], this.purpose);
  }

  /**
   * The bytes that a file has in commits, each once.
   * @param name its name in the repository
   * @param most how many commits that changed it are asked, from the newest
   */
  versions(name: string, most: number): Buffer[] {
    const asked = ['--objects', `--max-count=${most}`, 'HEAD', '--', name];
    const ids = printed(git(this.top, 'rev-list', asked, this.purpose))
      .split('\n')
      .filter((line) => line.endsWith(` ${name}`))
      .map((line) => line.slice(0, line.indexOf(' ')));
    return [...this.bytes([...new Set(ids)]).values()];
  }

  /**
   * The bytes of objects, by their ids: one process for all.
   * @throws {Complaint} when one is missing
   */
  bytes(ids: readonly string[]): Map<string, Buffer> {
    const found = new Map<string, Buffer>();
    if (ids.length === 0) return found;
    const output = git(
      this.top,
      'cat-file',
      ['--batch'],
      this.purpose,
      ids.map((id) => `${id}\n`).join(''),
    );
    let at = 0;
    for (const id of ids) {
      const end = output.indexOf('\n', at);
      const [, type, size] =
        /^[0-9a-f]+ (\w+) (\d+)$/.exec(output.toString('latin1', at, Math.max(end, at))) ?? [];
      if (type !== 'blob' || size === undefined)
        throw complaint('wrong-use', [
          `git cannot tell ${this.purpose}: the object ${id} is not in this repository; fetch it, then run the command again`,
        ]);
      found.set(id, output.subarray(end + 1, end + 1 + Number(size)));
      at = end + 1 + Number(size) + 1;
    }
    return found;
  }
}
