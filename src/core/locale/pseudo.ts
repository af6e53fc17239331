import { parseLocale, type Locale } from './tag.js';

/**
 * Locales that nobody speaks: made from the original's texts, to see what a page does with longer
 * words, with letters that are no ASCII, and with a language from the right, before there is a
 * translation. Their regions are reserved for private use.
 */
export const ACCENTED: Locale = parseLocale('en-XA');
export const MIRRORED: Locale = parseLocale('ar-XB');
export const PSEUDO_LOCALES: readonly Locale[] = [ACCENTED, MIRRORED];

export const isPseudo = (locale: Locale): boolean => PSEUDO_LOCALES.includes(locale);

const FROM = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz';
const TO = 'ÅƁÇÐÉƑĜĤÎĴĶĻṀÑÖÞQŔŠŢÛṼŴẊÝŽåƀçðéƒĝĥîĵķļɱñöþqŕšţûṽŵẋýž';
const ACCENTS = new Map(
  Array.from(FROM, (letter, at) => [letter, Array.from(TO)[at] ?? letter] as const),
);
const VOWELS = /[aeiouy]/gi;

/** About so many letters are added for a hundred: other languages often are that much longer. */
const LONGER = 0.35;

/** A text with accents on its letters and every so many vowels written twice. */
function accented(text: string): string {
  const vowels = text.match(VOWELS)?.length ?? 0;
  const wanted = Math.ceil(text.length * LONGER);
  let owed = 0;
  const longer = text.replace(VOWELS, (vowel) => {
    owed += vowels === 0 ? 0 : wanted / vowels;
    const more = Math.floor(owed);
    owed -= more;
    return vowel.repeat(1 + more);
  });
  return Array.from(longer, (letter) => ACCENTS.get(letter) ?? letter).join('');
}

/** U+202E, right-to-left override, and U+202C, pop directional formatting (UAX 9). */
const mirrored = (text: string): string =>
  text.replace(/[^\s\p{P}\p{N}]+/gu, (word) => `\u202E${word}\u202C`);

/** Returns the pseudo-locale's version of a text, without its arguments. */
export const pseudoText = (text: string, locale: Locale): string =>
  locale === MIRRORED ? mirrored(text) : accented(text);
