// Messages beside another implementation of ICU MessageFormat, Debian's python3-icu (ICU 72): where
// both take a message they say the same, and what that one refuses is refused here. Its data are
// older, so languages whose data changed are left out.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { describe, expect } from '@jest/globals';
import { formatterOf } from '../../src/core/message/compile.js';
import { sampled } from '../support/torture.js';
import { ICU_OF_PYTHON, testWith } from '../support/tools.js';

type Case = readonly [
  text: string,
  locale: string,
  args: Readonly<Record<string, number | string | { at: number }>>,
];

const script = path.join(__dirname, '..', 'support', 'other_icu.py');
const withIcu = testWith(ICU_OF_PYTHON);

/** Both write several kinds of narrow and unbreakable spaces. */
const plain = (text: string): string => text.replace(/[\u00a0\u202f\u2009]/g, ' ');

/** Languages that leave 1234 whole (CLDR's minimumGroupingDigits): that one never does. */
const WHOLE_THOUSANDS = /^(?:es|pl|pt-PT)$/;
const whole = (text: string, locale: string): string =>
  WHOLE_THOUSANDS.test(locale)
    ? text.replace(
        /(?<![\d.\u00a0\u202f])(\d)[.\u00a0\u202f](\d{3})(?!\d|[.\u00a0\u202f]\d)/g,
        '$1$2',
      )
    : text;

function ours([text, locale, args]: Case): [boolean, string] {
  try {
    const given = Object.entries(args).map(([name, value]) => [
      name,
      typeof value === 'object' ? new Date(value.at) : value,
    ]);
    return [true, formatterOf(text, locale)(Object.fromEntries(given) as Record<string, unknown>)];
  } catch {
    return [false, ''];
  }
}

/** Which cases are said otherwise there, or refused there alone; and how many are said by both. */
function compared(cases: readonly Case[]): { readonly differ: unknown[]; readonly same: number } {
  const input = cases.map((one) => JSON.stringify(one)).join('\n');
  const { stdout, stderr } = spawnSync('/usr/bin/python3', [script], {
    input,
    encoding: 'utf8',
    maxBuffer: 1e8,
  });
  expect(stderr).toBe('');
  const theirs = stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as [boolean, string]);
  expect(theirs).toHaveLength(cases.length);
  let same = 0;
  const differ = cases.flatMap((one, at) => {
    const [taken, said] = ours(one);
    const [takenThere, saidThere] = theirs[at] ?? [false, ''];
    // What is refused here alone is told with its remedy.
    if (!taken) return [];
    const there = [saidThere, whole(saidThere, one[1])].map(plain);
    if (takenThere && there.includes(plain(said))) same++;
    else return [[...one, said, saidThere]];
    return [];
  });
  return { differ, same };
}

const NUMBERS = [
  0, 1, 2, 1.0005, 1.5, 2.5, 0.575, 0.256, 5, 11, 21, 101, 1234, 12_345.678, 1_234_567, -3.7,
  0.0005, 1.000_01,
];
const LANGUAGES = [
  'en',
  'de',
  'fr',
  'es',
  'pl',
  'pt',
  'pt-PT',
  'ar-EG',
  'ja',
  'cs',
  'hi',
  'nl',
  'tr',
  'ko',
  'zh',
  'sv',
  'lt',
  'ru',
];

/** Keywords and skeletons, those that say one thing twice among them, or that cut digits off. */
const STYLES =
  `integer|percent|currency|::.00|::.##|::.0#|::.|::@@#|::@@|::000|::percent|::percent .0|::percent scale/100
  |::percent scale/100 .|::scale/100|::scale/0.001|::currency/EUR|::currency/JPY .00|::compact-long|::sign-always|::+! group-off
  |::group-min2|::,!|::unit/kilometer-per-hour|::measure-unit/length-meter|::precision-increment/0.05|::rounding-mode-ceiling .0
  |::.00 .0|::percent percent|::currency/EUR percent|::unit/length-kilometer|::.##+|::.00+|::.00*|::@@+|::@@#+|::@#*|::0|::00
  |::integer-width/+000|::integer-width/00|::latin|::sign-never sign-always|::000 00|::scale/10 scale/10|::%x100|::%x100 scale/2
  |::group-off group-off|::latin latin|::unit/meter per-measure-unit/duration-second|::.0 @@|::precision-integer .0|::E0 EE0
  |::measure-unit/length-meter per-measure-unit/duration-second|::rounding-mode-up rounding-mode-down|::unit/percent|::()
  |::unit/square-meter|::unit/cubic-meter|::unit/kilowatt-hour|::unit/light-year|::unit/nautical-mile|::measure-unit/area-square-meter
  |::measure-unit/concentr-percent|::currency/EUR unit-width-iso-code|::.+|::precision-unlimited|::base-unit|::   .00  |::permille`
    .split('|')
    .map((style) => style.replace(/\n\s*/, ''));

