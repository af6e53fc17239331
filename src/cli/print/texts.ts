import { isInflection } from '../../core/texts/purpose.js';
import type { OverviewRow } from '../../core/texts/overview.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Read } from '../../workspace/reading/read-in.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { counted, paint, width } from './out.js';
import { cut, table, widthOf, wrap, type Column } from './table.js';

/**
 * Returns the name of a row: `magnitude > label, accusative`, `required`, `problem not-found
 * title`.
 */
function nameOf({ kind, key, path, form }: OverviewRow): string {
  const what = {
    message: key,
    inline: `${key}, beside the input`,
    word: `word ${key}`,
    frame: `frame ${key}`,
    label: key === '' ? 'label' : `label, ${key}`,
    choice: `choice ${key}`,
    problem: `problem ${key}`,
  }[kind];
  const place = path === undefined ? '' : `${path || 'the body'}: `;
  return `${place}${what}${form === undefined ? '' : ` (${form})`}`;
}

/** A text with what clients read there, by locale. */
export interface ShownRow extends OverviewRow {
  readonly read: ReadonlyMap<Locale, Read>;
}

const DRAFT = '(draft)';

/** Returns the cell of a locale without a text of its own. */
function lacking(row: ShownRow, locale: Locale): string {
  // Grammatical forms are each language's own, so one that is not there is not lacking.
  if (isInflection(row)) return paint.dim('·');
  const read = row.read.get(locale);
  switch (read?.coverage) {
    case 'written':
      return paint.dim('(a wider text)');
    case 'house':
      return paint.dim('(house)');
    case 'starter':
      return paint.dim('(starter)');
    case 'fallback':
      return paint.red(`(reads ${read.locale ?? ''})`);
    default:
      return paint.red('–');
  }
}

/** The lines of a cell. */
function cell(row: ShownRow, locale: Locale, room: number): string[] {
  const text = row.texts.get(locale)?.text;
  if (text === undefined) return [lacking(row, locale)];
  return row.read.get(locale)?.coverage === 'draft'
    ? wrap(`${text} ${DRAFT}`, room).map((line) => paint.dim(line))
    : wrap(text, room);
}

/**
 * Below this a column breaks nearly every word, and the languages are put one below the other
 * instead.
 */
const NARROWEST = 22;
const GAP = 2;

function sideBySide(
  rows: readonly ShownRow[],
  locales: readonly Locale[],
  names: number,
  column: number,
): string {
  const columns: Column[] = [
    { head: paint.dim('text') },
    ...locales.map((locale): Column => ({ head: paint.dim(locale) })),
  ];
  return table(
    columns,
    rows.map((row) => [
      paint.bold(wrap(nameOf(row), names).join('\n')),
      ...locales.map((locale) => cell(row, locale, column).join('\n')),
    ]),
  );
}

function stacked(rows: readonly ShownRow[], locales: readonly Locale[]): string {
  const tags = Math.max(...locales.map((locale) => locale.length));
  const room = width() - tags - GAP - 2;
  return rows
    .map((row) => {
      const lines = locales.flatMap((locale) => {
        const [first = '', ...more] = cell(row, locale, room);
        return [
          `  ${paint.dim(locale.padEnd(tags))}  ${first}`,
          ...more.map((line) => ' '.repeat(tags + GAP + 2) + line),
        ];
      });
      return [paint.bold(cut(nameOf(row), width())), ...lines].join('\n');
    })
    .join('\n');
}

/**
 * The catalogs as a table: texts down, languages across where there is room, else one below the
 * other.
 */
export function textsTable(rows: readonly ShownRow[], locales: readonly Locale[]): string {
  if (rows.length === 0) return 'No texts.';
  const names = Math.min(30, Math.max(...rows.map((row) => widthOf(nameOf(row)))));
  const column = Math.floor((width() - names) / locales.length) - GAP;
  const body =
    column >= NARROWEST ? sideBySide(rows, locales, names, column) : stacked(rows, locales);
  return `${body}\n\n${counted(rows.length, 'text')} in ${counted(locales.length, 'locale')}`;
}

/** Returns the texts as JSON. */
export function textsJson(
  rows: readonly ShownRow[],
  locales: readonly Locale[],
  workspace: Workspace,
): object {
  return {
    texts: rows.map(({ kind, form, path, key, texts, read }) => ({
      kind,
      form,
      path,
      key,
      locales: Object.fromEntries(
        locales.map((locale) => {
          const entry = texts.get(locale);
          const { coverage, locale: reads } = read.get(locale) ?? {};
          return [
            locale,
            {
              coverage,
              ...(coverage === 'fallback' ? { reads } : {}),
              ...(entry && {
                text: entry.text,
                ...workspace.place({ ...entry.origin, at: 'value' }),
              }),
            },
          ];
        }),
      ),
    })),
  };
}
