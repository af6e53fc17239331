import type { Spot } from '../core/origin.js';
import { afterString } from '../workspace/documents/json-literal.js';
import type { Extent } from './positions.js';

const WORD = /[\p{L}\p{N}\p{M}_]+|<[^<>"\n]*>|&\w+;/uy;

/** Where an argument ends that begins at a brace: behind its closing brace, or with the text. */
function afterArgument(text: string, open: number, end: number): number {
  let depth = 0;
  for (let at = open; at < end; at++) {
    if (text[at] === '{') depth++;
    else if (text[at] === '}' && --depth === 0) return at + 1;
  }
  return end;
}

/** Where a key or a plain value ends that begins there. */
function afterToken(text: string, from: number, isKey: boolean): number {
  const first = text[from];
  if (first === '"') return afterString(text, from);
  if (first === "'")
    return (/(?:[^']|'')*'/y.exec(text.slice(from + 1))?.[0].length ?? 0) + from + 1;
  // An object or a list is long, so the range is its first line.
  if (first === '{' || first === '[') return from + 1;
  const rest = text.slice(from, from + 1000).split(/[\r\n]/, 1)[0] ?? '';
  const [token = ''] = (isKey ? /^[^:,{}[\]]+/ : /^(?:[^,:#{}[\]]|[:,](?=\S))+/).exec(rest) ?? [];
  return from + Math.max(1, token.trimEnd().length);
}

/**
 * The part of a file that a spot is about: a key, a value, or within a text the argument or word
 * that is meant.
 * @param from where the spot begins
 */
export function extentOf(
  text: string,
  from: number,
  { at, offset }: Pick<Spot, 'at' | 'offset'>,
): Extent {
  if (from >= text.length) return { from: text.length, to: text.length };
  if (at === 'key' || offset === undefined || offset === 0) {
    const isText = at === 'value' && offset === 0 && text[from] !== '"' && text[from - 1] === '"';
    // The first character of a text is meant, and so all of it.
    return isText
      ? { from, to: Math.max(from + 1, afterString(text, from - 1) - 1) }
      : { from, to: afterToken(text, from, at === 'key') };
  }
  const end = text.indexOf('\n', from) < 0 ? text.length : text.indexOf('\n', from);
  if (text[from] === '{') return { from, to: afterArgument(text, from, end) };
  WORD.lastIndex = from;
  const word = WORD.exec(text);
  return { from, to: from + Math.max(1, word?.[0].length ?? 1) };
}
