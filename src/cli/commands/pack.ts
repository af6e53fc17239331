import { mkdirSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import { makePack, packModule, packText } from '../../workspace/packs.js';
import { writeWhole } from '../../workspace/write.js';
import { collect, isCurrent, localesOf, openWorkspace, withWorkspace, type WorkspaceOptions } from '../options.js';
import { print } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly out: string;
  readonly check?: boolean;
  readonly module?: boolean;
  readonly form: readonly string[];
}

function pack(options: Options): void {
  const workspace = openWorkspace(options);
  const only = options.form.length === 0 ? undefined : options.form;
  const write = options.module ? packModule : packText;
  const files = localesOf(workspace, options.locale).map((locale) => ({
    file: path.join(options.out, `${locale}.${options.module ? 'mjs' : 'json'}`),
    text: write(makePack(workspace, locale, only)),
  }));
  if (options.check) {
    const stale = files.filter(({ file, text }) => !isCurrent(file, text));
    for (const { file } of stale) print(`${file} is out of date; run "zeitwort pack"`);
    if (stale.length > 0) process.exitCode = 1;
    else print(`${files.length} packs are up to date`);
    return;
  }
  mkdirSync(options.out, { recursive: true });
  for (const { file, text } of files) {
    writeWhole(file, text);
    print(`${file}  ${Math.ceil(Buffer.byteLength(text) / 1024)} KiB`);
  }
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--locale <tag>', 'this language only')
    .option('--out <dir>', 'the folder for the packs, one file a language', 'packs')
    .option('--module', 'write ES modules, for bundlers')
    .option('--form <id>', 'only what this form needs (again for more)', collect, [])
    .option('--check', 'write nothing; exit with 1 where a pack is out of date')
    .action(pack);
}
