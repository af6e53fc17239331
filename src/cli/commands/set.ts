import { InvalidArgumentError, type Command } from 'commander';
import { readText } from '../../workspace/disk/files.js';
import { addressText } from '../../workspace/reading/address.js';
import { Edits } from '../../workspace/editing/edits.js';
import { TextEditor } from '../../workspace/editing/texts.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { signatureIn, unsayable, unusedBecause } from '../../workspace/editing/unused.js';
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

interface Options extends WorkspaceOptions, AddressOptions, DryRunOptions {
  readonly note?: string;
  readonly room?: number;
  readonly force?: boolean;
}

async function set(text: string, options: Options): Promise<void> {
  const workspace = openToEdit(options);
  const locale = workspace.locale(options.locale);
  const address = addressFrom(options, workspace);
  const unused = options.force ? undefined : unusedBecause(workspace, address);
  if (unused !== undefined)
    throw complaint('wrong-use', [
      `${unused}, so nothing would use this text; --force writes it all the same`,
    ]);
  const edits = new Edits(workspace);
  const editor = new TextEditor(workspace, edits);
  const given =
    text === '-' ? readText('-', 'standard input', 'the text').replace(/\r?\n$/, '') : text;
  const file = editor.fileForDraft(locale, address, options.into);
  editor.set(file, address, given, options);
  const lacking = options.force ? undefined : unsayable(workspace, address, signatureIn(given));
  if (lacking !== undefined)
    throw complaint('wrong-use', [
      `the text asks for {${lacking}}, which nothing gives there; "zeitwort why" lists what is on offer, and --force writes it all the same`,
    ]);
  // Where a review is kept, a text written by hand is a translation of what the original is now.
  const original = locale === workspace.config.original ? undefined : editor.originalOf(address);
  if (original !== undefined && editor.stateOf(file, address) !== undefined)
    editor.mark(file, address, 'translated', given, original);
  await finish(edits, options, `Set ${addressText(address)} in ${locale}`);
}

function room(text: string): number {
  if (!/^[1-9]\d*$/.test(text))
    throw new InvalidArgumentError('It is a number of characters, from 1.');
  return Number(text);
}

export function define(command: Command): void {
  withDryRun(
    withAddress(
      withWorkspace(
        command.argument('<text>', 'the text, as an ICU message; - reads standard input'),
      ),
    ),
  )
    .option('--note <text>', 'a note for translators')
    .option('--room <characters>', 'the most characters that the text may have', room)
    .option('--force', 'also for an unknown rule, field or problem')
    .addHelpText(
      'after',
      "\nExample: zeitwort set --locale de --field 'targets[*].name' --rule maxLength 'Höchstens {max} Zeichen.'",
    )
    .action(set);
}
