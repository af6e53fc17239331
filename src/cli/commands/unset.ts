import type { Command } from 'commander';
import { complaint } from '../../workspace/disk/complaint.js';
import { addressText } from '../../workspace/reading/address.js';
import { Edits } from '../../workspace/editing/edits.js';
import { TextEditor } from '../../workspace/editing/texts.js';
import {
  addressFrom,
  finish,
  openToEdit,
  withAddress,
  withDryRun,
  type AddressOptions,
  type DryRunOptions,
} from '../shared/editing.js';
import { withWorkspace, type WorkspaceOptions } from '../shared/options.js';

type Options = WorkspaceOptions & AddressOptions & DryRunOptions;

async function unset(options: Options): Promise<void> {
  const workspace = openToEdit(options);
  const locale = workspace.locale(options.locale);
  const address = addressFrom(options, workspace);
  const edits = new Edits(workspace);
  const editor = new TextEditor(workspace, edits);
  const holders = workspace.table.allAt(locale, address);
  const files = options.into === undefined ? holders.map(({ file }) => file) : [options.into];
  const gone = files.filter((file) => editor.unset(file, address));
  if (gone.length === 0)
    throw complaint('wrong-use', [
      `${locale} has no text for ${addressText(address)}${options.into === undefined ? '' : ` in ${options.into}`}; "zeitwort show" lists those there are`,
    ]);
  await finish(edits, options, `Took ${addressText(address)} out of ${locale}`);
}

export function define(command: Command): void {
  withDryRun(withAddress(withWorkspace(command)))
    .addHelpText(
      'after',
      '\nA text in several files is removed from all of them, unless --into names one.',
    )
    .action(unset);
}
