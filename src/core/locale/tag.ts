import { Memo } from '../base/memo.js';
import { isRegisteredTag, malformed, preferredTag, unregistered } from './registry.js';

declare const locale: unique symbol;

/**
 * A canonical BCP 47 language tag all of whose subtags are registered, such as `de` or
 * `zh-Hant-TW`.
 */
export type Locale = string & { readonly [locale]: true };

/**
 * A text that is no language tag; `message` says what is wrong with it and what to write instead.
 */
export class LocaleError extends Error {
  override name = 'LocaleError';
}

const canonicalTags = new Memo<Locale>();

/**
 * The tag as Intl writes it; nothing where it is none, or Intl cannot read again what it wrote
 * (`de-x-yes`).
 */
function canonicalOf(tag: string): string | undefined {
  try {
    const [canonical = ''] = Intl.getCanonicalLocales(tag);
    return new Intl.Locale(canonical).toString();
  } catch {
    // A RangeError here only says "incorrect locale information"; ours says what to write.
    return undefined;
  }
}

/**
 * Reads a language tag as `parseLocale` does; nothing where it is none. What clients send is read
 * with this: no sentence is made.
 */
export function tryLocale(text: string): Locale | undefined {
  const seen = canonicalTags.get(text);
  if (seen) return seen;
  const tag = preferredTag(text);
  const canonical = canonicalOf(tag);
  return canonical !== undefined && isRegisteredTag(tag)
    ? canonicalTags.set(text, canonical as Locale)
    : undefined;
}

/**
 * Reads a language tag by BCP 47 and gives its canonical form (`DE-at` → `de-AT`, `iw` → `he`,
 * `zh-yue` → `yue`, `i-klingon` → `tlh`).
 * @throws {LocaleError} when the text is not well-formed or a subtag is not in the IANA registry
 */
export function parseLocale(text: string): Locale {
  const known = tryLocale(text);
  if (known) return known;
  const tag = preferredTag(text);
  const canonical = canonicalOf(tag);
  throw new LocaleError(canonical === undefined ? malformed(text) : unregistered(tag, canonical));
}

/**
 * Language, script and region that a tag most likely means, by CLDR's likely subtags. Extensions
 * and private use say nothing of these, and what is left of them when subtags are dropped is often
 * no tag that Intl reads.
 */
export const likely = (tag: string): Intl.Locale =>
  new Intl.Locale(tag.replace(/-[a-z0-9](?:-.*)?$/i, '')).maximize();

const scripts = new Memo<string>();
const scriptOf = (tag: Locale): string => scripts.getOrMake(tag, () => likely(tag).script ?? '');

/** Which way a locale's sentences run. */
export const directionOf = (tag: Locale): 'ltr' | 'rtl' =>
  RIGHT_TO_LEFT.test(scriptOf(tag)) ? 'rtl' : 'ltr';

/** Whether sentences of a locale begin with a capital: few scripts have any. */
export const hasCapitals = (tag: Locale): boolean => CASED.test(scriptOf(tag));

const CASED = /Armn|Cyrl|Grek|Latn/;

// Scripts that run right to left by Unicode's Bidi_Class of their letters; Intl.Locale has textInfo
// only in later engines.
const RIGHT_TO_LEFT =
  /Adlm|Arab|Armi|Avst|Chrs|Cprt|Elym|Hatr|Hebr|Hung|Khar|Lydi|Mand|Mani|Mend|Merc|Mero|Narb|Nbat|Nkoo|Orkh|Ougr|Palm|Phli|Phlp|Phnx|Prti|Rohg|Samr|Sarb|Sogd|Sogo|Syrc|Thaa|Yezi/;
