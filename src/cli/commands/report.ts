import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { Command } from 'commander';
import type { Finding } from '../../core/finding.js';
import { checkWorkspace } from '../../workspace/checking/check-workspace.js';
import { installedFile } from '../../workspace/disk/installed.js';
import { coverageHistory } from '../../workspace/checking/history.js';
import { reportData } from '../../workspace/checking/reporting.js';
import { writeWhole } from '../../workspace/disk/write.js';
import { reportPage } from '../../report/page.js';
import {
  HISTORY,
  historyOption,
  localesOf,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { counted, print, printExact } from '../print/out.js';
import { progressBar } from '../print/progress.js';

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly out: string;
  readonly title?: string;
  readonly history: number;
}

async function report(options: Options): Promise<void> {
  const workspace = openWorkspace(options);
  const { original } = workspace.config;
  const asked = localesOf(workspace, options.locale);
  // A translation is read beside what it translates.
  const locales = asked.includes(original) ? asked : [original, ...asked];
  const progress = await progressBar('texts');
  const result = await checkWorkspace(workspace, locales, { progress: progress.show });
  progress.end();
  // Who translates one language can do nothing about rules, other languages and reviews.
  const isFor = ({ locale, kind }: Finding): boolean =>
    options.locale === undefined ||
    (locale !== undefined && asked.includes(locale) && kind !== 'unreviewed');
  const shown = { ...result, findings: result.findings.filter(isFor) };
  const data = reportData(workspace, shown, locales, {
    history: coverageHistory(workspace, options.history),
    hasPlaces: options.locale === undefined,
  });
  const page = reportPage(
    data,
    readFileSync(installedFile('report-page.js'), 'utf8'),
    options.title ?? path.basename(workspace.folder),
  );
  if (options.out === '-') {
    printExact(page);
    return;
  }
  writeWhole(options.out, page);
  print(
    `Wrote ${options.out}: ${counted(data.rows.length, 'text')} in ${counted(locales.length, 'language')}, ${counted(data.findings.length, 'finding')}`,
  );
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--locale <tag>', 'this language and the original only')
    .option('--out <file>', 'the file to write, - for standard output', 'zeitwort-report.html')
    .option('--title <text>', "the title of the page (else the folder's name)")
    .addOption(historyOption().default(HISTORY))
    .addHelpText(
      'after',
      '\nThe page needs no network; send it by mail, or keep it as an artefact of CI.',
    )
    .action(report);
}
