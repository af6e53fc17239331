import type { Command } from 'commander';
import { parsePattern } from '../../core/path/path.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { Edits } from '../../workspace/editing/edits.js';
import { moveTexts } from '../../workspace/editing/move.js';
import { TextEditor } from '../../workspace/editing/texts.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import { localesOf, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { counted, say } from '../print/out.js';

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly locale?: string;
  readonly form?: string;
  readonly field?: string;
  readonly to: string;
}

const entries = (count: number): string => counted(count, 'entry').replace('entrys', 'entries');

async function move(options: Options): Promise<void> {
  const workspace = openToEdit(options);
  const { field, to } = options;
  const form = options.form === undefined ? undefined : workspace.formsNamed(options.form);
  if (form === undefined && field === undefined)
    throw complaint('wrong-use', ['name what to move, with --form, --field or both']);
  const edits = new Edits(workspace);
  const locales = localesOf(workspace, options.locale);
  const moved = moveTexts(workspace, new TextEditor(workspace, edits), {
    form,
    to,
    locales,
    field: field === undefined ? undefined : parsePattern(field),
  });
  const left = moved.left.map(
    ({ file, forms, members }) =>
      `${entries(members)} in ${file} (said of ${forms ? forms.join(' and ') : 'all forms'})`,
  );
  const stays = left.length > 0 && `what is said of others too stays: ${left.join(', ')}`;
  if (moved.members === 0)
    throw complaint('wrong-use', [
      `nothing is said of that${form === undefined ? '' : ' form alone'}, or it is in that file already${stays ? `; ${stays}` : ''}`,
    ]);
  await finish(edits, options, `Moved ${entries(moved.members)}`);
  if (stays) say(stays);
}

export function define(command: Command): void {
  withDryRun(withWorkspace(command))
    .requiredOption(
      '--to <file>',
      'the target file, with LOCALE for the language: plan/LOCALE.json',
    )
    .option('--form <ids>', 'texts of this form alone; several with commas: a,b')
    .option('--field <path>', 'texts of this field and of what is below it')
    .option('--locale <tag>', 'in this language only')
    .addHelpText(
      'after',
      '\nThe file must match "texts" in zeitwort.yaml. A file that has no text left is removed.',
    )
    .action(move);
}
