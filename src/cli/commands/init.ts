import { existsSync } from 'node:fs';
import path from 'node:path';
import { createInterface } from 'node:readline';
import type { Command } from 'commander';
import { streams } from '../../exchange/streams.js';
import { LocaleError, parseLocale, type Locale } from '../../core/locale/tag.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { copyShipped } from '../../workspace/disk/copy.js';
import { progressBar } from '../print/progress.js';
import { counted, print } from '../print/out.js';

interface Options {
  readonly from?: readonly string[];
  readonly locales?: string;
  readonly yes?: boolean;
  readonly house?: boolean;
}

/** The usual names of a project's API document. */
const LIKELY = ['openapi', 'api/openapi', 'docs/openapi'].flatMap((name) =>
  ['yaml', 'yml', 'json'].map((end) => `${name}.${end}`),
);

function localesIn(text: string): [Locale, ...Locale[]] {
  try {
    const [original, ...others] = text
      .split(/[\s,]+/)
      .filter((tag) => tag !== '')
      .map(parseLocale);
    if (original === undefined)
      throw complaint('wrong-use', ['--locales takes tags, the original first, such as en,de,pl']);
    return [original, ...new Set(others.filter((one) => one !== original))];
  } catch (error) {
    throw error instanceof LocaleError ? complaint('wrong-tag', [error.message]) : error;
  }
}

/** Asks on a terminal for what was not named. */
async function asked({ from, locales }: Options): Promise<Options> {
  const terminal = createInterface({ input: streams().input(), output: streams().stdout });
  // Lines that come early wait, so that answers may be pasted.
  const lines = terminal[Symbol.asyncIterator]();
  const ask = async (question: string, otherwise: string): Promise<string> => {
    terminal.setPrompt(`${question}${otherwise === '' ? '' : ` [${otherwise}]`}: `);
    terminal.prompt();
    const line = (await lines.next()) as IteratorResult<string, undefined>;
    if (line.done)
      throw complaint('wrong-use', [
        'nobody answered, so nothing was started; name --from and --locales',
      ]);
    return line.value.trim() === '' ? otherwise : line.value.trim();
  };
  try {
    const likely = LIKELY.find((file) => existsSync(file)) ?? '';
    const source =
      from?.join(', ') ??
      (await ask(
        'A document of OpenAPI, a schema, a module or a folder with rules; empty for a small example',
        likely,
      ));
    if (source === '') return {};
    return {
      from: from ?? [source],
      locales: locales ?? (await ask('Languages, the original first', 'en')),
    };
  } finally {
    terminal.close();
  }
}

/** Starts the texts of a house, as a package. */
function initHouse(folder: string, { from, locales }: Options, into: string, there: string): void {
  if (from !== undefined || locales !== undefined)
    throw complaint('wrong-use', [
      '--house begins with texts alone: leave out --from and --locales',
    ]);
  const names = copyShipped('house', folder);
  print(
    `Started the texts of a house${into}:\n${names.map((name) => `  ${name}`).join('\n')}\n\nA service names it in its zeitwort.yaml, as "house: ./${path.basename(path.resolve(folder))}", or as a package once it is published.\nNow try: zeitwort check${there}`,
  );
}

async function init(folder: string, options: Options): Promise<void> {
  const isComplete =
    options.house === true || (options.from !== undefined && options.locales !== undefined);
  const asks = !options.yes && !isComplete && streams().isTyped && streams().stdout.isTTY;
  const { from, locales } = asks ? await asked(options) : options;
  const into = folder === '.' ? '' : ` in ${folder}`;
  const there = folder === '.' ? '' : ` --workspace ${folder}`;
  if (options.house) {
    initHouse(folder, options, into, there);
    return;
  }
  const [first, ...more] = from ?? [];
  if (first === undefined) {
    if (locales !== undefined)
      throw complaint('wrong-use', ['--locales goes with --from: the small example has its own']);
    const names = copyShipped('small', folder);
    print(
      `Started a workspace${into}:\n${names.map((name) => `  ${name}`).join('\n')}\n\nNow try: zeitwort check${there}`,
    );
    return;
  }
  const { startFrom } = await import('../../workspace/starting/starting.js');
  const progress = await progressBar('fields');
  const wishes = { folder, from: [first, ...more] as const, locales: localesIn(locales ?? 'en') };
  const started = await startFrom(wishes, progress.show).finally(progress.end);
  print(`Started a workspace${into}:\n${started.files.map((name) => `  ${name}`).join('\n')}`);
  print(
    `\n${counted(started.forms, 'form')} with ${counted(started.fields, 'field')}; ${counted(started.labels, 'label')} drafted from names: read them before clients do.`,
  );
  const [passed] = started.passedOver;
  if (passed)
    print(
      `Fields of ${started.passedOver.length === 1 ? 'one body' : `${started.passedOver.length} bodies`} are not read, since these are neither JSON nor forms, such as that of ${passed.request} (${passed.types.join(', ')}).`,
    );
  print(
    `\nNow try: zeitwort check${there}\nIn a team, so that git merges catalogs text by text: zeitwort merge --install${there}`,
  );
}

export function define(command: Command): void {
  command
    .argument('[folder]', 'the folder; created where it is missing', '.')
    .option(
      '--from <path>',
      'start around existing rules: an OpenAPI document, a schema, a module, a folder of these (repeatable)',
      (one: string, before: readonly string[] | undefined) => [...(before ?? []), one],
    )
    .option(
      '--locales <tags>',
      'with --from: the languages, the original first, such as en,de,pl (default: en)',
    )
    .option(
      '--house',
      'start a folder of texts and terms that several workspaces share, without rules',
    )
    .option('--yes', 'ask nothing on a terminal')
    .action(init);
}
