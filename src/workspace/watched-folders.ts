import { watch, type FSWatcher } from 'chokidar';

/** What stands in folders of a workspace and is none of its texts: of packages, of git, our own, and what is being written. */
const isForeign = (file: string): boolean =>
  /[\\/](?:node_modules|\.git|\.zeitwort)(?:[\\/]|$)/.test(file) || file.endsWith('.tmp');

/** Watches the folders of a workspace, from what stands there now on. */
export const watchFolders = (folders: readonly string[]): FSWatcher =>
  watch([...folders], { ignoreInitial: true, ignored: (file) => isForeign(file) });
