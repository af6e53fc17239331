import { describe, expect, test } from '@jest/globals';
import plurals from 'cldr-core/supplemental/plurals.json' with { type: 'json' };
import { parseLocale } from '../../src/core/locale/tag.js';
import { formatterOf } from '../../src/core/message/compile.js';
import { formattersOf } from '../../src/core/message/formatters.js';
import { MessageError } from '../../src/core/message/syntax-error.js';

const say = (text: string, args: Record<string, unknown> = {}, locale = 'en'): string =>
  formatterOf(text, locale)(args);
/** Intl writes several kinds of narrow and unbreakable spaces. */
const plain = (text: string): string => text.replace(/[\u00a0\u202f\u2009]/g, ' ');

describe('numbers', () => {
  test.each<[string, number, string, string]>([
    ['{n}', 3600, 'en', '3,600'],
    ['{n}', 0.123456789, 'en', '0.123456789'],
    ['{n}', 7.25, 'de', '7,25'],
    ['{n}', 1e21, 'en', '1,000,000,000,000,000,000,000'],
    ['{n, number}', 0.1235, 'en', '0.124'],
    ['{n, number}', 0.0005, 'en', '0'],
    ['{n, number, integer}', 2.5, 'en', '2'],
    ['{n, number, integer}', 3.5, 'en', '4'],
    ['{n, number, percent}', 0.256, 'de', '26 %'],
    ['{n, number, currency}', 12.5, 'en-US', '$12.50'],
    ['{n, number, currency}', 12.5, 'de-DE', '12,50 €'],
    ['{n, number, currency}', 12.5, 'ja-JP', '￥12'],
    ['{n, number, currency}', 12.5, 'en', '¤12.50'],
    ['{n, number, ::.00}', 3, 'en', '3.00'],
    ['{n, number, ::.##}', 3.456, 'en', '3.46'],
    ['{n, number, ::.0#}', 3, 'en', '3.0'],
    ['{n, number, ::.}', 3.4, 'en', '3'],
    ['{n, number, ::@@#}', 31_459, 'en', '31,500'],
    ['{n, number, ::000}', 7, 'en', '007'],
    ['{n, number, ::percent}', 25, 'en', '25%'],
    ['{n, number, ::percent .0}', 25, 'de', '25,0 %'],
    ['{n, number, ::percent scale/100}', 0.25, 'en', '25%'],
    ['{n, number, ::scale/100}', 0.3, 'en', '30'],
    ['{n, number, ::currency/EUR}', 1234.5, 'de', '1.234,50 €'],
    ['{n, number, ::currency/EUR unit-width-full-name}', 1, 'en', '1.00 euros'],
    ['{n, number, ::compact-short}', 12_345, 'en', '12K'],
    ['{n, number, ::compact-long}', 12_345, 'en', '12 thousand'],
    ['{n, number, ::sign-always}', 5, 'en', '+5'],
    ['{n, number, ::+! group-off}', 5000, 'en', '+5000'],
    ['{n, number, ::unit/kilometer-per-hour}', 30, 'en', '30 km/h'],
    ['{n, number, ::unit/second unit-width-full-name}', 90, 'de', '90 Sekunden'],
    ['{n, number, ::measure-unit/length-meter per-measure-unit/duration-second}', 3, 'en', '3 m/s'],
    ['{n, number, ::precision-increment/0.05}', 1.23, 'en', '1.25'],
    ['{n, number, ::rounding-mode-ceiling .0}', 1.01, 'en', '1.1'],
    ['{n, number, ::0.1234567}', 1, 'en', ''],
  ])('%s of %d in %s is %s', (text, n, locale, expected) => {
    if (expected === '') expect(() => say(text, { n }, locale)).toThrow('number skeleton');
    else expect(plain(say(text, { n }, locale))).toBe(expected);
  });

  test('texts that are numbers count as numbers, big ones keep their digits, others stay as they are', () => {
    expect(say('{n, number} {n, plural, one {one} other {other}}', { n: '1' })).toBe('1 one');
    expect(say('{n}', { n: 12345678901234567890n })).toBe('12,345,678,901,234,567,890');
    expect(say('{n, number} {n, plural, one {one} other {# other}}', { n: 'many' })).toBe(
      'many many other',
    );
  });
});

