import { truncations, type Offer } from './chain.js';
import { likely, tryLocale, type Locale } from './tag.js';

/**
 * A range as a locale: what nobody registered is dropped from its end, like all that nobody speaks
 * (`de-POSIX` asks for `de`); nothing for `*`.
 */
function readRange(range: string): Locale | undefined {
  // An extended range (`de-*`) asks for no more than its beginning here (RFC 4647 section 3.4).
  const subtags = range.replace(/(-\*)+$/, '').split('-');
  for (let length = Math.min(subtags.length, MOST_SUBTAGS); length > 0; length--) {
    const locale = tryLocale(subtags.slice(0, length).join('-'));
    if (locale) return locale;
  }
  return undefined;
}

const MOST_SUBTAGS = 8;

/**
 * Languages that are the one asked for, of another place or said more exactly: `pt` is served by
 * `pt-BR`, never by another script.
 */
function related(asked: Locale, locales: readonly Locale[]): readonly Locale[] {
  const { language, script } = likely(asked);
  return locales.filter((one) => {
    const other = likely(one);
    return other.language === language && other.script === script;
  });
}

const covers = (range: Locale, locale: Locale): boolean =>
  locale === range || locale.startsWith(`${range}-`);

/**
 * Chooses the language of an answer by lookup (RFC 4647 section 3.4): each range in turn, with
 * subtags dropped from its end, until one is a language that is spoken; at last one that says more
 * than was asked for.
 * @param ranges the ranges of Accept-Language that have a weight, the heaviest first
 * @param refused the ranges with weight 0
 * @param offer what is spoken; the original holds too where everything is refused
 */
export function acceptedLocale(
  ranges: readonly string[],
  refused: readonly string[],
  { locales, original, parents }: Offer,
): Locale {
  const [named = [], refusals = []] = [ranges, refused].map((all) =>
    all.flatMap((range) => readRange(range) ?? []),
  );
  const free = (locale: Locale): boolean =>
    !refusals.some(
      (range) =>
        covers(range, locale) &&
        !named.some((one) => one.length > range.length && covers(one, locale)),
    );
  for (const range of ranges) {
    const asked = readRange(range);
    const candidates =
      range === '*' ? [original, ...locales] : asked ? [asked, ...truncations(asked, parents)] : [];
    // Whoever asks for one of the languages of `zh` reads `zh` rather than something else.
    const macro = readRange(range.replace(/-.*/, ''));
    if (macro && !asked?.startsWith(macro)) candidates.push(macro);
    const more =
      asked && !candidates.some((one) => locales.includes(one)) ? related(asked, locales) : [];
    const found = [...candidates, ...more].find((one) => locales.includes(one) && free(one));
    if (found !== undefined) return found;
  }
  return [original, ...locales].find(free) ?? original;
}
