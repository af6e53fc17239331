import path from 'node:path';
import { Option, type Command } from 'commander';
import {
  TRANSLATION_FORMATS,
  type TranslationFormatName,
} from '../../exchange/translations/formats.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { unitsFor } from '../../workspace/editing/exporting.js';
import { TRANSLATION_STATES as STATES } from '../../core/texts/state.js';
import { writeWhole } from '../../workspace/disk/write.js';
import { openWorkspace, withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { counted, print, printExact } from '../print/out.js';
import { keyed } from '../../core/base/keyed.js';

interface Options extends WorkspaceOptions {
  readonly format: TranslationFormatName;
  readonly locale: string;
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

function exportTexts(options: Options): void {
  const workspace = openWorkspace(options);
  const locale = workspace.locale(options.locale);
  if (locale === workspace.config.original)
    throw complaint('wrong-use', [
      `${locale} is the original; name the language to translate into`,
    ]);
  const form = options.form === undefined ? undefined : workspace.formsNamed(options.form);
  const file = unitsFor(workspace, locale, { ...options, form });
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
      new Option('--format <format>', 'how the file is written')
        .choices(Object.keys(TRANSLATION_FORMATS))
        .makeOptionMandatory(),
    )
    .requiredOption('--locale <tag>', 'the language to translate into')
    .option('--out <file>', 'the file to write, - for standard output')
    .addOption(new Option('--state <state>', 'only what is in this state').choices(STATES))
    .option('--form <ids>', 'only what is said of this form alone; of several with commas: a,b')
    .option('--missing', 'only what has no translation yet')
    .option('--stale', 'only that, and what has one of an original that is another by now')
    .addOption(
      new Option('--delimiter <sign>', 'CSV: what stands between the cells').choices(
        Object.keys(DELIMITERS),
      ),
    )
    .option('--bom', 'CSV: begin with a byte order mark, by which some spreadsheets know UTF-8')
    .option('--ascii', 'properties: write all that is no ASCII as an escape')
    .action(exportTexts);
}
