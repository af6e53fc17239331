import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { directionOf, LocaleError, parseLocale, tryLocale } from '../../src/core/locale/tag.js';
import { PARENTS } from '../../src/core/locale/parents.js';
import { truncations } from '../../src/core/locale/chain.js';
import { keyOf, Memo, Room } from '../../src/core/base/memo.js';
import { openWorkspace } from '../../src/library.js';
import { localeForHeader } from '../../src/render/accept-language.js';
import { copyOf } from '../support/program.js';

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;

const SPOKEN = {
  locales: [parseLocale('en'), parseLocale('de')],
  original: parseLocale('en'),
  parents: {},
};

describe('what is remembered', () => {
  test('is bounded over all memos of a room, in number and in length', () => {
    const room = new Room(2000);
    const memos = [new Memo<number>(room), new Memo<number>(room)];
    const kept = (): number =>
      memos.reduce(
        (sum, memo) => sum + keys.filter((key) => memo.get(key) !== undefined).length,
        0,
      );
    const keys = Array.from({ length: 500 }, (_, at) => `key ${at}`);
    let most = 0;
    for (const [at, key] of keys.entries()) {
      memos[at % 2]?.set(key, at);
      most = Math.max(most, kept());
    }
    expect([most > 5, most < 20]).toEqual([true, true]);
    const long = new Memo<number>();
    long.set('x'.repeat(100_000), 1);
    expect(long.get('x'.repeat(100_000))).toBeUndefined();
  });

  test('under keys that other values never have', () => {
    const value = fc.oneof(fc.string(), fc.constant(undefined), fc.nat());
    fc.assert(
      fc.property(
        fc.array(value, { maxLength: 4 }),
        fc.array(value, { maxLength: 4 }),
        (one, other) => {
          const same =
            JSON.stringify(one.map((each) => (each === undefined ? null : String(each)))) ===
            JSON.stringify(other.map((each) => (each === undefined ? null : String(each))));
          expect(keyOf(...one) === keyOf(...other)).toBe(same);
        },
      ),
    );
  });

  test('does not let one rule or use stand for another', () => {
    const renderer = openWorkspace(copyOf('observatory'));
    const said = (violation: { rule: string; as?: string }): unknown => {
      const { body } = renderer.render(
        { form: 'observing-proposal', violations: [{ path: 'title', ...violation }] },
        { locale: 'en', inline: true },
      );
      return (JSON.parse(body) as { errors: unknown[] }).errors[0];
    };
    const alone = said({ rule: 'required' });
    for (const violation of [
      { rule: 'required!' },
      { rule: 'required', as: 'x' },
      { rule: 'required x' },
      { rule: 'required#1' },
      { rule: 'required@query' },
    ])
      expect(said(violation)).toMatchObject({ code: violation.as ?? violation.rule });
    expect(said({ rule: 'required' })).toEqual(alone);
  });

  test('of what callers and clients make up does not grow without end', () => {
    const renderer = openWorkspace(copyOf('observatory'));
    const heap = (): number => {
      collect();
      return process.memoryUsage().heapUsed / 2 ** 20;
    };
    const turn = (from: number): void => {
      for (let at = from; at < from + 2_000; at++) {
        localeForHeader(`de-x-${at.toString(36)}, en-x-${'y'.repeat(at % 8)}${at};q=0.5`, SPOKEN);
        renderer.render(
          {
            form: 'observing-proposal',
            violations: [
              {
                path: `targets[${at}].name${'.x'.repeat(at % 30)}`,
                rule: `rule-${at}`,
                as: `as-${at}`,
                params: { n: at },
              },
            ],
          },
          { acceptLanguage: `de-${'abcdefgh'.slice(0, 5)}${at % 1000}` },
        );
        renderer.renderProblem('not-found', { form: `form ${at}`, params: { code: `x${at}` } });
      }
    };
    turn(0);
    const before = heap();
    for (let times = 1; times <= 4; times++) turn(times * 2_000);
    // What 8,000 more would keep is several times as much.
    expect(heap() - before).toBeLessThan(25);
  }, 120_000);
});

describe('whatever a client sends as a language', () => {
  const subtag = fc.oneof(
    fc.constantFrom(
      'x',
      'u',
      't',
      'a',
      'yes',
      'true',
      'no',
      'm0',
      'kn',
      'de',
      'DE',
      'Latn',
      '1996',
      '*',
      '',
      'i',
      'klingon',
      'co',
    ),
    fc.string({ maxLength: 9 }),
  );
  const tag = fc.oneof(
    fc.array(subtag, { maxLength: 9 }).map((parts) => ['de', ...parts].join('-')),
    fc.array(subtag, { maxLength: 9 }).map((parts) => parts.join('-')),
    fc.string(),
  );
  test('nothing but an error about tags is thrown', () => {
    fc.assert(
      fc.property(tag, (text) => {
        try {
          const locale = parseLocale(text);
          expect(tryLocale(text)).toBe(locale);
          directionOf(locale);
          for (const shorter of truncations(locale, PARENTS)) expect(typeof shorter).toBe('string');
          new Intl.PluralRules(locale.replace(/-x-.*/, ''));
        } catch (error) {
          if (!(error instanceof LocaleError)) throw error;
        }
      }),
      { numRuns: 2000 },
    );
  });
  test('a language that is spoken is found', () => {
    fc.assert(
      fc.property(fc.array(tag, { maxLength: 6 }), (tags) => {
        expect(['en', 'de', 'en-XA', 'en-XB', 'ar-XB']).toContain(
          localeForHeader(tags.join(', '), SPOKEN),
        );
      }),
    );
  });
  test('a header takes no longer for being wrong', () => {
    const since = Date.now();
    for (let times = 0; times < 200; times++)
      localeForHeader(
        Array.from({ length: 100 }, (_, at) => `qx${times}${at}-zz-yy-xx`).join(','),
        SPOKEN,
      );
    expect(Date.now() - since).toBeLessThan(15_000);
  });
});
