import { Option, type Command } from 'commander';
import { connectTo } from '../../editor/lifecycle.js';
import { EditorServer, type Watcher } from '../../editor/server.js';
import { watchFolders } from '../../workspace/disk/watched-folders.js';

declare const ZEITWORT_VERSION: string;

/** Watches folders for clients that do not report changes on disk. */
const watchOnDisk: Watcher = (folders, changed, begun) => {
  if (folders.length === 0) return;
  // What is not watched is read when it is saved in the editor.
  const watcher = watchFolders(folders, () => undefined);
  watcher.on('all', (event, file) => {
    changed(file, event !== 'change');
  });
  watcher.once('ready', begun);
  // What can no longer be watched is read when it is saved in the editor.
  watcher.on('error', () => undefined);
};

/** Answers an editor over standard input and output until it says that it ends. */
function serveEditor(): void {
  const connection = connectTo(process.stdin, process.stdout);
  new EditorServer(connection, ZEITWORT_VERSION, watchOnDisk).listen();
}

export function define(command: Command): void {
  command
    // Clients add it, whether a server asks for it or not.
    .option('--stdio', 'use standard input and output; this is the default')
    .addOption(new Option('--clientProcessId <pid>').hideHelp())
    .addHelpText('after', '\nEditors start it; docs/guide/9-editors.md has their settings.')
    .action(serveEditor);
}
