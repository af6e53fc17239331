import { describe, expect, test } from '@jest/globals';
import { acceptedLocale } from '../../src/core/locale/accept.js';
import { chainOf, parentsAmong, sameLanguage, type Offer } from '../../src/core/locale/chain.js';
import { directionOf, LocaleError, parseLocale } from '../../src/core/locale/tag.js';

describe('language tags', () => {
  test.each([
    ['DE-at', 'de-AT'],
    ['iw', 'he'],
    ['zh-hant-tw', 'zh-Hant-TW'],
    ['sr-latn', 'sr-Latn'],
    ['de-1996', 'de-1996'],
    ['es-419', 'es-419'],
    ['en-XA', 'en-XA'],
    ['qaa', 'qaa'],
    ['de-u-co-phonebk', 'de-u-co-phonebk'],
    ['en-x-harrow', 'en-x-harrow'],
    // RFC 5646 sections 2.2.2, 2.2.8 and 4.5
    ['zh-yue', 'yue'],
    ['zh-cmn-Hant', 'zh-Hant'],
    ['sgn-ASE', 'ase'],
    ['i-klingon', 'tlh'],
    ['I-LUX', 'lb'],
    ['en-GB-oed', 'en-GB-oxendict'],
    ['zh-min-nan', 'nan'],
    ['no-bok', 'nb'],
  ])('%s is %s', (text, canonical) => {
    expect(parseLocale(text)).toBe(canonical);
  });

  test.each([
    ['xx', 'the language "xx", which is not registered'],
    ['deu', 'did you mean "de"?'],
    ['de-yue', 'is no language tag'],
    ['i-default', 'is an old tag (BCP 47) for which there is no newer one'],
    ['x-house', 'write the language first, such as "de-x-house"'],
    ['de-Xyzw', 'the script "xyzw"'],
    ['de-QB', 'the region "qb"'],
    ['de-fooba', 'the variant "fooba"'],
    ['de_AT', 'write "de-AT"'],
    ['deutsch!', 'is no language tag'],
    ['', 'is no language tag'],
  ])('%s is refused', (text, words) => {
    expect(() => parseLocale(text)).toThrow(LocaleError);
    expect(() => parseLocale(text)).toThrow(words);
  });

  test('run from the left or from the right', () => {
    const directions = ['en', 'ar', 'he', 'az-Arab', 'az', 'ur', 'ja', 'uz-Latn'].map((tag) =>
      directionOf(parseLocale(tag)),
    );
    expect(directions).toEqual(['ltr', 'rtl', 'rtl', 'rtl', 'ltr', 'rtl', 'ltr', 'ltr']);
  });
});

/** Locales that are offered, with what packs know of their parents. */
function offered(...tags: readonly string[]): Offer {
  const locales = tags.map(parseLocale);
  return { locales, original: parseLocale('en'), parents: parentsAmong(locales) };
}

test.each([
  ['de-POSIX', 'de'],
  ['de-AT-u-co-phonebk;q=0.1', 'de'],
  ['xx, de-xyzzy-1', 'de'],
  ['pt', 'pt-BR'],
  ['pt-AO', 'pt-PT'],
  ['es-MX', 'es-419'],
  ['es-MX-x-formal', 'es-419'],
  ['es-GQ', 'es'],
  ['en-AT', 'en-150'],
  ['en-AU', 'en'],
  ['zh', 'en'],
  ['zh-TW, ja', 'zh-Hant'],
  ['zh-cmn-Hant', 'zh-Hant'],
  ['de-x-formal', 'de'],
  ['fr', 'en'],
])('a client that asks for %s gets %s', (header, found) => {
  const offer = offered('en', 'de', 'pt-BR', 'zh-Hant', 'ja', 'es', 'es-419', 'en-150', 'pt-PT');
  const ranges = header.split(',').map((range) => range.split(';')[0]?.trim() ?? '');
  expect(acceptedLocale(ranges, [], offer)).toBe(found);
});

test('whoever asks for a language of a group reads the group rather than another', () => {
  const offer = offered('en', 'zh', 'zh-Hant', 'de', 'de-x-formal');
  const found = (range: string): string => acceptedLocale([range], [], offer);
  expect(['zh-yue', 'zh-hak-CN', 'zh-SG', 'zh-HK', 'de-x-formal', 'de-AT'].map(found)).toEqual([
    'zh',
    'zh',
    'zh',
    'zh-Hant',
    'de-x-formal',
    'de',
  ]);
});

describe('chains', () => {
  const then = new Map([[parseLocale('pt-AO'), [parseLocale('pt-PT'), parseLocale('pt')]]]);
  const chain = (tag: string): readonly string[] =>
    chainOf(parseLocale(tag), { original: parseLocale('en'), fallbacks: then });

  test.each([
    ['de-AT', ['de-AT', 'de', 'en']],
    ['en', ['en']],
    ['zh-Hant', ['zh-Hant', 'en']],
    ['zh-Hant-TW', ['zh-Hant-TW', 'zh-Hant', 'en']],
    ['zh-TW', ['zh-TW', 'zh-Hant-TW', 'zh-Hant', 'en']],
    ['zh-MO', ['zh-MO', 'zh-Hant-MO', 'zh-Hant-HK', 'zh-Hant', 'en']],
    ['sr-ME', ['sr-ME', 'sr-Latn-ME', 'sr-Latn', 'en']],
    ['en-AT', ['en-AT', 'en-150', 'en-001', 'en']],
    ['es-MX', ['es-MX', 'es-419', 'es', 'en']],
    ['no', ['no', 'nb', 'en']],
    ['no-NO', ['no-NO', 'no', 'nb', 'en']],
    ['nn', ['nn', 'nb', 'en']],
    ['zh-CN', ['zh-CN', 'zh', 'en']],
    ['sr-Latn', ['sr-Latn', 'en']],
    ['en-x-a-harrow', ['en-x-a-harrow', 'en']],
    ['pt-AO', ['pt-AO', 'pt-PT', 'pt']],
  ])('of %s', (tag, expected) => {
    expect(chain(tag)).toEqual(expected);
  });

  test('one language in one script serves all its regions', () => {
    expect(sameLanguage(parseLocale('de-AT'), parseLocale('de'))).toBe(true);
    expect(sameLanguage(parseLocale('zh-TW'), parseLocale('zh'))).toBe(false);
    expect(sameLanguage(parseLocale('zh-TW'), parseLocale('zh-Hant'))).toBe(true);
    expect(sameLanguage(parseLocale('no'), parseLocale('nb'))).toBe(true);
    expect(sameLanguage(parseLocale('nn'), parseLocale('nb'))).toBe(false);
  });
});
