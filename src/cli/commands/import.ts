import { Option, type Command } from 'commander';
import { placeholderTemplate } from '../../core/message/plain.js';
import {
  flatten,
  plainCsv,
  plainPo,
  plainProperties,
  type PlainText,
} from '../../exchange/plain/read.js';
import { TRANSLATION_FORMATS } from '../../exchange/translations/formats.js';
import { TranslationFileError } from '../../exchange/translations/unit.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { addressText } from '../../workspace/reading/address.js';
import { Edits } from '../../workspace/editing/edits.js';
import { importUnits, type ImportedText } from '../../workspace/editing/importing.js';
import { NO_MAP, readKeyMap, takeOver } from '../../workspace/editing/taking-over.js';
import { TextEditor } from '../../workspace/editing/texts.js';
import { readText, readTextOrUtf16 } from '../../workspace/disk/files.js';
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

/** What a reader of another format says, with its place in the file. */
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

async function importTexts(file: string, options: Options): Promise<void> {
  const workspace = openToEdit(options);
  const format = formatOf(file, options);
  const named = file === '-' ? 'standard input' : file;
  const text = readTextOrUtf16(file, named, 'translations');
  const edits = new Edits(workspace);
  const editor = new TextEditor(workspace, edits);
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
    if (locale === workspace.config.original)
      throw complaint('wrong-use', [`${locale} is the original, which is not translated`]);
    const { changed, states, refused, moved } = importUnits(
      workspace,
      editor,
      locale,
      read.units,
      options.into,
    );
    printChanges(changed, refused);
    for (const address of moved)
      say(
        `${addressText(address)}: the original changed since this was exported; the text went in, and counts as stale`,
      );
    await finish(
      edits,
      options,
      `Took in ${counted(changed.length, 'text')} and ${counted(states, 'state')} of ${locale}`,
    );
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
  const taken = takeOver(
    workspace,
    editor,
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
      command.argument('<file>', 'what came back, or an old catalog; - reads standard input'),
    ),
  )
    .addOption(
      new Option('--format <format>', "the file's format (else by its name)").choices(FORMATS),
    )
    .option('--locale <tag>', 'the language of the texts (else as the file says)')
    .option('--into <file>', 'the catalog for texts that have none yet')
    .option(
      '--plain',
      'an old catalog of keys and texts, not what "export" wrote; json and yaml always are',
    )
    .option('--map <file>', 'old catalogs: what their keys and arguments are called here, as YAML')
    .option(
      '--placeholder <template>',
      "old catalogs: how they write arguments, with NAME or NUMBER: '%(NAME)s', '{{NAME}}'",
    )
    .option(
      '--plural-suffix <template>',
      "old catalogs: what follows a key for each plural category, with CATEGORY: '.CATEGORY'",
    )
    .option(
      '--plural-between <text>',
      'old catalogs: what stands between the plural categories of one text',
    )
    .option('--plural-argument <name>', 'old catalogs: the number that a plural hangs on', 'count')
    .addHelpText('after', '\nWhat is refused is listed, the rest goes in; the exit code is 1 then.')
    .action(importTexts);
}
