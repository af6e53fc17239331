import { existsSync } from 'node:fs';
import path from 'node:path';
import { Option, type Command } from 'commander';
import { difference, type Side } from '../../core/diff/diff.js';
import { STATE } from '../../core/texts/table.js';
import { CONFIG_FILE } from '../../workspace/disk/find.js';
import { Complaint, complaint } from '../../workspace/disk/complaint.js';
import { Revision } from '../../workspace/git/revision.js';
import { NOTHING_UNSAVED } from '../../workspace/disk/storage.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import { openFolder, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { diffJson, diffMarkdown, diffText } from '../print/diff.js';
import { print, printJson } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly format: 'text' | 'json' | 'markdown';
  readonly fail?: boolean;
}

function sideOf(workspace: Workspace): Side {
  const { table, config, forms, texts, allTexts } = workspace;
  // All is read here, so that what is broken is told before anything is compared.
  workspace.readAll();
  return {
    table,
    forms: [...forms.values()].map(({ form }) => form),
    original: config.original,
    problems: config.statuses,
    isDraft: ({ locale, purpose }) =>
      texts !== allTexts && (table.column(locale).state(purpose.id) & STATE.draft) !== 0,
  };
}

/**
 * Whether an argument names a folder: one that is written as a path from here or from the root.
 * Everything else is a revision, so that no folder of a repository stands for a branch of its name.
 */
const isFolder = (where: string): boolean =>
  path.isAbsolute(where) || /^\.{1,2}(?:$|[\\/])/.test(where);

/** A workspace at a revision, or in a folder. */
function sideAt(where: string, options: Options): Side {
  if (isFolder(where)) return sideOf(Workspace.open(where, process.cwd()));
  const { folder, shownFrom } = openFolder(options);
  try {
    return sideOf(Workspace.open(folder, shownFrom, NOTHING_UNSAVED, Revision.of(folder, where)));
  } catch (error) {
    if (error instanceof Complaint && existsSync(path.join(where, CONFIG_FILE)))
      throw complaint('wrong-use', [`${error.sentence}; the folder is meant by ./${where}`]);
    throw error;
  }
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
