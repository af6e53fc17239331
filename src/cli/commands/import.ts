import { Option, type Command } from 'commander';
import { sameLanguage } from '../../core/locale/chain.js';
import { tryLocale, type Locale } from '../../core/locale/tag.js';
import { placeholderTemplate } from '../../core/message/plain.js';
import {
  flatten,
  plainCsv,
  plainPo,
  plainProperties,
  type PlainText,
} from '../../exchange/plain/read.js';
import { TRANSLATION_FORMATS } from '../../exchange/translations/formats.js';
import {
  TranslationFileError,
  type ReadUnit,
  type TranslationFormat,
} from '../../exchange/translations/unit.js';
import { delimiterOf } from '../../exchange/delimiter.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { addressText } from '../../workspace/reading/address.js';
import { Edits } from '../../workspace/editing/edits.js';
import {
  exportedFor,
  returned,
  takeIn,
  type Imported,
  type ImportedText,
  type Returned,
  type RowRemark,
} from '../../workspace/editing/importing.js';
import { newFindings } from '../../workspace/editing/worse.js';
import { slipFor } from '../../workspace/editing/slip.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import { NO_MAP, readKeyMap, takeOver } from '../../workspace/editing/taking-over.js';
import { TextEditor } from '../../workspace/editing/texts.js';
import { readText, readTextOrUtf16 } from '../../workspace/disk/files.js';
import { writeWhole } from '../../workspace/disk/write.js';
import { parseJson } from '../../workspace/documents/json.js';
import { parseYaml } from '../../workspace/documents/yaml.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import { withWorkspace, type WorkspaceOptions } from '../shared/options.js';
import { counted, paint, print, say } from '../print/out.js';
import { keyed } from '../../core/base/keyed.js';

const FORMATS = ['xliff', 'po', 'csv', 'properties', 'json', 'yaml'] as const;

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly format?: (typeof FORMATS)[number];
  readonly locale?: string;
  readonly into?: string;
  readonly take?: 'returned' | 'kept';
  readonly anyway?: boolean;
  readonly slip?: string;
  readonly plain?: boolean;
  readonly map?: string;
  readonly placeholder?: string;
  readonly pluralSuffix?: string;
  readonly pluralBetween?: string;
  readonly pluralArgument: string;
}

const EXTENSIONS: Readonly<Record<string, (typeof FORMATS)[number]>> = keyed({
  xlf: 'xliff',
  xliff: 'xliff',
  po: 'po',
  csv: 'csv',
  tsv: 'csv',
  properties: 'properties',
  json: 'json',
  yaml: 'yaml',
  yml: 'yaml',
});

function formatOf(file: string, { format }: Options): (typeof FORMATS)[number] {
  const known = format ?? EXTENSIONS[/\.(\w+)$/.exec(file)?.[1]?.toLowerCase() ?? ''];
  if (known === undefined)
    throw complaint('wrong-use', [
      `${file} does not say what it is; name its format with --format`,
    ]);
  return known;
}

function plainTexts(
  text: string,
  file: string,
  format: (typeof FORMATS)[number],
): { texts: PlainText[]; odd: string[] } {
  switch (format) {
    case 'json':
      return flatten(parseJson(text, file, true));
    case 'yaml':
      return flatten(parseYaml(text, file));
    case 'po':
      return { texts: plainPo(text), odd: [] };
    case 'csv':
      return { texts: plainCsv(text), odd: [] };
    case 'properties':
      return { texts: plainProperties(text), odd: [] };
    case 'xliff':
      throw complaint('wrong-use', [
        'XLIFF is read as "export" writes it; old catalogs are json, yaml, properties, po or csv',
      ]);
  }
}

function printChanges(
  changed: readonly ImportedText[],
  refused: readonly { key: string; why: string }[],
): void {
  for (const { address, before, after } of changed) {
    print(paint.bold(addressText(address)));
    if (before !== undefined) print(paint.red(`  - ${before}`));
    print(paint.green(`  + ${after}`));
  }
  for (const { key, why } of refused) say(`${key}: ${why}`);
  if (refused.length > 0) process.exitCode = 1;
}

