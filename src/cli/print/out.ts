import colours from 'picocolors';

/** Writes to standard output; results only. */
export function print(text: string): void {
  process.stdout.write(text.endsWith('\n') ? text : `${text}\n`);
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
