import { Option, type Command } from 'commander';
import { isInflection } from '../../core/texts/purpose.js';
import { nameOfForms } from '../../core/texts/form-set.js';
import { overview } from '../../core/texts/overview.js';
import type { Locale } from '../../core/locale/tag.js';
import { PathSyntaxError, parsePattern, printPath } from '../../core/path/path.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { concerns, isOfRules } from '../../workspace/reading/concerns.js';
import { readIn } from '../../workspace/reading/read-in.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import {
  formatOption,
  formIds,
  localesOf,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { print, printJson } from '../print/out.js';
import { textsJson, textsTable, type ShownRow } from '../print/texts.js';

interface Options extends WorkspaceOptions {
  readonly form?: string;
  readonly field?: string;
  readonly rule?: string;
  readonly locale?: string;
  readonly missing?: boolean;
  readonly format: 'text' | 'json';
}

function patternOf(text: string): string {
  try {
    return printPath(parsePattern(text));
  } catch (error) {
    throw error instanceof PathSyntaxError ? complaint('wrong-use', [error.message]) : error;
  }
}

function wanted(options: Options, locales: readonly Locale[], workspace: Workspace): ShownRow[] {
  const { form, field, rule, missing } = options;
  const path = field === undefined ? undefined : patternOf(field);
  const isOfForms =
    form === undefined
      ? (): boolean => true
      : concerns(workspace, nameOfForms(formIds(workspace, form)));
  const isLacking = (row: ShownRow, locale: Locale): boolean =>
    row.read.get(locale)?.coverage === 'draft' || !row.texts.has(locale);
  return overview(workspace.table)
    .filter(
      (row) =>
        isOfForms(row) &&
        (path === undefined || row.path === path) &&
        (rule === undefined || (isOfRules(row) && row.key === rule)) &&
        (!missing || !isInflection(row)),
    )
    .map((row) => ({
      ...row,
      read: new Map(locales.map((locale) => [locale, readIn(workspace, row, locale)])),
    }))
    .filter((row) => !missing || locales.some((locale) => isLacking(row, locale)));
}

function show(options: Options): void {
  const workspace = openWorkspace(options);
  const locales = localesOf(workspace, options.locale);
  const rows = wanted(options, locales, workspace);
  if (options.format === 'json') printJson(textsJson(rows, locales, workspace));
  else print(textsTable(rows, locales));
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--form <ids>', 'only texts that this form uses; several with commas: a,b')
    .option('--field <path>', 'only texts of this field, by its path pattern')
    .option('--rule <key>', 'only messages under this key')
    .option('--locale <tag>', 'this language only')
    .addOption(new Option('--missing', 'only texts that a language lacks'))
    .addOption(formatOption())
    .action(show);
}
