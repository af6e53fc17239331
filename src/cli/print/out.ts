import { streams, type Output, type Streams } from '../../exchange/streams.js';
import { ended } from '../../core/text/sentence.js';
import { forLog, forTerminal } from '../../core/text/media.js';
import { once } from 'node:events';
import colours from 'picocolors';

const isTerminal = (): boolean => streams().stdout.isTTY === true;

/** Whether the run at hand writes colours: on a terminal, unless NO_COLOR asks for none. */
function hasColours(): boolean {
  const { FORCE_COLOR, NO_COLOR, TERM } = process.env;
  const isAsked = FORCE_COLOR !== undefined && FORCE_COLOR !== '0';
  const isPlain = (NO_COLOR ?? '') !== '' || TERM === 'dumb';
  return !isPlain && (isAsked || isTerminal());
}

let known: { readonly of: Streams; readonly has: boolean } | undefined;
const isColoured = (): boolean => {
  const of = streams();
  if (known?.of !== of) known = { of, has: hasColours() };
  return known.has;
};

const COLOURED = colours.createColors(true);
const painter =
  (colour: 'bold' | 'cyan' | 'dim' | 'green' | 'red' | 'yellow') =>
  (text: string): string =>
    isColoured() ? COLOURED[colour](text) : text;

/** Colours where the run at hand writes them. */
export const paint = {
  bold: painter('bold'),
  cyan: painter('cyan'),
  dim: painter('dim'),
  green: painter('green'),
  red: painter('red'),
  yellow: painter('yellow'),
};

/** The orders that `paint` gives: bold, dim, red, green, yellow, cyan, and their ends. */
const COLOURS = /\u001b\[(?:1|2|22|31|32|33|36|39)m/g;

/**
 * Text for people, on a terminal or in a log. Texts of catalogs, names and lines of files are in
 * it, and may come from anywhere: what a terminal takes for orders is shown as a sign, and what a
 * runner of CI would obey is none.
 */
function forPeople(text: string, { isTTY }: Output): string {
  const shown = forTerminal(text, isColoured() ? COLOURS : undefined);
  return isTTY === true ? shown : forLog(shown);
}

/** Text for programs, to the letter; on a terminal without what would give it orders. */
const exact = (text: string): string => (isTerminal() ? forTerminal(text, COLOURS) : text);

/** Writes to standard output to the letter, for programs. */
export function write(text: string): void {
  streams().stdout.write(exact(text));
}

/** Prints a text with an end of line. */
export function printExact(text: string): void {
  write(text.endsWith('\n') ? text : `${text}\n`);
}

/** Writes to standard output for people. */
export function print(text: string): void {
  const { stdout } = streams();
  stdout.write(forPeople(text.endsWith('\n') ? text : `${text}\n`, stdout));
}

/** So much is written at once of what comes piece by piece. */
const CHUNK = 1 << 16;

/** Writes pieces as they come, without keeping them; waits while whoever reads is slower. */
export async function writeAll(
  pieces: Iterable<string>,
  way: 'exact' | 'people' = 'exact',
): Promise<void> {
  let chunk = '';
  const { stdout } = streams();
  const shown = way === 'people' ? (text: string): string => forPeople(text, stdout) : exact;
  for (const piece of pieces) {
    chunk += piece;
    if (chunk.length < CHUNK) continue;
    const text = chunk;
    chunk = '';
    if (!stdout.write(shown(text))) await once(stdout, 'drain');
  }
  stdout.write(shown(chunk));
}

/** Each text as a line. */
export function* lines(texts: Iterable<string>): Generator<string> {
  for (const text of texts) yield text.endsWith('\n') ? text : `${text}\n`;
}

/** Says something on stderr, in a sentence. */
export function say(sentence: string): void {
  const { stderr } = streams();
  stderr.write(forPeople(`zeitwort: ${ended(sentence)}\n`, stderr));
}

/** Writes JSON for programs, and for people who look at it. */
export function printJson(value: unknown): void {
  printExact(JSON.stringify(value, undefined, 2));
}

/** How many columns there are to write in. */
export function width(): number {
  const { isTTY, columns } = streams().stdout;
  const wide = isTTY ? (columns ?? 0) : Number(process.env.COLUMNS);
  return Number.isInteger(wide) && wide >= 40 ? wide : 100;
}

/** `1 rule`, `2 rules`. */
export function counted(count: number, noun: string): string {
  return `${count} ${noun}${count === 1 ? '' : 's'}`;
}
