import { existsSync } from 'node:fs';
import path from 'node:path';
import { Option, type Command } from 'commander';
import { complaint } from '../../workspace/disk/complaint.js';
import { readBytes } from '../../workspace/disk/files.js';
import { writeWhole } from '../../workspace/disk/write.js';
import { Edits } from '../../workspace/editing/edits.js';
import { Repository } from '../../workspace/git/repository.js';
import type { Merged } from '../../workspace/merging/catalog-merge.js';
import {
  attributesFor,
  DRIVER,
  driverCommand,
  REVIEW_ATTRIBUTES,
  withLines,
} from '../../workspace/merging/install.js';
import {
  MARKER,
  mergeFile,
  sideText,
  writtenSince,
  type Three,
} from '../../workspace/merging/merge.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import { wholeNumber, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { print, say } from '../print/out.js';

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly path?: string;
  readonly markerSize: number;
  readonly install?: boolean;
}

/** Writes the merged file; prints what people must decide. */
function write(file: string, named: string, { text, conflicts }: Merged): void {
  writeWhole(file, text);
  if (conflicts.length === 0) return;
  process.exitCode = 1;
  for (const what of conflicts)
    say(`${named}: both sides changed ${what}; it is marked, choose one`);
}

/** As git has it: three files, the result into the second. */
function mergeThree(files: readonly string[], { path: name, markerSize }: Options): void {
  const [base, ours, theirs] = files;
  if (base === undefined || ours === undefined || theirs === undefined || files.length > 3)
    throw complaint('wrong-use', ['--path goes with three files: base, ours, theirs']);
  const text = (file: string): string => sideText(readBytes(file, file), file);
  const three = { base: text(base), ours: text(ours), theirs: text(theirs) };
  write(ours, name ?? ours, mergeFile(name ?? ours, three, markerSize));
}

/** Merges a file that a merge of git is open on. */
function mergeOpen(file: string, { markerSize }: Options): void {
  const repository = Repository.around(path.dirname(file), 'the sides of a merge');
  const folder = repository.nameOf(path.dirname(file)) ?? '';
  const name = path.posix.join(folder, path.basename(file));
  const sides = repository.sides(name);
  if (!sides)
    throw complaint('wrong-use', [
      `no merge is open on ${file}; name a file that git lists as unmerged`,
    ]);
  const { base, ours, theirs } = sides;
  if (!ours || !theirs)
    throw complaint('wrong-use', [
      `${file} was removed on one side and changed on the other; keep it with "git add", or remove it with "git rm"`,
    ]);
  const three: Three = {
    base: sideText(base, `${file} of the common ancestor`),
    ours: sideText(ours, `our ${file}`),
    theirs: sideText(theirs, `their ${file}`),
  };
  const merged = mergeFile(file, three, markerSize);
  const now = existsSync(file) ? sideText(readBytes(file, file), file) : '';
  const written = now === merged.text ? undefined : writtenSince(now, three);
  if (written !== undefined)
    throw complaint('wrong-use', [
      `somebody edited ${file} since git left the merge open (${written.trim()}); go on by hand, or take "git checkout --merge ${file}" first`,
    ]);
  write(file, file, merged);
  if (merged.conflicts.length === 0) print(`Merged ${file}; add it with: git add ${file}`);
}

async function install(options: Options): Promise<void> {
  const workspace = openToEdit(options);
  const repository = Repository.around(workspace.folder, 'where to note how catalogs are merged');
  const { lines, left } = attributesFor(workspace.config.texts);
  const edits = new Edits(workspace);
  edits.change('.gitattributes', (text) => withLines(text, [REVIEW_ATTRIBUTES, ...lines]));
  const command = driverCommand();
  if (options.dryRun) say(`git config merge.${DRIVER}.driver would be: ${command}`);
  else {
    repository.configure(`merge.${DRIVER}.name`, 'Zeitwort: text by text');
    repository.configure(`merge.${DRIVER}.driver`, command);
  }
  await finish(edits, options, 'Noted which files are merged text by text');
  if (!options.dryRun)
    print(
      `In this clone, git runs ${command.slice(0, command.indexOf(' %O'))}. Every other clone needs "zeitwort merge --install" too; without it git joins lines.`,
    );
  for (const glob of left)
    say(`"${glob}" cannot be said in .gitattributes; write a line for these files there yourself`);
}

async function merge(files: readonly string[], options: Options): Promise<void> {
  if (options.install) {
    if (files.length > 0) throw complaint('wrong-use', ['--install takes no files']);
    await install(options);
  } else if (options.path !== undefined) mergeThree(files, options);
  else if (files.length === 0)
    throw complaint('wrong-use', [
      'name the files that a merge is open on, or --install; "git status" lists them',
    ]);
  else for (const file of files) mergeOpen(file, options);
}

export function define(command: Command): void {
  withDryRun(withWorkspace(command))
    .argument('[files...]', 'catalogs or reviews with conflicts of a git merge')
    .option(
      '--path <file>',
      'the file that base, ours and theirs are versions of; ours gets the result',
    )
    .addOption(
      new Option('--marker-size <n>', 'the length of conflict markers')
        .argParser(wholeNumber(1, 1000))
        .default(MARKER),
    )
    .option('--install', 'set up git to merge the catalogs of the workspace with this command')
    .addHelpText(
      'after',
      '\nTexts are joined one by one: a conflict is only what both sides changed. Exit code 1: something is left to decide, between the marks of git.',
    )
    .action(merge);
}
