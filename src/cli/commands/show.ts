import { Option, type Command } from 'commander';
import { isInflection } from '../../core/texts/purpose.js';
import { speaksOf } from '../../core/texts/form-set.js';
import { overview, type OverviewRow } from '../../core/texts/overview.js';
import type { Locale } from '../../core/locale/tag.js';
import { PathSyntaxError, parsePattern, printPath } from '../../core/path/path.js';
import { keysOf } from '../../core/rules/form.js';
import { complaint } from '../../workspace/disk/complaint.js';
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
import { textsJson, textsTable } from '../print/texts.js';

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

/**
 * Whether a form has a use for a text: it is the form's own, or speaks of a field or a rule that
 * the form has.
 */
function concerns(row: OverviewRow, id: string, workspace: Workspace): boolean {
  if (row.form !== undefined) return speaksOf(row.form, id);
  const form = workspace.form(id);
  if (row.path !== undefined)
    return (
      form.declared(parsePattern(row.path), 'body') !== undefined ||
      form.form.fields.some(({ path }) => path === row.path)
    );
  return (
    !isOfRules(row) ||
    form.form.fields.some(({ uses }) => uses.some((use) => keysOf(use).includes(row.key)))
  );
}

const isOfRules = ({ kind }: OverviewRow): boolean => kind === 'message' || kind === 'inline';

function wanted(options: Options, locales: readonly Locale[], workspace: Workspace): OverviewRow[] {
  const { form, field, rule, missing } = options;
  const path = field === undefined ? undefined : patternOf(field);
  const ids = form === undefined ? undefined : formIds(workspace, form);
  return overview(workspace.table).filter(
    (row) =>
      (ids === undefined || ids.some((id) => concerns(row, id, workspace))) &&
      (path === undefined || row.path === path) &&
      (rule === undefined || (isOfRules(row) && row.key === rule)) &&
      (!missing || (!isInflection(row) && locales.some((locale) => !row.texts.has(locale)))),
  );
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
    .option('--form <ids>', 'only what this form has a use for; several with commas: a,b')
    .option('--field <path>', 'only texts of this field, by its path pattern')
    .option('--rule <key>', 'only messages under this key')
    .option('--locale <tag>', 'this language only')
    .addOption(new Option('--missing', 'only texts that a language lacks'))
    .addOption(formatOption())
    .action(show);
}
