import Table from 'cli-table3';
import stringWidth from 'string-width';

const NO_LINES = {
  ...{
    top: '',
    'top-mid': '',
    'top-left': '',
    'top-right': '',
    bottom: '',
    'bottom-mid': '',
    'bottom-left': '',
    'bottom-right': '',
  },
  ...{ left: '', 'left-mid': '', mid: '', 'mid-mid': '', right: '', 'right-mid': '', middle: '  ' },
};

export interface Column {
  readonly head: string;
  readonly align?: 'left' | 'right' | 'center';
}

/** A table without lines, its columns as wide as they need to be. */
export function table(columns: readonly Column[], rows: readonly (readonly string[])[]): string {
  const out = new Table({
    head: columns.map(({ head }) => head),
    colAligns: columns.map(({ align }) => align ?? 'left'),
    chars: NO_LINES,
    style: { head: [], border: [], 'padding-left': 0, 'padding-right': 0, compact: true },
  });
  out.push(...rows.map((row) => [...row]));
  return out
    .toString()
    .split('\n')
    .map((line) => line.trimEnd())
    .join('\n');
}

const graphemes = new Intl.Segmenter('und', { granularity: 'grapheme' });
const words = new Intl.Segmenter('und', { granularity: 'word' });

/** Cuts a text that is wider than so many columns, counting wide East Asian characters as two. */
export function cut(text: string, columns: number): string {
  if (stringWidth(text) <= columns) return text;
  let out = '';
  let used = 1;
  for (const { segment } of graphemes.segment(text)) {
    used += stringWidth(segment);
    if (used > columns) break;
    out += segment;
  }
  return `${out.trimEnd()}…`;
}

/**
 * Breaks a text into lines of at most so many columns: between words as the script has them, inside a word only where it
 * is wider than a line. Closing punctuation stays with the word before it.
 */
export function wrap(text: string, columns: number): string[] {
  const lines: string[] = [];
  let line = '';
  for (const { segment, isWordLike } of words.segment(text)) {
    const clings = !isWordLike && !/^[\s([{«“„「『（]/u.test(segment);
    if (stringWidth(line + segment.trimEnd()) <= columns || (clings && line !== '' && stringWidth(segment) < 2)) {
      line += line === '' ? segment.trimStart() : segment;
      continue;
    }
    lines.push(line.trimEnd());
    line = '';
    for (const { segment: grapheme } of graphemes.segment(segment.trimStart())) {
      if (stringWidth(line + grapheme) > columns) {
        lines.push(line);
        line = '';
      }
      line += grapheme;
    }
  }
  return [...lines, line.trimEnd()].filter((one, at) => one !== '' || at === 0);
}
