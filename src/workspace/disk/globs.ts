import { readdirSync, realpathSync, statSync } from 'node:fs';
import * as fs from 'node:fs';
import path from 'node:path';
import { globSync, type GlobOptions } from 'tinyglobby';
import { complaint } from './complaint.js';
import { isBelow } from './files.js';

/**
 * A glob longer than this, or with more that can be read in several ways, is none that somebody
 * wrote for files.
 */
const LONGEST = 500;
const MOST_STARS = 3;
const MOST_BRACES = 6;

/** The folder of installed packages. */
const PACKAGES = 'node_modules';

/** The values that `root` can have: the folder itself, or one that contains it. */
export const ROOT = /^(?:\.|\.\.(?:\/\.\.){0,15})\/?$/;

/** How many folders up a path goes at its begin, and what is left of it. */
function upwards(file: string): {
  readonly up: string;
  readonly steps: number;
  readonly rest: string;
} {
  const [up = ''] = /^(?:\.\.\/)*/.exec(file) ?? [];
  return { up, steps: up.length / 3, rest: file.slice(up.length) };
}

/**
 * Returns why a glob of texts cannot be used. Texts that several workspaces share may lie around
 * this one, below `root`.
 * @param root one of `ROOT`
 */
export function textsTrouble(glob: string, root: string): string | undefined {
  const { steps, rest } = upwards(glob);
  if (steps === 0) return globTrouble(glob);
  if (steps > root.split('/').filter((part) => part === '..').length)
    return `this is outside of ${root === '.' ? 'the workspace' : `the folder "${root}"`}; write "root: ${'../'.repeat(steps).slice(0, -1)}" if the folder around it has texts of it too`;
  return /\.jsonc?$/i.test(rest)
    ? globTrouble(rest)
    : 'texts outside of the workspace are named with their ending, such as ../shared/*.json';
}

/** Returns why a glob cannot be used, as half a sentence with the remedy; nothing where it can. */
export function globTrouble(glob: string): string | undefined {
  const leadsOut = 'this is outside of the workspace; name files below zeitwort.yaml';
  if (/^([/\\]|[A-Za-z]:)/.test(glob) || glob.split(/[/\\]/).includes('..')) return leadsOut;
  // Two dots beside something that stands for nothing, as in `..{,}`.
  if (/(?:^|[/\\{,(|])\.\.(?:[{},()|[\]*?!+@]|$)/.test(glob)) return leadsOut;
  const manyWays =
    glob.length > LONGEST ||
    glob.split('/').filter((part) => part === '**').length > MOST_STARS ||
    glob
      .split('/')
      .some((part) => part !== '**' && (part.match(/[*?]/g) ?? []).length > MOST_STARS) ||
    (glob.match(/\{/g) ?? []).length > MOST_BRACES ||
    /[+*]\(/.test(glob);
  return manyWays
    ? `this can be read in too many ways; write globs of at most ${LONGEST} characters with up to ${MOST_STARS} wildcards in a name`
    : undefined;
}

/** Where a link leads. */
function targetOf(file: string): { readonly real: string; readonly isFolder: boolean } | undefined {
  try {
    return { real: realpathSync(file), isFolder: statSync(file).isDirectory() };
  } catch {
    return undefined;
  }
}

/**
 * An entry of a folder: a folder or a file. Links, pipes and links that lead nowhere count as
 * files, so that reading them reports the fault.
 */
export interface FolderEntry {
  readonly name: string;
  readonly isFolder: boolean;
}

/** Lists the folders on disk; links to folders are followed below the root, each folder once. */
function onDisk(root: string): (folder: string) => FolderEntry[] {
  const visited = new Set<string>();
  return (folder) =>
    readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
      if (!entry.isSymbolicLink()) return [{ name: entry.name, isFolder: entry.isDirectory() }];
      const target = targetOf(path.join(folder, entry.name));
      if (target?.isFolder && (!isBelow(root, target.real) || visited.has(target.real))) return [];
      if (target?.isFolder) visited.add(target.real);
      return [{ name: entry.name, isFolder: target?.isFolder ?? false }];
    });
}

/** The most entries that a glob looks at. Nobody keeps texts in a folder with more. */
const MOST_ENTRIES = 200_000;

/**
 * The listing as the walk asks for it; packages that are installed are left out, unless the glob
 * names their folder.
 */
function listing(
  glob: string,
  list: (folder: string) => FolderEntry[],
): (folder: string) => unknown[] {
  const hasPackages = glob.includes(PACKAGES);
  let seen = 0;
  return (folder) =>
    list(folder)
      .filter(({ name, isFolder }) => hasPackages || !isFolder || name !== PACKAGES)
      .map(({ name, isFolder }) => {
        if ((seen += 1) > MOST_ENTRIES)
          throw complaint('too-many-files', [glob, String(MOST_ENTRIES)]);
        return {
          name,
          isFile: () => !isFolder,
          isDirectory: () => isFolder,
          isSymbolicLink: () => false,
        };
      });
}

/** The folder that a glob is looked for in, from the folder that it is written for. */
export const placeOfGlob = (glob: string): string => {
  const { up, rest } = upwards(glob);
  const literal = rest.split('/').slice(0, -1);
  const wild = literal.findIndex((part) => /[*?[\]{}()!+@|]/.test(part));
  return up + (wild < 0 ? literal : literal.slice(0, wild)).join('/');
};

/**
 * The files of a folder that a glob names, in order, with forward slashes; links are among them,
 * wherever they lead.
 * @param glob one that `globTrouble` or `textsTrouble` has nothing against
 * @param list what stands in a folder; the disk is asked where nothing is given
 * @throws {Complaint} when it would look at too many files
 */
export function filesMatching(
  folder: string,
  glob: string,
  list?: (folder: string) => FolderEntry[],
): string[] {
  const { up, rest } = upwards(glob);
  if (up !== '') {
    const around = path.resolve(folder, up);
    // What it names in the folder itself has its plain name, as other globs give it.
    return filesMatching(around, rest, list).map((file) =>
      path.relative(folder, path.join(around, file)).split(path.sep).join('/'),
    );
  }
  const walked = { ...fs, readdirSync: listing(glob, list ?? onDisk(realpathSync(folder))) };
  return globSync([glob], {
    cwd: folder,
    followSymbolicLinks: false,
    expandDirectories: false,
    fs: walked as unknown as NonNullable<GlobOptions['fs']>,
  })
    .filter((file) => !file.startsWith('../'))
    .sort();
}
