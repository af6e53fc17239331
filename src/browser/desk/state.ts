import type { DeskData, DeskText } from '../../core/desk/data.js';
import { Desk } from '../../core/desk/desk.js';
import { lineOf, type Line } from '../../core/desk/parts.js';
import type { DeskWord, DeskWords } from '../../core/desk/words.js';
import type { Locale } from '../../core/locale/tag.js';
import { compileTree } from '../../core/message/compile.js';
import { readMessage } from '../../core/message/parse.js';
import { element } from './dom.js';
import { Work } from './work.js';

const read = (id: string): unknown => JSON.parse(element(id).textContent) as unknown;
export const data = read('data') as DeskData;
/** By language, what the page itself says. */
export const spoken = read('words') as readonly {
  readonly tag: Locale;
  readonly words: DeskWords;
}[];

export const desk = new Desk(data);
export const work = new Work(data);
/** The keys of texts that have something against them. */
export const warned = new Set<string>();
let tongue = spoken[0];

/** The language that the page itself speaks. */
export const tongueNow = (): Locale => tongue?.tag ?? data.original;

/** Lets the page speak another one of its languages. */
export function speakIn(tag: string): void {
  tongue = spoken.find((one) => one.tag === tag) ?? tongue;
}

/** Returns a text of the page itself. */
export function say(word: DeskWord, args: Readonly<Record<string, unknown>> = {}): string {
  if (!tongue) return word;
  return compileTree(readMessage(tongue.words[word]), tongue.tag, { isolate: true })(args);
}

export const numberSaid = (number: number): string =>
  new Intl.NumberFormat(tongueNow()).format(number);

/** Whether a text is to do: nobody typed it, or it has findings or would be refused. */
export const isToDo = (text: DeskText): boolean =>
  work.progressOf(text) !== 'ready' || (warned.has(text.key) && work.of(text.key) !== undefined);

/** Returns the inflection of a label that a text is; nothing for the label itself. */
export const inflectionOf = ({ isInflection, address: { key } }: DeskText): string =>
  isInflection ? ` · ${key}` : '';

/** A text as words and chips; what is not a message is words. */
export function lineOfText(text: string, locale: Locale): Line {
  try {
    return lineOf(readMessage(text), locale);
  } catch {
    return [text];
  }
}
