import { Option, type Command } from 'commander';
import type { Locale } from '../../core/locale/tag.js';
import { parsePattern } from '../../core/path/path.js';
import { isCoveredBy } from '../../core/path/cover.js';
import { addressText } from '../../workspace/reading/address.js';
import { Edits } from '../../workspace/editing/edits.js';
import { TRANSLATION_STATES as STATES } from '../../core/texts/state.js';
import { translationsOf, type Translation } from '../../workspace/editing/reviewing.js';
import { TextEditor } from '../../workspace/editing/texts.js';
import type { ReviewState } from '../../workspace/reading/review-file.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { finish, openToEdit, withDryRun, type DryRunOptions } from '../shared/editing.js';
import {
  formatOption,
  localesOf,
  openWorkspace,
  withWorkspace,
  type WorkspaceOptions,
} from '../shared/options.js';
import { counted, paint, print, printJson, width } from '../print/out.js';
import { table, wrap } from '../print/table.js';

interface Options extends WorkspaceOptions, DryRunOptions {
  readonly locale?: string;
  readonly form?: string;
  readonly field?: string;
  readonly state?: ReviewState;
  readonly stale?: boolean;
  readonly mark?: ReviewState;
  readonly format: 'text' | 'json';
}

/** The translations that the filters of a command line mean. */
function meant(all: readonly Translation[], workspace: Workspace, options: Options): Translation[] {
  const locales = localesOf(workspace, options.locale);
  const field = options.field === undefined ? undefined : parsePattern(options.field);
  const form = options.form === undefined ? undefined : workspace.formsNamed(options.form);
  return all.filter(
    ({ locale, address, state, stale }) =>
      locales.includes(locale) &&
      (form === undefined || address.form === form) &&
      (field === undefined ||
        (address.path !== undefined && isCoveredBy(field, parsePattern(address.path)))) &&
      (options.state === undefined || state === options.state) &&
      (!options.stale || stale),
  );
}

function counts(translations: readonly Translation[], locales: readonly Locale[]): string {
  const rows = locales.map((locale) => {
    const own = translations.filter((one) => one.locale === locale);
    return [
      locale,
      ...STATES.map((state) => String(own.filter((one) => one.state === state).length)),
      String(own.filter(({ stale }) => stale).length),
    ];
  });
  const columns = [
    { head: paint.dim('locale') },
    ...[...STATES, 'stale'].map((head) => ({ head: paint.dim(head), align: 'right' as const })),
  ];
  return table(columns, rows);
}

/** One translation for people: what it is, its text, and both originals where they differ. */
function lines({
  address,
  locale,
  state,
  stale,
  text,
  original: source,
  before,
  remark,
}: Translation): string {
  const room = width() - 14;
  const line = (name: string, said: string): string =>
    `  ${paint.dim(name.padEnd(10))}  ${wrap(said, room).join(`\n${' '.repeat(14)}`)}`;
  return [
    `${paint.bold(addressText(address))}  ${locale}  ${state}${stale ? `, ${paint.yellow('stale')}` : ''}`,
    ...(before === undefined ? [] : [line('was', before)]),
    line(before === undefined ? 'original' : 'is now', source),
    line('text', text),
    ...(remark === undefined ? [] : [line('translator', remark)]),
  ].join('\n');
}

async function mark(
  workspace: Workspace,
  translations: readonly Translation[],
  state: ReviewState,
  options: Options,
): Promise<void> {
  const edits = new Edits(workspace);
  const editor = new TextEditor(workspace, edits);
  const what = translations.some(({ locale }) => locale === workspace.config.original)
    ? 'text'
    : 'translation';
  for (const { file, address, text, original: source } of translations)
    editor.mark(file, address, state, text, source);
  await finish(edits, options, `Marked ${counted(translations.length, what)} as ${state}`);
}

async function review(options: Options): Promise<void> {
  const workspace = options.mark === undefined ? openWorkspace(options) : openToEdit(options);
  const all = translationsOf(workspace);
  const translations = meant(all, workspace, options);
  if (options.mark !== undefined) {
    await mark(workspace, translations, options.mark, options);
    return;
  }
  const filtered = [options.form, options.field, options.state, options.stale].some(
    (one) => one !== undefined,
  );
  if (options.format === 'json') {
    printJson(
      translations.map(
        ({ address, locale, file, text, original, before, state, stale, note, remark, room }) => ({
          ...address,
          locale,
          file,
          text,
          original,
          before,
          state,
          stale,
          note,
          remark,
          room,
        }),
      ),
    );
    return;
  }
  const listed = filtered || options.locale !== undefined ? translations.map(lines) : [];
  const isListed = (locale: Locale): boolean =>
    locale !== workspace.config.original || all.some((one) => one.locale === locale);
  const locales = localesOf(workspace, options.locale).filter(isListed);
  print([...listed, ...(listed.length > 0 ? [''] : []), counts(all, locales)].join('\n'));
}

export function define(command: Command): void {
  const state = (flags: string, about: string): Option => new Option(flags, about).choices(STATES);
  withDryRun(withWorkspace(command))
    .option('--locale <tag>', 'only translations into this language')
    .option('--form <ids>', 'only texts of this form alone; several with commas: a,b')
    .option('--field <path>', 'only texts of the fields that this path or pattern covers')
    .addOption(state('--state <state>', 'in this state'))
    .option('--stale', 'only translations whose original has changed since')
    .addOption(
      state(
        '--mark <state>',
        'set this state for all selected texts, together with their present original',
      ),
    )
    .addOption(formatOption())
    .addHelpText(
      'after',
      '\nWithout options it prints counts. States are kept beside each catalog, in FILE.review.jsonl.',
    )
    .action(review);
}
