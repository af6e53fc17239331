import { unregistered } from './registry.js';

declare const locale: unique symbol;

/** A canonical BCP 47 language tag all of whose subtags are registered, such as `de` or `zh-Hant-TW`. */
export type Locale = string & { readonly [locale]: true };

/** A text that is no language tag; `message` says what is wrong with it and what to write instead. */
export class LocaleError extends Error {
  override name = 'LocaleError';
}

const canonicalTags = new Map<string, Locale>();

/**
 * Reads a language tag by BCP 47 and gives its canonical form (`DE-at` → `de-AT`, `iw` → `he`).
 * @throws {LocaleError} when the text is not well-formed or a subtag is not in the IANA registry
 */
export function parseLocale(text: string): Locale {
  const seen = canonicalTags.get(text);
  if (seen) return seen;
  let canonical: string | undefined;
  try {
    canonical = Intl.getCanonicalLocales(text)[0];
  } catch {
    // A RangeError here only says "incorrect locale information"; ours says what to write.
  }
  if (canonical === undefined) {
    const hint = text.includes('_') ? `write "${text.replaceAll('_', '-')}"` : 'write one like "de" or "pt-BR"';
    throw new LocaleError(`"${text}" is no language tag (BCP 47): ${hint}`);
  }
  const trouble = unregistered(text, canonical);
  if (trouble !== undefined) throw new LocaleError(trouble);
  canonicalTags.set(text, canonical as Locale);
  return canonical as Locale;
}

const directions = new Map<Locale, 'ltr' | 'rtl'>();

/** Which way a locale's sentences run. */
export function directionOf(tag: Locale): 'ltr' | 'rtl' {
  let direction = directions.get(tag);
  if (!direction)
    directions.set(tag, (direction = RIGHT_TO_LEFT.has(new Intl.Locale(tag).maximize().script ?? '') ? 'rtl' : 'ltr'));
  return direction;
}

// Scripts that run right to left by Unicode's Bidi_Class of their letters; Intl.Locale has textInfo only in later engines.
const RIGHT_TO_LEFT = new Set([
  ...['Adlm', 'Arab', 'Armi', 'Avst', 'Chrs', 'Cprt', 'Elym', 'Hatr', 'Hebr', 'Hung', 'Khar', 'Lydi', 'Mand', 'Mani'],
  ...['Mend', 'Merc', 'Mero', 'Narb', 'Nbat', 'Nkoo', 'Orkh', 'Ougr', 'Palm', 'Phli', 'Phlp', 'Phnx', 'Prti', 'Rohg', 'Samr'],
  ...['Sarb', 'Sogd', 'Sogo', 'Syrc', 'Thaa', 'Yezi'],
]);
