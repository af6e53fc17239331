import { Memo } from '../base/memo.js';
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

/** A tag that stands for several written languages, and the one that its texts are mostly in. */
const WRITTEN: ReadonlyMap<string, string> = new Map([['no', 'nb']]);

/**
 * The locale with subtags dropped from its end one by one, as RFC 4647 section 3.4 looks up; never
 * one in another script: where the language alone means another, the language in this script
 * (`zh-TW`, `zh-Hant`).
 */
export function truncations(tag: Locale): Locale[] {
  const found: Locale[] = [];
  const [language = ''] = tag.split('-');
  // Readers of `nn` read `nb` too (CLDR, parentLocales), though it is another language.
  const standard = language === 'nn' ? 'nb' : WRITTEN.get(language);
  if (!tag.includes('-')) return standard === undefined ? found : [standard as Locale];
  const script = scriptOf(tag);
  const subtags = tag.split('-');
  while (subtags.length > 1) {
    subtags.pop();
    // A single letter announces what follows it; alone it means nothing.
    while (subtags.at(-1)?.length === 1) subtags.pop();
    const shorter = subtags.join('-');
    if (shorter !== '' && scriptOf(shorter) === script) found.push(shorter as Locale);
  }
  const inScript = `${language}-${script ?? ''}` as Locale;
  if (
    script !== undefined &&
    scriptOf(language) !== script &&
    tag !== inScript &&
    !found.includes(inScript)
  )
    found.push(inScript);
  if (standard !== undefined) found.push(standard as Locale);
  return found;
}

/** The locales in which a text is looked for, in order, the one asked for first. */
export function chainOf(tag: Locale, rules: ChainRules): readonly Locale[] {
  const own = rules.fallbacks.get(tag);
  const rest = own ?? [...truncations(tag), rules.original];
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
    return `${WRITTEN.get(language) ?? language}-${script ?? ''}`;
  });
}
