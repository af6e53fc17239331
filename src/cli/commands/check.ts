import type { Command } from 'commander';
import { checkWorkspace } from '../../workspace/check-workspace.js';
import { formatOption, localesOf, openWorkspace, withWorkspace, type WorkspaceOptions } from '../options.js';
import { checkJson } from '../print/check-json.js';
import { checkText } from '../print/check-text.js';
import { print, printJson } from '../print/out.js';

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly format: 'text' | 'json';
}

async function check(options: Options): Promise<void> {
  const workspace = openWorkspace(options);
  const locales = localesOf(workspace, options.locale);
  const result = await checkWorkspace(workspace, locales);
  if (options.format === 'json') printJson(checkJson(result, locales, workspace));
  else print(checkText(result, locales, workspace));
  if (result.findings.some(({ severity }) => severity === 'error')) process.exitCode = 1;
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--locale <tag>', 'check this language only')
    .addOption(formatOption())
    .addHelpText('after', '\nThe exit code is 1 where an error was found.')
    .action(check);
}
