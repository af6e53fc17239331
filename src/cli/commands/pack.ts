import path from 'node:path';
import { Option, type Command } from 'commander';
import type { Locale } from '../../core/locale/tag.js';
import { placeOf } from '../../core/pack/left-out.js';
import { slotTemplate } from '../../core/pack/plain.js';
import { IcuWriter, PlainWriter, type SentenceWriter } from '../../core/pack/writers.js';
import { packDeclarations } from '../../exchange/typescript.js';
import { TRANSLATION_FORMATS } from '../../exchange/translations/formats.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { makePack, packModule, packText } from '../../workspace/answering/packs.js';
import {
  makeSentences,
  sentenceUnits,
  type MadeSentences,
} from '../../workspace/answering/sentences.js';
import { makeVectors } from '../../workspace/answering/vectors.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { writeWhole } from '../../workspace/disk/write.js';
import {
  formIds,
  isCurrent,
  localesOf,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { print, say } from '../print/out.js';

const PLACEHOLDER = '{NAME}';

interface Options extends WorkspaceOptions {
  readonly locale?: string;
  readonly out: string;
  readonly check?: boolean;
  readonly module?: boolean;
  readonly sentences?: boolean;
  readonly testVectors?: boolean;
  readonly format: 'json' | 'icu' | 'properties' | 'po' | 'csv';
  readonly placeholder: string;
  readonly ascii?: boolean;
  readonly form?: string;
}

/** A file that is made, and what is said of it beside its size. */
interface Made {
  readonly file: string;
  readonly text: string;
  readonly note?: string;
}

/** How sentences are written. */
function writerOf({ format, placeholder }: Options): SentenceWriter {
  if (format === 'icu') {
    if (placeholder !== PLACEHOLDER)
      throw complaint('wrong-use', [
        '--placeholder is for other formats: --format icu has ICU messages',
      ]);
    return new IcuWriter();
  }
  try {
    return new PlainWriter(slotTemplate(placeholder));
  } catch (error) {
    if (error instanceof RangeError)
      throw complaint('wrong-use', [`--placeholder "${placeholder}": ${error.message}`]);
    throw error;
  }
}

const share = ({ count: { all, simple } }: MadeSentences): string =>
  `${all === 0 ? 100 : Math.floor((100 * simple) / all)} % of ${all} sentences need no case`;

/** So many sentences that are left out for one reason are named. */
const MOST_NAMED = 20;

function sayLeftOut({ unsimple }: MadeSentences, locale: Locale, lacks: string): void {
  const counts = new Map<string, number>();
  for (const one of unsimple) {
    const { form, code, why } = one;
    const at = placeOf(one);
    const times = (counts.get(why) ?? 0) + 1;
    counts.set(why, times);
    const of = at === '' && form === '' ? '' : ` of ${form} ${at || 'the body'}`;
    if (times <= MOST_NAMED) say(`${locale}: "${code}"${of} ${lacks}, and is left out: ${why}`);
  }
  for (const [why, times] of counts)
    if (times > MOST_NAMED)
      say(`${locale}: ${times - MOST_NAMED} more are left out for the same reason: ${why}`);
}

/** Writes finished sentences, a file for each language; reports what cannot be written. */
function sentenceFiles(
  workspace: Workspace,
  locales: readonly Locale[],
  only: readonly string[] | undefined,
  options: Options,
): Made[] {
  const { format, ascii } = options;
  const writer = writerOf(options);
  const { original } = workspace.config;
  const lined = format === 'json' || format === 'icu' ? undefined : TRANSLATION_FORMATS[format];
  const source = lined && makeSentences(workspace, original, writer, only).pack;
  return locales.map((locale) => {
    const made = makeSentences(workspace, locale, writer, only);
    sayLeftOut(made, locale, format === 'icu' ? 'cannot be worked out' : 'needs ICU');
    const text =
      lined && source
        ? lined.write({ original, locale, units: sentenceUnits(made.pack, source) }, { ascii })
        : `${JSON.stringify(made.pack, undefined, 1)}\n`;
    const file = format === 'icu' ? `${locale}.icu.json` : `${locale}.sentences.${format}`;
    return { file, text, ...(format === 'icu' ? {} : { note: share(made) }) };
  });
}

function filesOf(workspace: Workspace, options: Options): Made[] {
  const only = options.form === undefined ? undefined : formIds(workspace, options.form);
  const locales = localesOf(workspace, options.locale);
  if (options.testVectors)
    return [
      {
        file: 'vectors.json',
        text: `${JSON.stringify(makeVectors(workspace, locales, writerOf(options), only), undefined, 1)}\n`,
      },
    ];
  if (options.sentences) return sentenceFiles(workspace, locales, only, options);
  const write = options.module ? packModule : packText;
  return locales.flatMap((locale) => {
    const text = write(makePack(workspace, locale, only));
    return options.module
      ? [
          { file: `${locale}.mjs`, text },
          { file: `${locale}.d.mts`, text: packDeclarations({ locale }) },
        ]
      : [{ file: `${locale}.json`, text }];
  });
}

function pack(options: Options): void {
  const kinds = [options.module, options.sentences, options.testVectors].filter(Boolean);
  if (kinds.length > 1)
    throw complaint('wrong-use', [
      '--module, --sentences and --test-vectors write different files; name one of them',
    ]);
  const files = filesOf(openWorkspace(options), options).map((made) => ({
    ...made,
    file: path.join(options.out, made.file),
  }));
  if (options.check) {
    const stale = files.filter(({ file, text }) => !isCurrent(file, text));
    for (const { file } of stale) print(`${file} is out of date; run "zeitwort pack"`);
    if (stale.length > 0) process.exitCode = 1;
    else print(`${files.length} ${files.length === 1 ? 'file is' : 'files are'} up to date`);
    return;
  }
  for (const { file, text, note } of files) {
    writeWhole(file, text);
    print(
      `${file}  ${Math.ceil(Buffer.byteLength(text) / 1024)} KiB${note === undefined ? '' : `  ${note}`}`,
    );
  }
}

export function define(command: Command): void {
  withWorkspace(command)
    .option('--locale <tag>', 'this language only')
    .option('--out <folder>', 'the folder for the packs', 'packs')
    .option('--module', 'write ES modules, for bundlers')
    .option(
      '--sentences',
      'write finished sentences for each field and rule, for backends in other languages',
    )
    .addOption(
      new Option('--format <format>', 'with --sentences: the format of the files')
        .choices(['json', 'icu', 'properties', 'po', 'csv'])
        .default('json'),
    )
    .option(
      '--placeholder <template>',
      'with --sentences and --test-vectors: how slots are written, with NAME in it',
      PLACEHOLDER,
    )
    .option('--ascii', 'with --sentences --format properties: escape all that is not ASCII')
    .option(
      '--test-vectors',
      'write test vectors: the exact results that a reader in another language must have',
    )
    .option('--form <ids>', 'only what this form needs; several with commas: a,b')
    .option('--check', 'write nothing; exit with 1 where a file is out of date')
    .action(pack);
}
