import type { Path } from '../path/path.js';

/** Replaces a value that must not be shown. */
export const MASK = '•••';

// Control characters, and those that turn the direction of what follows (UAX 9): neither has a
// place inside a sentence.
const BREAKS = /[\t\n\v\f\r\u0085\u2028\u2029]+/g;
const UNWANTED = /[\p{Cc}\u061C\u200E\u200F\u202A-\u202E\u2066-\u2069]/gu;
const PLAIN = /^[\x20-\x7e]*$/;

let segmenter: Intl.Segmenter | undefined;

/**
 * At most so many graphemes (what a reader takes for one character), with an ellipsis where
 * something was cut.
 */
export function shortened(text: string, limit: number): string {
  if (text.length <= limit) return text;
  if (PLAIN.test(text)) return `${text.slice(0, limit - 1).trimEnd()}…`;
  segmenter ??= new Intl.Segmenter('und', { granularity: 'grapheme' });
  let count = 0;
  let end = 0;
  for (const { index, segment } of segmenter.segment(text)) {
    count += 1;
    if (count > limit) return `${text.slice(0, end).trimEnd()}…`;
    if (count < limit) end = index + segment.length;
  }
  return text;
}

/** A text without control and direction characters; line breaks and tabs become single spaces. */
export function cleaned(text: string): string {
  if (PLAIN.test(text)) return text;
  return text.toWellFormed().replace(BREAKS, ' ').replace(UNWANTED, '');
}

/** How much of a value is worth turning into text, given how much of it is shown. */
const enough = (limit: number): number => 64 * limit + 1024;

/** Yields the members of an object or a list; validators in code get maps and sets too. */
function membersOf(value: object): Iterable<[string | number, unknown]> {
  if (Array.isArray(value)) return (value as unknown[]).entries();
  if (value instanceof Set) return [...(value as Set<unknown>)].entries();
  return Object.entries(
    value instanceof Map ? Object.fromEntries(value as Map<string, unknown>) : value,
  );
}

/**
 * JSON of a value, secrets masked, given up once it is longer than anyone will see: a client may
 * send any depth and size.
 */
function boundedJson(
  value: unknown,
  path: Path,
  isSecret: (path: Path) => boolean,
  room: number,
): string {
  if (isSecret(path)) return JSON.stringify(MASK);
  if (typeof value === 'string') return JSON.stringify(value.slice(0, room));
  if (typeof value === 'bigint') return String(value);
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? 'null' : JSON.stringify(value);
  if (value === null || typeof value !== 'object')
    return typeof value === 'number' || typeof value === 'boolean' || value === null
      ? JSON.stringify(value)
      : 'null';
  if (room <= 0 || path.length > 32) return '…';
  const parts: string[] = [];
  let left = room;
  const members = membersOf(value);
  for (const [key, member] of members) {
    if (left <= 0) break;
    const label = typeof key === 'string' ? `${JSON.stringify(key)}: ` : '';
    const part = label + boundedJson(member, [...path, key], isSecret, left);
    parts.push(part);
    left -= part.length;
  }
  return Array.isArray(value) || value instanceof Set
    ? `[${parts.join(', ')}]`
    : `{${parts.join(', ')}}`;
}

/**
 * Returns a value as text for a message: cleaned, cut to `limit` graphemes, and masked where the
 * field or a part of the value is secret.
 */
export function valueText(
  value: unknown,
  limit: number,
  path: Path = [],
  isSecret: (path: Path) => boolean = () => false,
): string {
  if (isSecret(path)) return MASK;
  if (typeof value === 'string') return shortened(cleaned(value.slice(0, enough(limit))), limit);
  if (value instanceof Date && !Number.isNaN(value.getTime())) return value.toISOString();
  return shortened(cleaned(boundedJson(value, path, isSecret, enough(limit))), limit);
}

/**
 * The text with its first letter in upper case, as the locale writes it (`i` → `İ` in Turkish). A
 * first word with a capital inside ("iOS", "pH") is written as it is wherever it stands.
 */
export function capitalised(text: string, locale: string): string {
  // Dutch has one letter of two signs.
  const first =
    /^nl\b/.test(locale) && text.startsWith('ij')
      ? 'ij'
      : String.fromCodePoint(text.codePointAt(0) ?? 0x20);
  const all = first.toLocaleUpperCase(locale);
  // Greek drops the accent of a word in capitals alone: "όνομα" begins a sentence as "Όνομα".
  const upper = all.toLocaleLowerCase(locale) === first ? all : first.toUpperCase();
  if (upper === first || text === '') return text;
  const [word = ''] = text.slice(first.length).split(/[\s.,:;!?()/-]/, 1);
  return word === word.toLocaleLowerCase(locale) ? upper + text.slice(first.length) : text;
}

/** How many characters a text has, counted as JSON Schema counts: code points. */
function codePoints(text: string): number {
  let count = text.length;
  for (let at = 1; at < text.length; at++) {
    // A low surrogate right behind a high one makes one character of two units.
    if ((text.charCodeAt(at) & 0xfc00) === 0xdc00 && (text.charCodeAt(at - 1) & 0xfc00) === 0xd800)
      count -= 1;
  }
  return count;
}

/** How much of it was given: characters of a text, entries of a list, members of an object. */
export function measured(value: unknown): number | undefined {
  if (typeof value === 'string') return codePoints(value);
  if (Array.isArray(value)) return value.length;
  return typeof value === 'object' && value !== null ? Object.keys(value).length : undefined;
}