test('small whole numbers, which take a short way in many languages, are written as Intl writes them', () => {
  const languages =
    'bg ca cs cy da de el en es et eu fi fr ga he hr hu id is it ja ko lt lv nb nl nn pl pt ro ru sk sl sv tr uk vi zh'.split(
      ' ',
    );
  for (const locale of [
    ...languages,
    'ar',
    'ar-EG',
    'fa',
    'bn',
    'de-CH',
    'en-IN',
    'zh-Hant',
    'pt-PT',
    'es-MX',
    'de-u-nu-thai',
    'my',
  ]) {
    const { bare, standard } = formattersOf(parseLocale(locale));
    const format = new Intl.NumberFormat(locale);
    const numbers = [...Array(1100).keys(), 3600, 9999, 10_000, 123_456, 999_999, 1_000_000];
    const written = numbers.map((n) => format.format(n));
    expect([locale, numbers.map(bare), numbers.map(standard)]).toEqual([locale, written, written]);
  }
});

test('steps of a way are joined as Intl joins the first two of many, also where a short way is taken', () => {
  const languages =
    'bg ca cs cy da de el en es et eu fi fr ga he hr hu id is it ja ko lt lv nb nl nn pl pt ro ru sk sl sv tr uk vi zh'.split(
      ' ',
    );
  for (const locale of [
    ...languages,
    'en-GB',
    'en-US',
    'es-MX',
    'de-CH',
    'fr-CA',
    'pt-PT',
    'zh-Hant',
    'fa',
  ]) {
    const parts = new Intl.ListFormat(locale, { type: 'conjunction', style: 'long' }).formatToParts(
      ['1', '2', '3', '4'],
    );
    expect([locale, formattersOf(parseLocale(locale)).trail(['a', 'b'])]).toEqual([
      locale,
      `a${parts[1]?.value ?? ''}b`,
    ]);
  }
});

describe('dates and times', () => {
  const instant = '2027-03-09T22:30:05Z';
  test.each<[string, unknown, string, string, string]>([
    ['{d, date}', '2027-03-09', 'en', 'America/New_York', 'Mar 9, 2027'],
    ['{d, date, short}', '2027-03-09', 'de', 'UTC', '09.03.27'],
    ['{d, date, long}', '2027-03-09', 'pl', 'UTC', '9 marca 2027'],
    ['{d, date, full}', '2027-03-09', 'en', 'UTC', 'Tuesday, March 9, 2027'],
    ['{d, date, ::yMMMd}', instant, 'en', 'Asia/Tokyo', 'Mar 10, 2027'],
    ['{d, date, ::yMd}', instant, 'de', 'UTC', '9.3.2027'],
    ['{d, date, ::MMMM}', instant, 'fr', 'UTC', 'mars'],
    ['{d, time, short}', instant, 'de', 'Europe/Berlin', '23:30'],
    ['{d, time, ::Hm}', instant, 'en', 'UTC', '22:30'],
    ['{d, time, ::hm}', instant, 'en', 'UTC', '10:30 PM'],
    ['{d, time, ::Hms}', new Date(instant), 'en', 'UTC', '22:30:05'],
    ['{d, time, short}', Date.parse(instant), 'de', 'UTC', '22:30'],
    ['{d, time, short}', '2027-03-09T22:30', 'de', 'Asia/Tokyo', '22:30'],
    ['{d, time, short}', '21:15', 'de', 'Asia/Tokyo', '21:15'],
    ['{d, date}', '2027-02-31', 'en', 'UTC', '2027-02-31'],
    ['{d, date}', 'soon', 'en', 'UTC', 'soon'],
    ['{d, date}', undefined, 'en', 'UTC', '{d}'],
  ])('%s of %s in %s, %s', (text, d, locale, zone, expected) => {
    expect(plain(formatterOf(text, locale, { zone })({ d }))).toBe(expected);
  });
});

