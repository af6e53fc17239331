import type { Logger } from 'pino';
import { watchFolders } from '../workspace/disk/watched-folders.js';
import type { ServedWorkspace } from './state.js';

/** Editors save in several steps; so long it must be quiet before the files are read. */
const QUIET = 80;

/**
 * Reads the workspace anew whenever a file of it changes; the last good reading stays where the new
 * one is broken.
 */
export async function watchWorkspace(
  served: ServedWorkspace,
  log: Logger,
): Promise<{ close: () => Promise<void> }> {
  const watcher = watchFolders(served.current.workspace.watched, (sentence) => {
    log.warn(sentence);
  });
  let timer: NodeJS.Timeout | undefined;
  let running = Promise.resolve();
  const reload = async (): Promise<void> => {
    const trouble = await served.reload();
    if (trouble === undefined) log.info('the workspace was reloaded');
    else log.warn({ trouble }, 'the workspace is broken; the last good reading is kept');
  };
  watcher.on('all', () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      running = running.then(reload);
    }, QUIET);
  });
  watcher.on('error', (error) => {
    log.warn({ error }, 'changes of the workspace can no longer be noticed');
  });
  // What changes before all files are known would be missed.
  await new Promise<void>((resolve) => {
    watcher.once('ready', () => {
      resolve();
    });
  });
  return {
    close: async () => {
      clearTimeout(timer);
      await watcher.close();
      await running;
    },
  };
}
