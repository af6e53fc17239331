import { Memo } from '../../core/base/memo.js';
import stringWidth from 'string-width';

export interface Column {
  readonly head: string;
  readonly align?: 'left' | 'right' | 'center';
}

const BETWEEN = '  ';

function padded(cell: string, columns: number, align: Column['align'] = 'left'): string {
  const free = Math.max(0, columns - widthOf(cell));
  const before = align === 'left' ? 0 : align === 'right' ? free : Math.ceil(free / 2);
  return ' '.repeat(before) + cell + ' '.repeat(free - before);
}

/** A table without lines, its columns as wide as they need to be; a cell may have several lines. */
export function table(columns: readonly Column[], rows: readonly (readonly string[])[]): string {
  const lines = [columns.map(({ head }) => head), ...rows].flatMap((row) => {
    const cells = row.map((cell) => cell.split('\n'));
    const height = cells.reduce((most, { length }) => Math.max(most, length), 1);
    return Array.from({ length: height }, (_, at) => cells.map((own) => own[at] ?? ''));
  });
  const widths = columns.map((_, at) =>
    lines.reduce((most, line) => Math.max(most, widthOf(line[at] ?? '')), 0),
  );
  return lines
    .map((line) =>
      columns
        .map(({ align }, at) => padded(line[at] ?? '', widths[at] ?? 0, align))
        .join(BETWEEN)
        .trimEnd(),
    )
    .join('\n');
}

const segmenters: { grapheme?: Intl.Segmenter; word?: Intl.Segmenter } = {};

/**
 * Splits a text into graphemes or words; the segmenter is made at first use, since a process's
 * first is slow.
 */
const segments = (text: string, granularity: 'grapheme' | 'word'): Intl.Segments =>
  (segmenters[granularity] ??= new Intl.Segmenter('und', { granularity })).segment(text);

/**
 * Letters and signs that stand alone, by how many columns they take; of all others the package
 * knows.
 */
const RANGES = [
  [0x20, 0x7e, 1],
  [0xa0, 0xac, 1],
  [0xae, 0x2ff, 1],
  [0x370, 0x482, 1],
  [0x48a, 0x52f, 1],
  [0x5d0, 0x5ea, 1],
  [0x620, 0x64a, 1],
  [0x3001, 0x3002, 2],
  [0x3041, 0x3096, 2],
  [0x30a1, 0x30fa, 2],
  [0x3400, 0x4dbf, 2],
  [0x4e00, 0x9fff, 2],
  [0xac00, 0xd7a3, 2],
] as const;
let columnsOf: Uint8Array | undefined;

function simpleColumns(): Uint8Array {
  if (columnsOf) return columnsOf;
  columnsOf = new Uint8Array(0x10000);
  for (const [first, last, columns] of RANGES) columnsOf.fill(columns, first, last + 1);
  return columnsOf;
}

/**
 * How many units of a text fit into so many columns; nothing where some of them do not stand alone.
 */
function fitting(
  text: string,
  columns: number,
): { readonly units: number; readonly used: number } | undefined {
  const known = simpleColumns();
  let used = 0;
  for (let at = 0; at < text.length; at++) {
    const own = known[text.charCodeAt(at)] ?? 0;
    if (own === 0) return undefined;
    if (used + own > columns) return { units: at, used };
    used += own;
  }
  return { units: text.length, used };
}

/** The widths of graphemes. There are some hundreds, and measuring one is slow. */
const measured = new Memo<number>();

const signWidth = (sign: string): number => measured.getOrMake(sign, () => stringWidth(sign));

/** How many columns a text takes. */
export function widthOf(text: string): number {
  const simple = fitting(text, Infinity);
  if (simple) return simple.used;
  // Orders to a terminal take no room, and only the package knows them.
  if (text.includes('\u001b')) return stringWidth(text);
  let columns = 0;
  for (const { segment } of segments(text, 'grapheme')) columns += signWidth(segment);
  return columns;
}

/** Cuts a text that is wider than so many columns, counting wide East Asian characters as two. */
export function cut(text: string, columns: number): string {
  const simple = fitting(text, columns);
  if (simple?.units === text.length) return text;
  if (simple) return `${text.slice(0, fitting(text, columns - 1)?.units).trimEnd()}…`;
  let out = '';
  let short = '';
  let used = 0;
  for (const { segment } of segments(text, 'grapheme')) {
    const own = signWidth(segment);
    if (used + own > columns) return `${short.trimEnd()}…`;
    used += own;
    out += segment;
    // The last column is for the sign that something was cut.
    if (used < columns) short = out;
  }
  return text;
}

const OPENING = /[([{<«“„「『（‘]$/u;

/** Scripts that have no spaces between words. */
const SPACELESS =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\p{Script=Lao}\p{Script=Khmer}\p{Script=Myanmar}]/u;

interface Unit {
  readonly segment: string;
  readonly isWordLike: boolean;
}

/**
 * What may stand on lines of its own: what spaces part, or words of scripts without spaces. A
 * bracket or quotation mark stays with what it opens.
 */
function* units(text: string): Generator<Unit> {
  let unit = '';
  let isWord = false;
  for (const { segment, isWordLike = false } of segments(text, 'word')) {
    const isSpace = /^\s/u.test(segment);
    const isApart =
      SPACELESS.test(unit.slice(-1)) || SPACELESS.test(segment) || /^\s/u.test(unit) || isSpace;
    if (unit !== '' && isApart && !OPENING.test(unit)) {
      yield { segment: unit, isWordLike: isWord };
      unit = '';
      isWord = false;
    }
    unit += segment;
    isWord ||= isWordLike || OPENING.test(segment);
  }
  if (unit !== '') yield { segment: unit, isWordLike: isWord };
}

/** Returns a unit, or its words where it is wider than a line. */
const fittingUnits = (unit: Unit, columns: number): Iterable<Unit> =>
  widthOf(unit.segment) <= columns
    ? [unit]
    : Array.from(segments(unit.segment, 'word'), ({ segment, isWordLike = false }) => ({
        segment,
        isWordLike,
      }));

/**
 * Breaks a text into lines of at most so many columns: between words as the script has them, inside
 * a word only where it is wider than a line. Closing punctuation stays with the word before it, one
 * sign past the end at the most.
 */
export function wrap(text: string, columns: number): string[] {
  if (fitting(text, columns)?.units === text.length) return [text.trim()];
  const lines: string[] = [];
  let line = '';
  let used = 0;
  const all = [...units(text)].flatMap((unit) => [...fittingUnits(unit, columns)]);
  for (const { segment, isWordLike } of all) {
    const clings = !isWordLike && !/^[\s([{«“„「『（]/u.test(segment);
    const own = widthOf(segment);
    if (
      used + widthOf(segment.trimEnd()) <= columns ||
      (clings && line !== '' && own < 2 && used <= columns)
    ) {
      const added = line === '' ? segment.trimStart() : segment;
      line += added;
      used += added === segment ? own : widthOf(added);
      continue;
    }
    lines.push(line.trimEnd());
    line = '';
    used = 0;
    for (const { segment: grapheme } of segments(segment.trimStart(), 'grapheme')) {
      const wide = widthOf(grapheme);
      if (used + wide > columns) {
        lines.push(line);
        line = '';
        used = 0;
      }
      line += grapheme;
      used += wide;
    }
  }
  return [...lines, line.trimEnd()].filter((one, at) => one !== '' || at === 0);
}
