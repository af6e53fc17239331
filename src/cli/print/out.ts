import { ended } from '../../core/text/sentence.js';
import { once } from 'node:events';
import colours from 'picocolors';

/**
 * A text as a terminal may have it: what it would take for orders is shown as a sign, but for colours and for line ends of HTTP. Texts of catalogs and
 * lines of files are printed, and either may come from anywhere.
 */
export const harmless = (text: string): string =>
  text.replace(/\u001b(?!\[[\d;]*m)|\r(?!\n)|[\u0000-\u0008\u000b\u000c\u000e-\u001a\u001c-\u001f\u007f-\u009f]/g, '\ufffd');

/** Writes to standard output as it is; on a terminal without what would give it orders. */
export function write(text: string): void {
  process.stdout.write(process.stdout.isTTY ? harmless(text) : text);
}

/** Writes to standard output; results only. */
export function print(text: string): void {
  write(text.endsWith('\n') ? text : `${text}\n`);
}

/** So much is written at once of what comes piece by piece. */
const CHUNK = 1 << 16;

/** Writes pieces as they come, without keeping them; waits while whoever reads is slower. */
export async function writeAll(pieces: Iterable<string>): Promise<void> {
  let chunk = '';
  for (const piece of pieces) {
    chunk += piece;
    if (chunk.length < CHUNK) continue;
    const text = chunk;
    chunk = '';
    if (!process.stdout.write(process.stdout.isTTY ? harmless(text) : text)) await once(process.stdout, 'drain');
  }
  write(chunk);
}

/** Each text as a line. */
export function* lines(texts: Iterable<string>): Generator<string> {
  for (const text of texts) yield text.endsWith('\n') ? text : `${text}\n`;
}

/** Says something on the way, on stderr: what is done before, or what is waited for. */
export function say(sentence: string): void {
  process.stderr.write(`zeitwort: ${ended(sentence)}\n`);
}

/** Writes JSON for programs, and for people who look at it. */
export function printJson(value: unknown): void {
  print(JSON.stringify(value, undefined, 2));
}

const asked = process.env.FORCE_COLOR !== undefined && process.env.FORCE_COLOR !== '0';
const plain = (process.env.NO_COLOR ?? '') !== '' || process.env.TERM === 'dumb';

/** Colours on a terminal; none in a pipe or where NO_COLOR asks for none. */
export const paint = colours.createColors(!plain && (asked || process.stdout.isTTY));

/** How many columns there are to write in. */
export function width(): number {
  const columns = process.stdout.isTTY ? process.stdout.columns : Number(process.env.COLUMNS);
  return Number.isInteger(columns) && columns >= 40 ? columns : 100;
}

/** `1 rule`, `2 rules`. */
export function counted(count: number, noun: string): string {
  return `${count} ${noun}${count === 1 ? '' : 's'}`;
}
