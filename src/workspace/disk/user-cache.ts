import { createHash } from 'node:crypto';
import { lstatSync, mkdirSync, readdirSync, realpathSync, rmSync } from 'node:fs';
import { homedir } from 'node:os';
import path from 'node:path';
import { isBelow } from './files.js';
import { replaceFile } from './write.js';

/**
 * So many files are kept at most, those written last: one for each workspace that somebody works
 * in.
 */
const MOST_KEPT = 40;

/**
 * Where the system has programs keep what can be made anew, by its own convention; nothing where it
 * does not say.
 */
function cacheHome(): string | undefined {
  const { XDG_CACHE_HOME, LOCALAPPDATA } = process.env;
  const home = homedir();
  const places =
    process.platform === 'win32'
      ? [LOCALAPPDATA]
      : process.platform === 'darwin'
        ? [XDG_CACHE_HOME, home && path.join(home, 'Library', 'Caches')]
        : // XDG Base Directory Specification: a relative path is ignored.
          [XDG_CACHE_HOME, home && path.join(home, '.cache')];
  return places.find((place) => place !== undefined && path.isAbsolute(place));
}

/** Whether a folder is a folder of the user's own that nobody else can write to. */
function isOurs(folder: string): boolean {
  const stat = lstatSync(folder, { throwIfNoEntry: false });
  const user = process.getuid?.();
  return (
    stat !== undefined &&
    stat.isDirectory() &&
    (user === undefined || (stat.uid === user && (stat.mode & 0o022) === 0))
  );
}

/** The topmost folder that came together with a workspace: that of its repository, else its own. */
function origin(workspace: string): string {
  for (let at = workspace; at !== path.dirname(at); at = path.dirname(at))
    if (lstatSync(path.join(at, '.git'), { throwIfNoEntry: false })) return at;
  return workspace;
}

/**
 * Returns the file in the user's cache folder that keeps something about a workspace. It is out of
 * reach of the workspace and its repository, since its content decides the result of a check.
 * @returns nothing where there is no such folder
 */
export function keptFile(workspace: string, what: string): string | undefined {
  try {
    const home = cacheHome();
    if (home === undefined) return undefined;
    const real = realpathSync(workspace);
    const folder = path.join(home, 'zeitwort');
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    const place = realpathSync(folder);
    if (!isOurs(place) || isBelow(origin(real), place)) return undefined;
    return path.join(
      place,
      `${what}-${createHash('sha256').update(real).digest('hex').slice(0, 32)}.json`,
    );
  } catch {
    return undefined;
  }
}

/** Writes such a file, and takes away the oldest where there are too many. */
export function keep(file: string, text: string): void {
  replaceFile(file, text);
  const folder = path.dirname(file);
  const files = readdirSync(folder).map((name) => path.join(folder, name));
  if (files.length <= MOST_KEPT) return;
  const age = (one: string): number => lstatSync(one, { throwIfNoEntry: false })?.mtimeMs ?? 0;
  for (const old of files.sort((one, other) => age(other) - age(one)).slice(MOST_KEPT))
    rmSync(old, { force: true });
}