/** Turns another format's error into a complaint with its place in the file. */
function reading<T>(file: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (!(error instanceof TranslationFileError)) throw error;
    const { line, column, message } = error;
    throw complaint('wrong-content', [message], {
      file,
      ...(line === undefined ? {} : { line, column: column ?? 1 }),
    });
  }
}

/** Whether the language that a file names is the one that is asked for, perhaps with its region. */
function isOf({ config }: Workspace, tag: string, locale: Locale): boolean {
  const named = tryLocale(tag);
  if (named === undefined || named === locale) return true;
  return !config.locales.includes(named) && sameLanguage(named, locale);
}

/** Lists what was not taken in, and what somebody should look at. */
function printRows({ refused, remarks, both, notes }: Returned): void {
  for (const { key, why } of [...refused, ...remarks]) say(`${key}: ${why}`);
  for (const { key, kept, returned: other } of both) {
    print(`${paint.bold(key)}  changed here and by the translator`);
    if (kept !== undefined) print(paint.red(`  - ${kept}`));
    print(paint.green(`  + ${other}`));
  }
  if (both.length > 0)
    say(
      `${counted(both.length, 'text')} changed here and by the translator ${both.length === 1 ? 'stays' : 'stay'}; take these with --take returned, or leave them with --take kept`,
    );
  for (const { key, why } of notes) print(`${paint.bold(key)}  note: ${why}`);
  if (refused.length + both.length > 0) process.exitCode = 1;
}

/** Takes in translations that came back, as far as they are no worse than what is there. */
async function takeReturned(
  workspace: Workspace,
  locale: Locale,
  units: readonly ReadUnit[],
  { take: wanted, anyway, into, ...options }: Options,
): Promise<Returned> {
  const found = returned(workspace, locale, units, { take: wanted, anyway });
  const take = (decisions: Returned['decisions']): { edits: Edits; taken: Imported } => {
    const edits = new Edits(workspace);
    return { edits, taken: takeIn(new TextEditor(workspace, edits), locale, decisions, into) };
  };
  const all = take(found.decisions);
  const worse = new Set<string>();
  const findings: RowRemark[] = [];
  for (const [{ key, known }, sentences] of await newFindings(
    workspace,
    all.edits,
    locale,
    found.decisions,
  )) {
    const replacesGood = known.target !== undefined && known.translation?.state !== 'initial';
    if (replacesGood && !anyway) worse.add(key);
    findings.push({ key, why: sentences.join(' ') });
  }
  const isWorse = ({ key }: { readonly key: string }): boolean => worse.has(key);
  const { edits, taken } =
    worse.size === 0 ? all : take(found.decisions.filter((one) => !isWorse(one)));
  const { changed, states, moved } = taken;
  printChanges(changed, []);
  const accepted: Returned = {
    ...found,
    refused: [
      ...found.refused,
      ...findings.filter(isWorse).map(({ key, why }) => ({
        key,
        why: `it would replace a text without fault: ${why} Take it with --anyway`,
      })),
    ],
    remarks: [...found.remarks, ...findings.filter((one) => !isWorse(one))],
  };
  printRows(accepted);
  for (const address of moved)
    say(
      `${addressText(address)}: the original changed since this was exported; the text went in, and counts as stale`,
    );
  await finish(
    edits,
    options,
    `Imported ${counted(changed.length, 'text')}${states === 0 ? '' : ` and ${counted(states, 'state')}`} into ${locale}`,
  );
  return accepted;
}

/** Writes what goes back to the translator, in the format that came. */
function writeSlip(
  slip: string,
  { folder, shownFrom }: Workspace,
  locale: Locale,
  returned: Returned,
  { write }: TranslationFormat,
  came: string,
): void {
  const now = Workspace.open(folder, shownFrom);
  const file = slipFor(now, locale, returned);
  if (file.units.length === 0) {
    say(`nothing has to go back; ${slip} was not written`);
    return;
  }
  const text = write(file, { delimiter: delimiterOf(came), bom: came.startsWith('\uFEFF') });
  writeWhole(slip, text);
  say(`wrote ${slip}: ${counted(file.units.length, 'text')} to be sent again`);
}

