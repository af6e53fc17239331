import { Memo } from '../base/memo.js';
import { PARENTS } from './parents.js';
import { likely, type Locale } from './tag.js';

/**
 * Where texts are looked for when a locale has none: for each locale that departs from the rule,
 * its own list.
 */
export interface ChainRules {
  readonly original: Locale;
  readonly fallbacks: ReadonlyMap<Locale, readonly Locale[]>;
}

function scriptOf(tag: string): string | undefined {
  return likely(tag).script;
}

/** The locale that stands in for another before its subtags are dropped: `es-MX`, `es-419`. */
export type Parents = Readonly<Record<string, string>>;

/** The languages that answers are in. */
export interface Offer {
  /** In the order in which they are offered. */
  readonly locales: readonly Locale[];
  /** The one where nothing fits what a client asks for. */
  readonly original: Locale;
  readonly parents: Parents;
}

/**
 * The locale with subtags dropped from its end one by one, as RFC 4647 section 3.4 looks up, its
 * parents before that; never one in another script: where the language alone means another, the
 * same in this script (`zh-TW`, `zh-Hant-TW`, `zh-Hant`).
 */
export function truncations(tag: Locale, parents: Parents): Locale[] {
  const found: Locale[] = [];
  const [language = ''] = tag.split('-');
  const script = scriptOf(tag);
  const inScript = `${language}-${script ?? ''}`;
  let wider: string = tag;
  while (wider.includes('-')) {
    // A single letter announces what follows it; alone it means nothing.
    const shorter = parents[wider] ?? wider.replace(/(?:-\w)*-\w+$/, '');
    if (scriptOf(shorter) === script) wider = shorter;
    else if (wider.startsWith(inScript)) break;
    else wider = wider.replace(language, inScript);
    found.push(wider as Locale);
  }
  // Texts in `no` are mostly in `nb`, and readers of `nn` read that too (CLDR, parentLocales).
  if (/^n[no]$/.test(language)) found.push('nb' as Locale);
  return found;
}

/** Returns the parent locales that lead to one of some locales. */
export const parentsAmong = (locales: readonly Locale[]): Parents =>
  Object.fromEntries(
    Object.entries(PARENTS).filter(([child]) => {
      for (let one = PARENTS[child]; one !== undefined; one = PARENTS[one])
        if (locales.some((locale) => locale === one)) return true;
      return false;
    }),
  );

/** The locales in which a text is looked for, in order, the one asked for first. */
export function chainOf(tag: Locale, rules: ChainRules): readonly Locale[] {
  const own = rules.fallbacks.get(tag);
  const rest = own ?? [...truncations(tag, PARENTS), rules.original];
  return [...new Set([tag, ...rest])];
}

/**
 * A chain for words inside of a sentence: first the locales that write the sentence's own language,
 * since a word of another language inside it is worse than a plainer one.
 */
export function chainWithin(
  chain: readonly Locale[],
  serves: (locale: Locale) => boolean,
): readonly Locale[] {
  if (chain[0] !== undefined && serves(chain[0])) return chain;
  return [...chain.filter(serves), ...chain.filter((one) => !serves(one))];
}

/** The locales of a chain that write a sentence's language, or its own. */
export function chainOfLanguage(
  chain: readonly Locale[],
  sentence: Locale,
  serves: (locale: Locale) => boolean,
): readonly Locale[] {
  const own = chain.filter(serves);
  return own.length > 0 ? own : [sentence];
}

/**
 * Whether two locales write the same language in the same script, so that a sentence of one serves
 * readers of the other.
 */
export function sameLanguage(one: Locale, other: Locale): boolean {
  return one === other || writtenAs(one) === writtenAs(other);
}

const written = new Memo<string>();

/** Language and script, such as `de-Latn`. */
function writtenAs(locale: Locale): string {
  return written.getOrMake(locale, () => {
    const { language, script } = likely(locale);
    return `${language === 'no' ? 'nb' : language}-${script ?? ''}`;
  });
}
