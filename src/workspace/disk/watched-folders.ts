import { lstatSync, realpathSync } from 'node:fs';
import path from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import { isBelow } from './files.js';

/**
 * Whether a file in a workspace's folders belongs to something else: packages, git, our own data, a
 * write in progress.
 */
const isForeign = (file: string): boolean =>
  /[\\/](?:node_modules|\.git|\.zeitwort)(?:[\\/]|$)/.test(file) || file.endsWith('.tmp');

/**
 * What a workspace reads (terms may be TBX), and modules with schemas. All else may lie beside it
 * and change all the time, such as the log of the very service that watches.
 */
const READ = /\.(?:jsonc?|review\.jsonl|ya?ml|csv|tsv|tbx|[cm]?[jt]sx?)$/i;

/**
 * So many files and folders are watched at most: each takes memory here, and a handle of the
 * system.
 */
const MOST = 20_000;

/** Whether a link leads out of the folders that are watched, or nowhere. */
function leadsAway(file: string, roots: readonly string[]): boolean {
  try {
    if (lstatSync(file, { throwIfNoEntry: false })?.isSymbolicLink() !== true) return false;
    const real = realpathSync(file);
    return !roots.some((root) => real === root || isBelow(root, real));
  } catch {
    return true;
  }
}

/**
 * Watches the folders of a workspace, from their current state on. Links are followed as far as
 * they lead into these folders.
 * @param tell called once with what is not watched
 * @param most the most watched files and folders
 */
export function watchFolders(
  folders: readonly string[],
  tell: (sentence: string) => void,
  most = MOST,
): FSWatcher {
  const roots = folders.map((folder) => {
    try {
      return realpathSync(folder);
    } catch {
      return path.resolve(folder);
    }
  });
  const seen = new Set<string>();
  const isTooMuch = (file: string): boolean => {
    if (seen.has(file)) return false;
    if (seen.size < most) {
      seen.add(file);
      return false;
    }
    if (seen.size === most) {
      seen.add('');
      tell(
        `more than ${most} files lie in ${folders.join(', ')}; changes are noticed in the first of them only`,
      );
    }
    return true;
  };
  return watch([...folders], {
    ignoreInitial: true,
    ignored: (file, stats) =>
      isForeign(file) ||
      (stats?.isFile() === true && !READ.test(file)) ||
      leadsAway(file, roots) ||
      isTooMuch(file),
  });
}
