import { Option, type Command } from 'commander';
import { difference } from '../../core/diff/diff.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import { openFolder, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { sideAt, sideOf } from '../shared/sides.js';
import { diffJson, diffMarkdown, diffText } from '../print/diff.js';
import { print, printJson } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly format: 'text' | 'json' | 'markdown';
  readonly fail?: boolean;
}

function diff(from: string, to: string | undefined, options: Options): void {
  const before = sideAt(from, options);
  const after =
    to === undefined
      ? sideOf(Workspace.open(openFolder(options).folder, process.cwd()))
      : sideAt(to, options);
  const found = difference(before, after);
  switch (options.format) {
    case 'text':
      print(diffText(found));
      break;
    case 'json':
      printJson(diffJson(found));
      break;
    case 'markdown':
      print(diffMarkdown(found));
  }
  if (options.fail && found.verdict !== 'same') process.exitCode = 1;
}

export function define(command: Command): void {
  withWorkspace(command)
    .argument('[from]', 'a git revision, or the folder of a workspace as ./folder', 'HEAD')
    .argument('[to]', 'another (else the workspace as it is now)')
    .addOption(
      new Option('--format <format>', 'how to print')
        .choices(['text', 'json', 'markdown'])
        .default('text'),
    )
    .option('--fail', 'exit with 1 where anything differs')
    .action(diff);
}
