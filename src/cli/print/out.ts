import { ended } from '../../core/text/sentence.js';
import { forLog, forTerminal } from '../../core/text/media.js';
import { once } from 'node:events';
import colours from 'picocolors';

const asked = process.env.FORCE_COLOR !== undefined && process.env.FORCE_COLOR !== '0';
const plain = (process.env.NO_COLOR ?? '') !== '' || process.env.TERM === 'dumb';
const hasColours = !plain && (asked || process.stdout.isTTY);

/** Colours on a terminal; none in a pipe or where NO_COLOR asks for none. */
export const paint = colours.createColors(hasColours);

/** The orders that `paint` gives: bold, dim, red, green, yellow, cyan, and their ends. */
const COLOURS = /\u001b\[(?:1|2|22|31|32|33|36|39)m/g;

/**
 * Text for people, on a terminal or in a log. Texts of catalogs, names and lines of files are in it, and may come from anywhere:
 * what a terminal takes for orders is shown as a sign, and what a runner of CI would obey is none.
 */
function forPeople(text: string, isTerminal: boolean): string {
  const shown = forTerminal(text, hasColours ? COLOURS : undefined);
  return isTerminal ? shown : forLog(shown);
}

/** Text for programs, to the letter; on a terminal without what would give it orders. */
const exact = (text: string): string => (process.stdout.isTTY ? forTerminal(text, COLOURS) : text);

/** Writes to standard output to the letter, for programs. */
export function write(text: string): void {
  process.stdout.write(exact(text));
}

/** The same with an end of line. */
export function printExact(text: string): void {
  write(text.endsWith('\n') ? text : `${text}\n`);
}

/** Writes to standard output for people. */
export function print(text: string): void {
  process.stdout.write(forPeople(text.endsWith('\n') ? text : `${text}\n`, process.stdout.isTTY));
}

/** So much is written at once of what comes piece by piece. */
const CHUNK = 1 << 16;

/** Writes pieces as they come, without keeping them; waits while whoever reads is slower. */
export async function writeAll(pieces: Iterable<string>, way: 'exact' | 'people' = 'exact'): Promise<void> {
  let chunk = '';
  const shown = way === 'people' ? (text: string): string => forPeople(text, process.stdout.isTTY) : exact;
  for (const piece of pieces) {
    chunk += piece;
    if (chunk.length < CHUNK) continue;
    const text = chunk;
    chunk = '';
    if (!process.stdout.write(shown(text))) await once(process.stdout, 'drain');
  }
  process.stdout.write(shown(chunk));
}

/** Each text as a line. */
export function* lines(texts: Iterable<string>): Generator<string> {
  for (const text of texts) yield text.endsWith('\n') ? text : `${text}\n`;
}

/** Says something on stderr, in a sentence. */
export function say(sentence: string): void {
  process.stderr.write(forPeople(`zeitwort: ${ended(sentence)}\n`, process.stderr.isTTY));
}

/** Writes JSON for programs, and for people who look at it. */
export function printJson(value: unknown): void {
  printExact(JSON.stringify(value, undefined, 2));
}

/** How many columns there are to write in. */
export function width(): number {
  const columns = process.stdout.isTTY ? process.stdout.columns : Number(process.env.COLUMNS);
  return Number.isInteger(columns) && columns >= 40 ? columns : 100;
}

/** `1 rule`, `2 rules`. */
export function counted(count: number, noun: string): string {
  return `${count} ${noun}${count === 1 ? '' : 's'}`;
}