describe('beside another ICU', () => {
  withIcu('numbers are written alike', () => {
    const cases = sampled(STYLES, 6).flatMap((style) =>
      LANGUAGES.flatMap((locale) =>
        NUMBERS.map((n): Case => [`{n, number, ${style}}`, locale, { n }]),
      ),
    );
    const { differ, same } = compared([
      ...cases,
      ...LANGUAGES.map((locale): Case => ['{n} {n, number}', locale, { n: 1234 }]),
    ]);
    expect(differ).toEqual([]);
    expect(same).toBeGreaterThan(cases.length / 3);
  });

  withIcu('a number is counted as it is written', () => {
    const every = (kind: string, more = ''): string =>
      `{n, ${kind}, ${more}zero {z #} one {o #} two {t #} few {f #} many {m #} other {x #}}`;
    const styled = [
      '::.00',
      'integer',
      '::.0#',
      '::@@',
      'percent',
      '::.00 scale/10',
      '::currency/EUR',
    ].flatMap((style) => [
      `{n, plural, zero {z} one {o} two {t} few {f} many {m} other {x {n, number, ${style}}}}`,
      `{n, plural, offset:1 one {o #} few {f #} many {m #} other {{n, number, ${style}} #}}`,
      `{n, plural, one {o #} few {f #} many {m #} other {# {n, number, ${style}}}}`,
    ]);
    const texts = ['plural', 'selectordinal'].flatMap((kind) => [
      every(kind),
      every(kind, 'offset:1 '),
      every(kind, '=1 {e} '),
    ]);
    const languages = [...LANGUAGES, 'cy', 'ga', 'he', 'uk'];
    const cases = [...texts, ...styled].flatMap((text) =>
      languages.flatMap((locale) => NUMBERS.map((n): Case => [text, locale, { n }])),
    );
    expect(compared(cases)).toEqual({ differ: [], same: cases.length });
  });

  withIcu('dates and times are written alike, or refused', () => {
    const skeletons =
      'yMMMd yMd yMMMMd MMMd d y MMM E EEEE Hm HHmm hm hhmm jm jjmm jmm j jj hh HH K Km KK k km kk m s Hms HHmmss jms z zzzz O v G yG Hmz jma Q c';
    const moments = [
      Date.UTC(2027, 2, 5, 0, 7, 9),
      Date.UTC(2027, 10, 25, 12),
      Date.UTC(2027, 10, 25, 15, 30, 45, 123),
    ];
    const styles = [
      ...skeletons.split(' ').map((one) => `::${one}`),
      'short',
      'medium',
      'long',
      'full',
    ];
    const cases = styles.flatMap((style) =>
      ['en', 'fr', 'pl', 'ja', 'ar-EG', 'zh', 'es'].flatMap((locale) =>
        moments.flatMap((at) =>
          ['date', 'time'].map((kind): Case => [`{d, ${kind}, ${style}}`, locale, { d: { at } }]),
        ),
      ),
    );
    const { differ, same } = compared(cases);
    expect(differ).toEqual([]);
    expect(same).toBeGreaterThan(cases.length / 2);
  });

  withIcu('what it refuses is refused, and what both take means the same', () => {
    const pieces =
      `{|}|{n}|{n, number}|{n,plural,other{#}}|{n, plural, one{a}other{b}}|'|''|'{|#|a| |{0}|{n , number , integer }|{ n }
      |\u0085|\u200e|{\u200fn}|{n,date}|=1{a}|offset:1|{a.b}|{é}|{_x}|{1a}|{01}|{32767}|{32768}|{147483647}|{n,number,'::.00'}
      |{n, plural, =1 {a} other {#}}|{n,plural,offset:-1 other{#}}|{n,plural,=-1{m} other{#}}|{n,selectordinal,one{#st}other{#th}}
      |{n, plural,offset:1.5 one {x} other{#}}|{n,spellout}|{n,number,#0}|{a, select, q {x} other {y}}|{n, plural, =1.5 {a} other {#}}`
        .split('|')
        .map((piece) => piece.replace(/\n\s*/, ''));
    let state = 20_270_305;
    const chance = (below: number): number => (state = (state * 48_271) % 2_147_483_647) % below;
    const cases = Array.from({ length: 5000 }, (): Case => {
      const text = Array.from({ length: 1 + chance(4) }, () => pieces[chance(pieces.length)]).join(
        '',
      );
      return [text, 'en', { n: 1, a: 'q' }];
    });
    const { differ, same } = compared(cases);
    expect(differ).toEqual([]);
    expect(same).toBeGreaterThan(1500);
  });
});