async function importTexts(file: string, options: Options): Promise<void> {
  const workspace = openToEdit(options);
  const format = formatOf(file, options);
  const named = file === '-' ? 'standard input' : file;
  const text = readTextOrUtf16(file, named, 'translations');
  const asOld =
    (options.plain ?? false) ||
    options.map !== undefined ||
    options.placeholder !== undefined ||
    format === 'json' ||
    format === 'yaml';
  if (!asOld) {
    const read = reading(file, () => TRANSLATION_FORMATS[format].read(text, {}));
    const tag = options.locale ?? read.locale;
    if (tag === undefined)
      throw complaint('wrong-use', [
        'the file does not say which language it is; name it with --locale',
      ]);
    const locale = workspace.locale(tag);
    const { locales } = workspace.config;
    const other =
      read.locale !== undefined && !isOf(workspace, read.locale, locale)
        ? read.locale
        : exportedFor(read.units, locale, locales);
    if (other !== undefined)
      throw complaint('wrong-use', [`the texts are in ${other}, not in ${locale}`], { file });
    if (locale === workspace.config.original)
      throw complaint('wrong-use', [`${locale} is the original, which is not translated`]);
    const returned = await takeReturned(workspace, locale, read.units, options);
    if (options.slip !== undefined && !options.dryRun)
      writeSlip(options.slip, workspace, locale, returned, TRANSLATION_FORMATS[format], text);
    return;
  }
  if (options.locale === undefined)
    throw complaint('wrong-use', ['name the language of the texts with --locale']);
  const locale = workspace.locale(options.locale);
  let template: ReturnType<typeof placeholderTemplate> | undefined;
  try {
    template =
      options.placeholder === undefined ? undefined : placeholderTemplate(options.placeholder);
  } catch (error) {
    throw complaint('wrong-use', [
      `--placeholder: ${error instanceof Error ? error.message : String(error)}`,
    ]);
  }
  const map =
    options.map === undefined
      ? NO_MAP
      : readKeyMap(readText(options.map, options.map, 'a map of keys'), options.map);
  const { texts, odd } = reading(file, () => plainTexts(text, file, format));
  const { pluralSuffix, pluralBetween, pluralArgument } = options;
  const edits = new Edits(workspace);
  const taken = takeOver(
    workspace,
    new TextEditor(workspace, edits),
    locale,
    texts,
    { map, template, pluralSuffix, pluralBetween, pluralArgument },
    options.into,
  );
  const refused = [
    ...taken.refused,
    ...odd.map((key) => ({ key, why: 'it is neither a text nor an object of texts' })),
  ];
  printChanges(taken.changed, refused);
  await finish(edits, options, `Took over ${counted(taken.changed.length, 'text')} of ${locale}`);
}

export function define(command: Command): void {
  withDryRun(
    withWorkspace(
      command.argument(
        '<file>',
        'the file of a translator, or an old catalog; - reads standard input',
      ),
    ),
  )
    .addOption(
      new Option('--format <format>', "the file's format (else by its name)").choices(FORMATS),
    )
    .option('--locale <tag>', 'the language of the texts (else as the file says)')
    .option('--into <file>', 'the catalog for texts that have none yet')
    .addOption(
      new Option(
        '--take <which>',
        'where a text was changed both here and by the translator: take this one',
      ).choices(['returned', 'kept']),
    )
    .option('--anyway', 'also take texts that bring new findings')
    .option(
      '--slip <file>',
      'write refused and doubtful texts into a file of the same format, with the reasons',
    )
    .option(
      '--plain',
      'the file is an old catalog of keys and texts, and not from "export"; json and yaml always are',
    )
    .option('--map <file>', 'old catalogs: a YAML file that maps their keys and arguments')
    .option(
      '--placeholder <template>',
      "old catalogs: how arguments are written, with NAME or NUMBER: '%(NAME)s', '{{NAME}}'",
    )
    .option(
      '--plural-suffix <template>',
      "old catalogs: the suffix of keys for plural categories, with CATEGORY: '.CATEGORY'",
    )
    .option(
      '--plural-between <text>',
      'old catalogs: the text between plural categories in one text',
    )
    .option(
      '--plural-argument <name>',
      'old catalogs: the argument that selects the plural',
      'count',
    )
    .addHelpText(
      'after',
      '\nRefused texts are listed, and the exit code is 1; all others are imported.',
    )
    .action(importTexts);
}
