import { Option, type Command } from 'commander';
import { suggestion } from '../../core/text/closest.js';
import { checkWorkspace } from '../../workspace/checking/check-workspace.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { Edits } from '../../workspace/editing/edits.js';
import { FIXABLE, Fixer } from '../../workspace/editing/fix.js';
import { dropping, finishing, isInterrupted } from '../../workspace/editing/journal.js';
import { endLeft } from '../../workspace/editing/turn.js';
import { findWorkspace } from '../../workspace/disk/find.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import { collect, localesOf, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { counted, print, say } from '../print/out.js';

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly locale?: string;
  readonly only: readonly string[];
  readonly recover?: 'finish' | 'drop';
}

function kindsOf(words: readonly string[]): ReadonlySet<string> {
  const names = words.flatMap((word) => word.split(',')).map((name) => name.trim());
  const wrong = names.find((name) => !FIXABLE.some((kind) => kind === name));
  if (wrong !== undefined)
    throw complaint('wrong-use', [
      `--only: "${wrong}" is nothing that can be mended by machine${suggestion(wrong, FIXABLE)}; these are ${FIXABLE.join(', ')}`,
    ]);
  return new Set(names.length === 0 ? FIXABLE : names);
}

/** Ends an edit that was interrupted, one way or the other, and does nothing else. */
function recoverBy(how: 'finish' | 'drop', { workspace = '.' }: Options): void {
  const folder = findWorkspace(workspace);
  if (!isInterrupted(folder)) {
    print('No edit was interrupted here.');
    return;
  }
  if (how === 'finish') {
    endLeft(folder, finishing(say), say);
    print('The edit is finished.');
    return;
  }
  const open: string[] = [];
  endLeft(folder, dropping(open), say);
  print(
    `The edit is dropped; ${open.length === 0 ? 'nothing of it was left to write' : `not written: ${open.join(', ')}`}.`,
  );
}

async function fix(options: Options): Promise<void> {
  if (options.recover !== undefined) {
    recoverBy(options.recover, options);
    return;
  }
  const kinds = kindsOf(options.only);
  const workspace = openToEdit(options);
  const locales = localesOf(workspace, options.locale);
  const edits = new Edits(workspace);
  const fixer = new Fixer(workspace, edits);
  const { findings } = await checkWorkspace(workspace, locales);
  fixer.findings(findings, kinds);
  if (kinds.has('key-order')) fixer.order();
  if (!options.dryRun)
    for (const { kind, file, what } of fixer.mended)
      print(`${workspace.shown(file)}  ${kind}: ${what}`);
  await finish(edits, options, `Mended ${counted(fixer.mended.length, 'thing')}`);
  const after = options.dryRun
    ? findings
    : (await checkWorkspace(Workspace.open(workspace.folder, workspace.shownFrom), locales))
        .findings;
  const left =
    after.filter(({ severity }) => severity !== 'info').length -
    (options.dryRun ? fixer.mended.filter(({ kind }) => kind !== 'key-order').length : 0);
  if (left > 0) {
    say(
      `${counted(left, 'finding')} ${left === 1 ? 'wants' : 'want'} somebody who knows what the texts mean; "zeitwort check" lists them`,
    );
    process.exitCode = 1;
  }
}

export function define(command: Command): void {
  withDryRun(withWorkspace(command))
    .option('--locale <tag>', 'mend this language only')
    .option('--only <kinds>', `only these, with commas: ${FIXABLE.join(', ')}`, collect, [])
    .addOption(
      new Option('--recover <how>', 'only end an edit that was interrupted').choices([
        'finish',
        'drop',
      ]),
    )
    .addHelpText('after', '\nNo wording is touched. The exit code is 1 where findings are left.')
    .action(fix);
}
