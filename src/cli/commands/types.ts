import type { Command } from 'commander';
import { constants, declarations } from '../../exchange/typescript.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { writeWhole } from '../../workspace/disk/write.js';
import {
  isCurrent,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { print, printExact } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly out: string;
  readonly constants?: boolean;
  readonly check?: boolean;
}

function types(options: Options): void {
  const { out } = options;
  const workspace = openWorkspace(options);
  const { locales: languages, original, statuses, problemParams } = workspace.config;
  const source = {
    forms: [...workspace.forms.values()].map(({ form }) => form),
    locales: languages,
    original,
    problems: [...statuses.keys()],
    problemParams,
  };
  if (options.constants && /\.d\.[cm]?ts$/.test(out))
    throw complaint('wrong-use', [
      'constants are code, and a .d.ts holds none; name a .ts with --out',
    ]);
  const text = options.constants ? constants(source) : declarations(source);
  if (out === '-') {
    printExact(text);
    return;
  }
  if (!options.check) {
    writeWhole(out, text);
    print(`Wrote ${out}`);
    return;
  }
  if (isCurrent(out, text)) print(`${out} is up to date`);
  else {
    print(`${out} is out of date; run "zeitwort types"`);
    process.exitCode = 1;
  }
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--out <file>', 'the file to write, - for standard output', 'zeitwort.d.ts')
    .option(
      '--constants',
      'also write constants of forms, fields, rules, languages and problems, into a .ts file',
    )
    .option('--check', 'write nothing; exit with 1 where the file is out of date')
    .action(types);
}
