import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { test } from '@jest/globals';

/** `npm run torture -- 50` asks for fifty rounds; at a desk a test runs one, in CI six. */
export const ROUNDS = Number(process.env.TORTURE_ROUNDS ?? (process.env.CI ? 6 : 1));

/**
 * The same numbers again with the same seed; a failure names it. Tests try the same each time, so
 * that a change is told from chance; `npm run torture` looks for what nobody has seen.
 */
export const SEED = Number(
  process.env.TORTURE_SEED ??
    (process.env.TORTURE_ROUNDS === undefined ? 20_270_309 : Date.now() % 1_000_000_007),
);

/** Whether all is tried that takes long: in CI, and where rounds are asked for. */
export const IS_LONG = process.env.CI !== undefined || process.env.TORTURE_ROUNDS !== undefined;

/** A test of which no part is worth its time at a desk. */
export const longTest = IS_LONG ? test : test.skip;

/** Of what takes long, a few at a desk: those that the seed picks. */
export function sampled<T>(all: readonly T[], few = 1): T[] {
  if (IS_LONG) return [...all];
  const random = randomFrom(SEED);
  const left = [...all];
  return Array.from({ length: Math.min(few, all.length) }, () =>
    left.splice(random(left.length), 1),
  ).flat();
}

/** Numbers from 0 up to, but not, a bound: mulberry32. */
export function randomFrom(seed: number): (below: number) => number {
  let state = seed >>> 0;
  return (below) => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) % below;
  };
}

export type Random = ReturnType<typeof randomFrom>;

export const oneOf = <T>(random: Random, list: readonly T[]): T => {
  const found = list[random(list.length)];
  if (found === undefined) throw new Error('nothing to choose from');
  return found;
};

/** What readers stumble over, each for a reason of its own. */
const NASTY = [
  '{',
  '}',
  '[',
  ']',
  '"',
  "'",
  '`',
  ',',
  ':',
  '\n',
  '\t',
  '\0',
  '\\',
  '\\u0000',
  '\ufeff',
  '\u2028',
  '\ud800',
  '<',
  '>',
  '&',
  '&x;',
  '<!--',
  '__proto__',
  'constructor',
  'toString',
  'null',
  'true',
  '-0',
  '1e400',
  '-1',
  '99999999999999999999',
  'NaN',
  '[[[[',
  '{"a":',
  '*',
  '**',
  '..',
  '../',
  '/etc/passwd',
  '%00',
  '%',
  '#/',
  '~2',
  '$ref',
  '&a [*a]',
  '*a',
  '!!js/function',
  '- - -',
  '{n, plural, other {',
  '{{',
  '}}',
  "'{",
  '(a+)+$',
  '\\k<x>',
  '[^',
  '\u202e',
  '\u001b[2J',
  'Ａ',
  '😀',
  'x'.repeat(3000),
  '['.repeat(300),
  '{"a":'.repeat(200),
  '<a>'.repeat(200),
];

/** A text changed in one to four places: cut, doubled, moved, or with something put in. */
export function mutated(text: string, random: Random, pool: readonly string[] = NASTY): string {
  let result = text;
  for (let times = 1 + random(4); times > 0; times--) {
    const at = random(result.length + 1);
    const to = Math.min(result.length, at + random(random(2) === 0 ? 8 : 80));
    switch (random(6)) {
      case 0:
        result = result.slice(0, at) + result.slice(to);
        break;
      case 1:
        result = result.slice(0, to) + result.slice(at);
        break;
      case 2: {
        const target = random(result.length + 1);
        result = result.slice(0, target) + result.slice(at, to) + result.slice(target);
        break;
      }
      case 3:
        result = result.slice(0, at);
        break;
      case 4: {
        // A whole word or value for another.
        const words = [...result.matchAll(/[\w-]+|"[^"]*"/g)];
        const word = words.length > 0 ? words[random(words.length)] : undefined;
        if (word)
          result =
            result.slice(0, word.index) +
            oneOf(random, pool) +
            result.slice(word.index + word[0].length);
        break;
      }
      default:
        result = result.slice(0, at) + oneOf(random, pool) + result.slice(at);
    }
  }
  return result;
}

/** Cases that were found once, by file name; a folder for each kind. */
export function corpus(kind: string): [string, string][] {
  const folder = path.join(__dirname, '..', 'corpus', kind);
  return readdirSync(folder)
    .sort()
    .map((name) => [name, readFileSync(path.join(folder, name), 'utf8')]);
}
