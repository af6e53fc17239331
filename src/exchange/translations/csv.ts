import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import { toldTerm } from '../../core/texts/terms.js';
import { delimiterOf } from '../delimiter.js';
import {
  stateWord,
  TranslationFileError,
  type ReadUnits,
  type TranslationFormat,
  type UnitFile,
  type WriteOptions,
} from './unit.js';

const COLUMNS = [
  'key',
  'source',
  'target',
  'state',
  'before',
  'note',
  'room',
  'about',
  'terms',
  'exported',
] as const;

/**
 * A spreadsheet takes a cell that begins like this for a formula, and would run it: with a sign of
 * its own or the full-width one, at once or behind blanks and line breaks. An apostrophe before it
 * makes it text; cells that begin with one get another, so that reading takes back just what was
 * added.
 */
const RISKY = /^(?:[\s\p{Cc}]*[=+\-@\uff1d\uff0b\uff0d\uff20]|['\t\r\n])/u;
const safe = (cell: string): string => (RISKY.test(cell) ? `'${cell}` : cell);
const plain = (cell: string): string => (cell.startsWith("'") ? cell.slice(1) : cell);

function write({ units }: UnitFile, { delimiter = ',', bom = false }: WriteOptions): string {
  const rows = units.map((unit) =>
    [
      unit.key,
      unit.source,
      unit.target ?? '',
      stateWord(unit),
      unit.before ?? '',
      unit.note ?? '',
      unit.room === undefined ? '' : String(unit.room),
      unit.about ?? '',
      (unit.terms ?? []).map(toldTerm).join('; '),
      unit.exported ?? '',
    ].map(safe),
  );
  return stringify([[...COLUMNS], ...rows], {
    delimiter,
    bom,
    record_delimiter: '\r\n',
    quoted_match: /[\r\n,;\t]|^\s|\s$/,
  });
}

function read(text: string, { delimiter }: Pick<WriteOptions, 'delimiter'>): ReadUnits {
  let rows: Record<string, string>[];
  let columns: string[] = [];
  try {
    rows = parse(text, {
      bom: true,
      delimiter: delimiter ?? delimiterOf(text),
      skip_empty_lines: true,
      // A row may end before the columns that somebody did not fill.
      relax_column_count_less: true,
      columns: (head: string[]) => (columns = head.map((name) => name.trim().toLowerCase())),
    });
  } catch (error) {
    const { message, lines } = error as Error & { lines?: number };
    throw new TranslationFileError(
      `this is not CSV: ${message}`,
      lines,
      lines === undefined ? undefined : 1,
    );
  }
  for (const wanted of ['key', 'target'])
    if (!columns.includes(wanted))
      throw new TranslationFileError(
        `there is no column "${wanted}"; the columns are ${columns.join(', ') || 'none'}`,
        1,
        1,
      );
  const units = rows.map((row) => {
    const cell = (name: string): string | undefined =>
      row[name] === undefined ? undefined : plain(row[name]);
    const target = cell('target');
    const state = cell('state')?.trim();
    return {
      key: cell('key') ?? '',
      source: cell('source'),
      target,
      state,
      note: cell('note'),
      exported: cell('exported')?.trim(),
    };
  });
  return { units };
}

export const csv: TranslationFormat = { extension: 'csv', write, read };
