import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import { difference } from '../../core/diff/diff.js';
import { openSite } from '../../report/site/open.js';
import { SITE_MARK } from '../../report/site/source.js';
import { writeWhole } from '../../workspace/disk/write.js';
import {
  isCurrent,
  localesOf,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { sideAt, sideOf } from '../shared/sides.js';
import { counted, print } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly out: string;
  readonly locale?: string;
  readonly title?: string;
  readonly since?: string;
  readonly check?: boolean;
}

/** So many files are named. */
const MOST_NAMED = 10;

/** Pages of an earlier run in a folder: those that say that we made them. */
function pagesIn(folder: string): string[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((file) => path.basename(file) === 'index.html')
    .filter((file) => readFileSync(path.join(folder, file), 'utf8').includes(SITE_MARK))
    .map((file) => file.split(path.sep).join('/'));
}

function listed(files: readonly string[], state: string): void {
  for (const file of files.slice(0, MOST_NAMED)) print(`${file} ${state}`);
  if (files.length > MOST_NAMED) print(`and ${files.length - MOST_NAMED} more`);
}

function pages(options: Options): void {
  const { out, title, since, check } = options;
  const workspace = openWorkspace(options);
  const changes =
    since === undefined
      ? undefined
      : { revision: since, found: difference(sideAt(since, options), sideOf(workspace)) };
  const locales = localesOf(workspace, options.locale);
  const site = openSite(workspace, { title, changes, locales });
  // Pages in languages that were not asked for stay.
  const gone = options.locale === undefined ? pagesIn(out).filter((file) => !site.has(file)) : [];
  if (check) {
    const stale = [...site].filter(([file, write]) => !isCurrent(path.join(out, file), write()));
    listed(
      stale.map(([file]) => path.join(out, file)),
      'is out of date',
    );
    listed(
      gone.map((file) => path.join(out, file)),
      'is of nothing that is there',
    );
    if (stale.length + gone.length === 0) {
      print(`${counted(site.size, 'page')} in ${out} are up to date`);
      return;
    }
    print(`Run "zeitwort pages --out ${out}"`);
    process.exitCode = 1;
    return;
  }
  for (const [file, write] of site) {
    const to = path.join(out, file);
    writeWhole(to, write());
  }
  for (const file of gone) rmSync(path.join(out, file));
  print(
    `Wrote ${out}: ${counted(site.size, 'page')} in ${counted(locales.length, 'language')}${gone.length === 0 ? '' : `; took out ${counted(gone.length, 'page')} of what is no longer there`}`,
  );
  const { typeBase } = workspace.config.body;
  print(
    typeBase === undefined
      ? 'Set "typeBase" under "body" to the address of this folder, so that the types of problems lead here.'
      : `Serve the folder at ${typeBase}`,
  );
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--out <folder>', 'the folder to write', 'zeitwort-pages')
    .option('--locale <tag>', 'pages in this language only')
    .option('--title <text>', 'the name of the API')
    .option('--since <revision>', 'add a page of changes since a git revision, or a ./folder')
    .option('--check', 'write nothing; exit with 1 where a page is out of date')
    .addHelpText(
      'after',
      '\nThe pages are for people who write clients: each problem stands where its type leads to. They need no network and no script.',
    )
    .action(pages);
}
