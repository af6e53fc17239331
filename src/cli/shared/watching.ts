import path from 'node:path';
import { say } from '../print/out.js';
import { watchFolders } from '../../workspace/disk/watched-folders.js';

/** Editors save in several steps; so long it must be quiet before anything is done. */
const QUIET = 60;

/**
 * Runs work now, and again whenever a file was saved, until the program is interrupted.
 * @param folder what files are named from
 * @param watched the folders looked at
 */
export async function repeat(
  folder: string,
  watched: readonly string[],
  work: (changed: ReadonlySet<string>) => Promise<void>,
): Promise<void> {
  const watcher = watchFolders(watched, say);
  const changed = new Set<string>();
  let timer: NodeJS.Timeout | undefined;
  let running = Promise.resolve();
  const run = async (): Promise<void> => {
    const files = new Set(changed);
    changed.clear();
    await work(files);
  };
  watcher.on('all', (_, file) => {
    changed.add(path.relative(folder, file).split(path.sep).join('/'));
    clearTimeout(timer);
    timer = setTimeout(() => {
      running = running.then(run);
    }, QUIET);
  });
  // What changes before all files are known would be missed.
  await new Promise<void>((resolve) => {
    watcher.once('ready', () => {
      resolve();
    });
  });
  await run();
  await new Promise<void>((resolve) => {
    process.once('SIGINT', () => {
      resolve();
    });
    process.once('SIGTERM', () => {
      resolve();
    });
  });
  await watcher.close();
  await running;
}
