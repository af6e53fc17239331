import { truncations } from './chain.js';
import { LocaleError, parseLocale, type Locale } from './tag.js';

function readRange(range: string): Locale | undefined {
  try {
    // An extended range (`de-*`) asks for no more than its beginning here (RFC 4647 section 3.4).
    return parseLocale(range.replace(/(-\*)+$/, ''));
  } catch (error) {
    if (error instanceof LocaleError) return undefined;
    throw error;
  }
}

const covers = (range: Locale, locale: Locale): boolean => locale === range || locale.startsWith(`${range}-`);

/**
 * Chooses the language of an answer by lookup (RFC 4647 section 3.4): each range in turn, with subtags dropped from its end,
 * until one is a language that is spoken.
 * @param ranges the ranges of Accept-Language that have a weight, the heaviest first
 * @param refused the ranges with weight 0
 * @param languages those spoken, in the order in which they are offered
 * @param fallback what is answered in where nothing fits; it holds too where everything is refused
 */
export function acceptedLocale(
  ranges: readonly string[],
  refused: readonly string[],
  languages: readonly Locale[],
  fallback: Locale,
): Locale {
  const named = ranges.flatMap((range) => (range === '*' ? [] : (readRange(range) ?? [])));
  const refusals = refused.flatMap((range) => (range === '*' ? [] : (readRange(range) ?? [])));
  const free = (locale: Locale): boolean =>
    !refusals.some((range) => covers(range, locale) && !named.some((one) => one.length > range.length && covers(one, locale)));
  for (const range of ranges) {
    const asked = range === '*' ? undefined : readRange(range);
    const candidates = range === '*' ? [fallback, ...languages] : asked ? [asked, ...truncations(asked)] : [];
    const found = candidates.find((one) => languages.includes(one) && free(one));
    if (found !== undefined) return found;
  }
  if (free(fallback)) return fallback;
  return languages.find(free) ?? fallback;
}
