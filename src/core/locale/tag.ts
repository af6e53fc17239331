import { closest } from '../text/closest.js';
import { LANGUAGES, REGIONS, SCRIPTS, VARIANTS } from './subtags.js';

declare const locale: unique symbol;

/** A canonical BCP 47 language tag all of whose subtags are registered, such as `de` or `zh-Hant-TW`. */
export type Locale = string & { readonly [locale]: true };

/** A text that is no language tag; `message` says what is wrong with it and what to write instead. */
export class LocaleError extends Error {
  override name = 'LocaleError';
}

interface Kind {
  readonly called: string;
  readonly registered: string;
}

const language: Kind = { called: 'language', registered: LANGUAGES };
const script: Kind = { called: 'script', registered: SCRIPTS };
const region: Kind = { called: 'region', registered: REGIONS };
const variant: Kind = { called: 'variant', registered: VARIANTS };

const known = new Map<Kind, ReadonlySet<string>>();

function isRegistered(subtag: string, kind: Kind): boolean {
  let set = known.get(kind);
  if (!set) known.set(kind, (set = new Set(kind.registered.split(' '))));
  if (set.has(subtag)) return true;
  return kind.registered.includes('..') && inRange(subtag, set);
}

function inRange(subtag: string, set: ReadonlySet<string>): boolean {
  for (const entry of set) {
    const [first, last] = entry.split('..');
    if (first !== undefined && last !== undefined && subtag.length === first.length && subtag >= first && subtag <= last)
      return true;
  }
  return false;
}

/**
 * What each subtag of a tag is by its place and form (RFC 5646 section 2.1); stops where extensions or private use begin.
 * Extended languages are not met: Intl takes only tags in which the language itself has replaced them (`yue`, not `zh-yue`).
 */
function kindsOf(tag: string): [string, Kind][] {
  const [first = '', ...rest] = tag.toLowerCase().split('-');
  const kinds: [string, Kind][] = [[first, language]];
  for (const subtag of rest) {
    if (subtag.length === 1) break;
    if (/^[a-z]{4}$/.test(subtag)) kinds.push([subtag, script]);
    else if (/^([a-z]{2}|\d{3})$/.test(subtag)) kinds.push([subtag, region]);
    else kinds.push([subtag, variant]);
  }
  return kinds;
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
  for (const [subtag, kind] of kindsOf(text)) {
    if (isRegistered(subtag, kind)) continue;
    // Many know a language by its three letters, where the registry has two.
    const short = kind === language ? canonical.split('-')[0] : undefined;
    const near = short !== undefined && short !== subtag ? short : closest(subtag, kind.registered.split(' '));
    throw new LocaleError(
      `"${text}" names the ${kind.called} "${subtag}", which is not registered (BCP 47)` +
        (near ? `: did you mean "${near}"?` : ''),
    );
  }
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