describe('plural categories', () => {
  // CLDR's own samples: `1, 21, 31, … @decimal 0.1~0.4`; only what can be written as a number is
  // taken.
  const rules = plurals.supplemental['plurals-type-cardinal'] as Record<
    string,
    Record<string, string>
  >;
  const samples = (rule: string): string[] =>
    [...rule.matchAll(/@(?:integer|decimal)([^@]*)/g)]
      .flatMap(([, list = '']) => list.split(','))
      .map((one) => one.trim().split('~')[0] ?? '')
      .filter((one) => /^\d+(\.\d*[1-9])?$/.test(one));

  test.each(['en', 'de', 'fr', 'pl', 'ru', 'cs', 'sl', 'lt', 'cy', 'ga', 'ar', 'he', 'ja'])(
    '%s',
    (locale) => {
      const categories = ['zero', 'one', 'two', 'few', 'many', 'other'];
      const category = formatterOf(
        `{n, plural, ${categories.map((one) => `${one} {${one}}`).join(' ')}}`,
        locale,
      );
      let tried = 0;
      for (const [name, rule] of Object.entries(rules[locale] ?? {})) {
        for (const sample of samples(rule)) {
          tried += 1;
          expect([locale, sample, category({ n: Number(sample) })]).toEqual([
            locale,
            sample,
            name.replace('pluralRule-count-', ''),
          ]);
          // CLDR's rules look at the absolute value (UTS 35, part 3, section 5.1.1).
          if (sample !== '0')
            expect(category({ n: -Number(sample) })).toBe(name.replace('pluralRule-count-', ''));
        }
      }
      expect(tried).toBeGreaterThan(5);
    },
  );
});

describe('arguments', () => {
  test('a missing one prints its name in braces, whatever it was to be', () => {
    expect(
      say(
        '{a} {b, number} {c, date} {d, plural, one {1} other {#!}} {e, select, x {x} other {o}} {constructor}',
      ),
    ).toBe('{a} {b} {c} {d}! o {constructor}');
    expect(say('{a}', { a: null })).toBe('{a}');
  });

  test('lists, truth values and objects have a plain form', () => {
    expect(say('{a}; {b}; {c}', { a: ['x', 'y', 'z'], b: true, c: { k: 1 } }, 'de')).toBe(
      'x, y und z; true; {"k":1}',
    );
    expect(
      say('{b, select, true {on} other {off}}{n, select, 1 {!} other {?}}', { b: true, n: 1 }),
    ).toBe('on!');
  });

  test('texts that run the other way are isolated where that is asked for', () => {
    const isolating = (text: string, locale: string, args: object): string =>
      formatterOf(text, locale, { isolate: true })({ ...args });
    expect(isolating('{a}!', 'en', { a: 'الهدف' })).toBe('\u2068الهدف\u2069!');
    expect(isolating('{a}!', 'en', { a: '目標 3' })).toBe('目標 3!');
    expect(isolating('{a}!', 'ar', { a: 'الهدف' })).toBe('الهدف!');
    expect(isolating('{a}!', 'ar', { a: '2027A' })).toBe('\u20682027A\u2069!');
    expect(isolating('{a}!', 'ar', { a: '05:35:17' })).toBe('\u206805:35:17\u2069!');
    expect(isolating('{a}!', 'he', { a: 3 })).toBe('3!');
    expect(isolating('{a, select, yes {1} other {2}}', 'ar', { a: 'yes' })).toBe('1');
    expect(say('{a}!', { a: 'yes' }, 'ar')).toBe('yes!');
  });
});

test('a unit is the one that is named, or refused', () => {
  expect(say('{n, number, ::measure-unit/length-mile-scandinavian}', { n: 2 })).toBe('2 smi');
  expect(say('{n, number, ::unit/fluid-ounce unit-width-full-name}', { n: 2 })).toBe(
    '2 fluid ounces',
  );
  expect(
    say('{n, number, ::measure-unit/length-meter per-measure-unit/duration-second}', { n: 2 }),
  ).toBe('2 m/s');
  for (const unit of [
    'unit/square-meter',
    'unit/cubic-meter',
    'unit/kilowatt-hour',
    'unit/light-year',
    'unit/nautical-mile',
    'unit/length-kilometer',
    'measure-unit/meter',
    'measure-unit/mass-meter',
    'measure-unit/area-square-meter',
  ])
    expect(() => formatterOf(`{n, number, ::${unit}}`, 'en')).toThrow(MessageError);
});
