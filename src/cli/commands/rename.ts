import { Argument, type Command } from 'commander';
import { complaint } from '../../workspace/disk/complaint.js';
import { Edits } from '../../workspace/editing/edits.js';
import {
  renameField,
  renameForm,
  renameRule,
  type Renaming,
} from '../../workspace/editing/rename.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import { withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { print } from '../print/out.js';

type What = 'rule' | 'field' | 'form';

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly form?: string;
}

function renaming(
  workspace: Workspace,
  edits: Edits,
  what: What,
  from: string,
  to: string,
  form?: string,
): Renaming {
  switch (what) {
    case 'rule':
      return renameRule(workspace, edits, from, to);
    case 'form':
      return renameForm(workspace, edits, from, to);
    case 'field':
      return renameField(workspace, edits, from, to, form);
  }
}

async function rename(what: What, from: string, to: string, options: Options): Promise<void> {
  const workspace = openToEdit(options);
  if (options.form !== undefined) {
    if (what !== 'field') throw complaint('wrong-use', ['--form goes with "rename field"']);
    workspace.form(options.form);
  }
  const edits = new Edits(workspace);
  // Places are printed as the files are now, so they are found before anything is written.
  const { touched, left } = renaming(workspace, edits, what, from, to, options.form);
  const lines = touched.map(({ file, keys, at, becomes }) => {
    const location = workspace.place({ file, keys, at });
    return `  ${[location.file, location.line, location.column].filter((part) => part !== undefined).join(':')}  ${becomes}`;
  });
  print(`${lines.join('\n')}${left.map((sentence) => `\n${sentence}`).join('')}`);
  await finish(edits, options, `Renamed the ${what} ${from} to ${to}`);
}

export function define(command: Command): void {
  withDryRun(withWorkspace(command))
    .addArgument(
      new Argument('<what>', 'the kind of thing to rename').choices(['rule', 'field', 'form']),
    )
    .argument('<from>', 'the current name, path or id')
    .argument('<to>', 'the new name, path or id')
    .option('--form <id>', 'with a field: in this form only')
    .addHelpText(
      'after',
      '\nRenaming a field also renames what is below it, and arguments named after its arrays.',
    )
    .action(rename);
}
