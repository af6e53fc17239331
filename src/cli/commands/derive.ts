import { rmSync } from 'node:fs';
import { InvalidArgumentError, Option, type Command } from 'commander';
import { Complaint, complaint } from '../../workspace/disk/complaint.js';
import {
  DERIVED_FOLDER,
  MODULE_MS,
  planDeriving,
  type DerivingPlan,
} from '../../workspace/deriving/plan.js';
import type { WorkspaceFolder } from '../../workspace/reading/folder.js';
import { globTrouble } from '../../workspace/disk/globs.js';
import { writeWhole } from '../../workspace/disk/write.js';
import { isCurrent, openFolder, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { counted, print, say } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly out: string;
  readonly check?: boolean;
  readonly watch?: boolean;
  readonly timeout: number;
}

/** Reports files that no rules would be read from. */
function tellUnread(folder: WorkspaceFolder, { files }: DerivingPlan, out: string): void {
  const read = new Set(folder.files(folder.config.rules));
  if (files.some(({ file }) => !read.has(file)))
    say(
      `"rules" in zeitwort.yaml does not name these files, so nothing reads them; add ${out}/*.schema.json to it`,
    );
}

function write(folder: WorkspaceFolder, { files, left }: DerivingPlan): void {
  for (const { file, text, module, export: name } of files) {
    const shown = folder.shown(file);
    if (isCurrent(shown, text)) {
      print(`${shown} is up to date`);
      continue;
    }
    writeWhole(shown, text);
    print(`Wrote ${shown} from ${folder.shown(module)}, export ${name}`);
  }
  for (const file of left) {
    rmSync(folder.shown(file), { force: true });
    print(`Removed ${folder.shown(file)}: no export makes it any more`);
  }
}

/** Prints what differs from the modules; the exit code is for CI. */
function check(folder: WorkspaceFolder, { files, left }: DerivingPlan): void {
  const wrong = files.filter(({ file, text }) => !isCurrent(folder.shown(file), text));
  for (const { file, module } of wrong)
    print(`${folder.shown(file)} is not what ${folder.shown(module)} says; run "zeitwort derive"`);
  for (const file of left)
    print(`${folder.shown(file)} is made by no export any more; run "zeitwort derive"`);
  if (wrong.length + left.length === 0) print(`${counted(files.length, 'file')} up to date`);
  else process.exitCode = 1;
}

async function once(options: Options): Promise<void> {
  const folder = openFolder(options);
  const out = options.out.replaceAll('\\', '/').replace(/\/+$/, '');
  const trouble = globTrouble(out);
  if (trouble !== undefined || out === '')
    throw complaint('wrong-use', [`--out "${options.out}": ${trouble ?? 'name a folder'}`]);
  const plan = await planDeriving(folder, out, options.timeout);
  for (const notice of plan.notices) say(notice);
  if (options.check) {
    check(folder, plan);
    return;
  }
  write(folder, plan);
  tellUnread(folder, plan, out);
}

async function derive(options: Options): Promise<void> {
  if (!options.watch) {
    await once(options);
    return;
  }
  if (options.check)
    throw complaint('wrong-use', [
      '--check writes nothing, and --watch goes on writing; leave one of them out',
    ]);
  const { repeat } = await import('../shared/watching.js');
  const { folder } = openFolder(options);
  await repeat(folder, [folder], async (changed) => {
    // What was written is no reason to begin again.
    if (
      changed.size > 0 &&
      ![...changed].some(
        (file) => /\.(?:[cm]?js|json|ya?ml)$/.test(file) && !file.startsWith(`${options.out}/`),
      )
    )
      return;
    try {
      await once(options);
    } catch (error) {
      if (!(error instanceof Complaint)) throw error;
      say(error.message);
    }
  });
}

function milliseconds(text: string): number {
  const value = Number(text);
  if (!(value > 0 && value <= 600_000))
    throw new InvalidArgumentError('Write milliseconds, from 1 to 600000.');
  return value;
}

export function define(command: Command): void {
  withWorkspace(command)
    .option(
      '--out <folder>',
      'the folder for the schema files, inside the workspace',
      DERIVED_FOLDER,
    )
    .option('--check', 'write nothing; exit with 1 where a file is out of date')
    .option('--watch', 'write again after each save')
    .addOption(
      new Option('--timeout <ms>', 'how long a module may take to load')
        .argParser(milliseconds)
        .default(MODULE_MS),
    )
    .action(derive);
}
