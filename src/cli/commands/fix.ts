import { Option, type Command } from 'commander';
import { checkWorkspace } from '../../workspace/checking/check-workspace.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { Edits } from '../../workspace/editing/edits.js';
import { FIXABLE, Fixer, REMOVING } from '../../workspace/editing/fix.js';
import { dropping, finishing, isInterrupted } from '../../workspace/editing/journal.js';
import { endLeft } from '../../workspace/editing/turn.js';
import { findWorkspace } from '../../workspace/disk/find.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import { collect, localesOf, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { kindsOf } from '../shared/kinds.js';
import { counted, print, say } from '../print/out.js';

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly locale?: string;
  readonly kind: readonly string[];
  readonly sort?: 'original' | 'names';
  readonly remove?: boolean;
  readonly recover?: 'finish' | 'drop';
}

function fixableOf(words: readonly string[]): ReadonlySet<string> {
  const kinds: readonly string[] = kindsOf(words, '--kind');
  const wrong = kinds.find((kind) => !FIXABLE.some((one) => one === kind));
  if (wrong !== undefined)
    throw complaint('wrong-use', [
      `--kind: "${wrong}" cannot be mended by machine; these can: ${FIXABLE.join(', ')}`,
    ]);
  return new Set(kinds.length === 0 ? FIXABLE : kinds);
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
  const kinds = fixableOf(options.kind);
  if (options.remove && options.kind.length === 0)
    throw complaint('wrong-use', [
      `--remove takes texts out: name what with --kind, such as --kind ${[...REMOVING].join(',')}`,
    ]);
  const workspace = openToEdit(options);
  const locales = localesOf(workspace, options.locale);
  const edits = new Edits(workspace);
  const fixer = new Fixer(workspace, edits, options.remove);
  const { findings } = await checkWorkspace(workspace, locales);
  fixer.findings(findings, kinds);
  if (options.sort === 'original') fixer.order();
  const unsorted = options.sort === 'names' ? fixer.orderByNames() : [];
  for (const section of unsorted)
    say(`${section} keeps its order, since comments stand between its entries`);
  if (!options.dryRun)
    for (const { kind, file, what } of fixer.mended)
      print(`${workspace.shown(file)}  ${kind ?? 'order'}: ${what}`);
  await finish(edits, options, `Mended ${counted(fixer.mended.length, 'thing')}`);
  const now = options.dryRun ? workspace : Workspace.open(workspace.folder, workspace.shownFrom);
  const after = options.dryRun ? findings : (await checkWorkspace(now, locales)).findings;
  const left =
    after.filter(({ severity }) => severity !== 'info').length -
    (options.dryRun ? fixer.mended.filter(({ kind }) => kind !== undefined).length : 0);
  if (left > 0) {
    say(
      `${counted(left, 'finding')} ${left === 1 ? 'wants' : 'want'} somebody who knows what the texts mean; "zeitwort check" lists them`,
    );
    process.exitCode = 1;
  }
  if (options.dryRun || options.remove) return;
  const others = new Fixer(now, new Edits(now), true);
  others.findings(after, REMOVING);
  const unused = new Set(others.mended.map(({ kind }) => kind));
  if (unused.size > 0)
    say(
      `texts that nobody reads stay; "zeitwort fix --kind ${[...unused].join(',')} --remove" takes them out`,
    );
}

export function define(command: Command): void {
  withDryRun(withWorkspace(command))
    .option('--locale <tag>', 'correct this language only')
    .option(
      '--kind <kinds>',
      `only these kinds of findings, with commas: ${FIXABLE.join(', ')}`,
      collect,
      [],
    )
    .option('--remove', 'remove texts that nothing uses, of the kinds in --kind')
    .addOption(
      new Option(
        '--sort [order]',
        'also sort entries: translations in the order of the original, or all by name',
      )
        .choices(['original', 'names'])
        .preset('original'),
    )
    .addOption(
      new Option('--recover <how>', 'only finish or undo an interrupted edit').choices([
        'finish',
        'drop',
      ]),
    )
    .addHelpText(
      'after',
      '\nNo text is removed without --remove. The exit code is 1 where findings are left.',
    )
    .action(fix);
}
