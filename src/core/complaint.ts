import { cleaned } from './text/value.js';

/** A place in a file; line and column count from 1, columns in UTF-16 units. */
export interface FileLocation {
  readonly file: string;
  readonly line?: number;
  readonly column?: number;
}

const placed = ({ file, line, column }: FileLocation): string =>
  [file, line, column].filter((part) => part !== undefined).join(':');

/** Bad input, in one sentence: what, where, what to do. The program ends with exit code 2. */
export class Complaint extends Error {
  override name = 'Complaint';
  constructor(
    readonly reason: string,
    readonly sentence: string,
    readonly location?: FileLocation,
  ) {
    super(location ? `${oneLine(placed(location))}: ${sentence}` : sentence);
  }
}

/** The longest sentence that is said. */
const LONGEST = 600;
const LONGEST_WORD = 200;

/** Returns a text from anywhere as one line, without terminal control characters. */
export function oneLine(text: string): string {
  const words = cleaned(text.slice(0, 100 * LONGEST)).replace(
    /\S{200,}/g,
    (word) => `${word.slice(0, LONGEST_WORD)}…`,
  );
  return words.length > LONGEST ? `${words.slice(0, LONGEST)}…` : words;
}
