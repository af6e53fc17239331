import type { Command } from 'commander';
import { LocaleError, parseLocale, type Locale } from '../../core/locale/tag.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { addressText } from '../../workspace/reading/address.js';
import { Edits } from '../../workspace/editing/edits.js';
import { addLanguage, draftsFor, writeDrafts } from '../../workspace/editing/fill.js';
import { labelDrafts } from '../../workspace/editing/labels.js';
import { TextEditor } from '../../workspace/editing/texts.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import { withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { counted, print } from '../print/out.js';

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly locale?: string;
  readonly labels?: boolean;
  readonly from: string;
  readonly form?: string;
  readonly into?: string;
}

function localeOf(tag: string): Locale {
  try {
    return parseLocale(tag);
  } catch (error) {
    throw error instanceof LocaleError ? complaint('wrong-tag', [error.message]) : error;
  }
}

async function fill(options: Options): Promise<void> {
  const workspace = openToEdit(options);
  if (options.locale === undefined && !options.labels)
    throw complaint('wrong-use', [
      'name the language to fill with --locale; --labels drafts the labels of the original',
    ]);
  const locale =
    options.locale === undefined ? workspace.config.original : localeOf(options.locale);
  const { original } = workspace.config;
  if (options.labels && !workspace.texts.serves(original, locale))
    throw complaint('wrong-use', [
      `the names of fields are no labels in ${locale}; leave --labels out, and the labels of ${original} are what drafts are made from`,
    ]);
  const edits = new Edits(workspace);
  const editor = new TextEditor(workspace, edits);
  const form = options.form === undefined ? undefined : workspace.formsNamed(options.form);
  if (!workspace.config.locales.includes(locale)) addLanguage(workspace, editor, locale);
  const drafts = options.labels
    ? await labelDrafts(workspace, locale)
    : draftsFor(workspace, locale, options.from, form);
  writeDrafts(workspace, editor, locale, drafts, options.into);
  if (!options.dryRun)
    for (const { address, from } of drafts) print(`  ${addressText(address)}  from ${from}`);
  await finish(edits, options, `Filled ${counted(drafts.length, 'text')} in ${locale}`);
}

export function define(command: Command): void {
  withDryRun(withWorkspace(command))
    .option('--locale <tag>', 'the language to fill; a new one is added to the workspace')
    .option('--labels', 'draft missing labels of the original from the names of the fields')
    .option(
      '--from <what>',
      'the source of drafts: original, starter, or a related locale',
      'original',
    )
    .option('--form <ids>', 'only texts that this form uses; several with commas: a,b')
    .option(
      '--into <file>',
      "the catalog to write into (else the locale's own, or a new one beside the original's)",
    )
    .addHelpText(
      'after',
      '\nDrafts are in the state "initial": clients do not read them until somebody writes or marks them, and "check" lists them as unreviewed.',
    )
    .action(fill);
}
