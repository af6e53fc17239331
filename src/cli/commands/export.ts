import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Option, type Command } from 'commander';
import {
  TRANSLATION_FORMATS,
  type TranslationFormatName,
} from '../../exchange/translations/formats.js';
import type { Locale } from '../../core/locale/tag.js';
import type { UnitFile } from '../../exchange/translations/unit.js';
import { deskPage, type Tongue } from '../../report/desk-page.js';
import { installedFile, installedWords } from '../../workspace/disk/installed.js';
import { deskData } from '../../workspace/editing/desk-data.js';
import { writeTbx } from '../../exchange/terms/tbx.js';
import { termsOf } from '../../workspace/reading/terms.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { unitsFor } from '../../workspace/editing/exporting.js';
import { TRANSLATION_STATES as STATES } from '../../core/texts/state.js';
import { writeWhole } from '../../workspace/disk/write.js';
import { openWorkspace, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { counted, print, printExact } from '../print/out.js';
import { keyed } from '../../core/base/keyed.js';

interface Options extends WorkspaceOptions {
  readonly format?: TranslationFormatName | 'tbx';
  readonly as?: 'page';
  readonly locale?: string;
  readonly out?: string;
  readonly state?: string;
  readonly form?: string;
  readonly missing?: boolean;
  readonly stale?: boolean;
  readonly delimiter?: string;
  readonly bom?: boolean;
  readonly ascii?: boolean;
}

const DELIMITERS: Readonly<Record<string, string>> = keyed({
  comma: ',',
  semicolon: ';',
  tab: '\t',
});

/** Writes the terms of the house, in all languages. */
function exportTerms(workspace: Workspace, out: string | undefined): void {
  const { concepts } = termsOf(workspace);
  if (concepts.length === 0)
    throw complaint('wrong-use', ['the workspace has no terms; name files of them under "terms"']);
  const text = writeTbx(concepts, workspace.config.original);
  const file = out ?? `${path.basename(workspace.folder)}.tbx`;
  if (file === '-') printExact(text);
  else {
    writeWhole(file, text);
    print(`Wrote ${file}: ${counted(concepts.length, 'concept')}`);
  }
}

/**
 * Returns the texts of the page: in the translator's language where there are some, and in English.
 */
function tonguesFor(locale: Locale): Tongue[] {
  const own = installedWords(locale);
  const both = own.locale === 'en' ? [own] : [own, installedWords('en' as Locale)];
  return both.map(({ locale: tag, words }) => ({ tag, words: words as Tongue['words'] }));
}

/** Writes the page to translate in; a name that ends in .zip gets it packed, for gates of mail. */
async function exportPage(workspace: Workspace, file: UnitFile, out?: string): Promise<void> {
  const locale = workspace.locale(file.locale);
  const data = deskData(workspace, locale, file);
  const script = readFileSync(installedFile('desk-page.js'), 'utf8');
  const page = deskPage(data, tonguesFor(locale), script);
  const name = `${data.name}.${locale}.html`;
  const to = out ?? name;
  if (to === '-') {
    printExact(page);
    return;
  }
  if (/\.zip$/i.test(to)) {
    const { strToU8, zipSync } = await import('fflate');
    writeWhole(to, zipSync({ [name]: strToU8(page) }, { mtime: '1980-01-01' }));
  } else writeWhole(to, page);
  print(
    `Wrote ${to}: a page to translate ${counted(file.units.length, 'text')} from ${file.original} into ${locale}; what it saves goes to "zeitwort import"`,
  );
}

async function exportTexts(options: Options): Promise<void> {
  const workspace = openWorkspace(options);
  if ((options.format === undefined) === (options.as === undefined))
    throw complaint('wrong-use', [
      'say what to write: --format for a file that tools read, or --as page for a page to translate in',
    ]);
  if (options.format === 'tbx') {
    exportTerms(workspace, options.out);
    return;
  }
  if (options.locale === undefined)
    throw complaint('wrong-use', ['name the language to translate into with --locale']);
  const locale = workspace.locale(options.locale);
  if (locale === workspace.config.original)
    throw complaint('wrong-use', [
      `${locale} is the original; name the language to translate into`,
    ]);
  const form = options.form === undefined ? undefined : workspace.formsNamed(options.form);
  const file = unitsFor(workspace, locale, { ...options, form });
  if (options.format === undefined) {
    await exportPage(workspace, file, options.out);
    return;
  }
  const { write, extension } = TRANSLATION_FORMATS[options.format];
  const { bom, ascii } = options;
  const text = write(file, {
    bom,
    ascii,
    delimiter: options.delimiter === undefined ? undefined : DELIMITERS[options.delimiter],
  });
  if (options.out === '-') {
    printExact(text);
    return;
  }
  const out = options.out ?? `${path.basename(workspace.folder)}.${locale}.${extension}`;
  writeWhole(out, text);
  print(`Wrote ${out}: ${counted(file.units.length, 'text')} from ${file.original} into ${locale}`);
}

export function define(command: Command): void {
  withWorkspace(command)
    .addOption(
      new Option('--format <format>', 'the format of the file').choices([
        ...Object.keys(TRANSLATION_FORMATS),
        'tbx',
      ]),
    )
    .addOption(
      new Option(
        '--as <what>',
        'write an HTML page to translate in, which needs no network',
      ).choices(['page']),
    )
    .option('--locale <tag>', 'the language to translate into; tbx has the terms of all')
    .option('--out <file>', 'the file to write, - for standard output; a page may be packed: .zip')
    .addOption(new Option('--state <state>', 'only texts in this state').choices(STATES))
    .option('--form <ids>', 'only texts that this form uses; several with commas: a,b')
    .option('--missing', 'only texts without a translation')
    .option(
      '--stale',
      'only texts without a translation, and those whose original has changed since',
    )
    .addOption(
      new Option('--delimiter <sign>', 'CSV: the sign between cells').choices(
        Object.keys(DELIMITERS),
      ),
    )
    .option('--bom', 'CSV: begin with a byte order mark, so that spreadsheets recognise UTF-8')
    .option('--ascii', 'properties: escape all that is not ASCII')
    .action(exportTexts);
}
