// A merge of catalogs, held against a merge of maps from paths to texts.
import { expect, test } from '@jest/globals';
import { parse, type ParseError } from 'jsonc-parser';
import { mergeFile } from '../../src/workspace/merging/merge.js';
import { oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

/** Texts by the keys that lead to them, with slashes between. */
type Texts = ReadonlyMap<string, string>;

const PLACES = ['messages', 'fields/host', 'fields/host/messages', 'words/type', 'problems/gone'];
const NAMES = ['a', 'b', 'c', 'd', 'e', 'f', 'g', '__proto__', 'ä "q" \\', 'label'];

let made = 0;
const newText = (): string => `text ${made++}`;

/** Whether a text and an object would stand at one place. */
const clashes = (texts: Texts, path: string): boolean =>
  [...texts.keys()].some((one) => one.startsWith(`${path}/`) || path.startsWith(`${one}/`));

function changed(texts: Texts, random: Random): Map<string, string> {
  const result = new Map(texts);
  for (let times = random(6); times > 0; times--) {
    const path = `${oneOf(random, PLACES)}/${oneOf(random, NAMES)}`;
    if (result.has(path) && random(10) < 4) result.delete(path);
    else if (!clashes(result, path) && !clashes(texts, path)) result.set(path, newText());
  }
  // Somebody sorts, or puts things where they like.
  return random(10) < 3 ? new Map([...result].sort(() => random(3) - 1)) : result;
}

/** A file of texts, in lines or in one, with comments, with other line ends. */
function written(texts: Texts, layout: (value: unknown) => string): string {
  const root: Record<string, unknown> = { locale: 'de' };
  for (const [path, text] of texts) {
    const keys = path.split('/');
    const last = keys.pop() ?? '';
    let at = root;
    for (const key of keys)
      at = (Object.hasOwn(at, key) ? at[key] : (at[key] = {})) as Record<string, unknown>;
    Object.defineProperty(at, last, {
      value: text,
      enumerable: true,
      configurable: true,
      writable: true,
    });
  }
  return layout(root);
}

const LAYOUTS: ((value: unknown) => string)[] = [
  (value) => JSON.stringify(value),
  (value) => `${JSON.stringify(value, undefined, 2)}\n`,
  (value) => `// of ours\n${JSON.stringify(value, undefined, '\t').replace(/\n/g, '\r\n')}\r\n`,
  (value) =>
    `${JSON.stringify(value, undefined, 2).replace('"messages"', '/* rules */ "messages"')}\n`,
];

/** The texts of a file; objects that hold none do not count. */
function textsOf(file: string): Record<string, string> {
  const errors: ParseError[] = [];
  const found: Record<string, string> = {};
  const collect = (value: unknown, keys: readonly string[]): void => {
    if (typeof value === 'string') found[keys.join('/')] = value;
    else for (const [key, one] of Object.entries(value as object)) collect(one, [...keys, key]);
  };
  // The parser of comments gives members of every name away but one.
  const root = parse(file.replaceAll('"__proto__"', '"_proto"'), errors, {
    allowTrailingComma: true,
  }) as unknown;
  expect([file, errors]).toEqual([file, []]);
  collect(root, []);
  return found;
}

const expected = (texts: Texts): Record<string, string> => ({
  locale: 'de',
  ...Object.fromEntries(
    [...texts].map(([path, text]) => [path.replace('__proto__', '_proto'), text]),
  ),
});

/** The file with all that is marked decided for one side. */
const decided = (text: string, side: 'ours' | 'theirs'): string =>
  text.replace(
    /<{7} ours\r?\n([^]*?)={7}\r?\n([^]*?)>{7} theirs\r?\n/g,
    side === 'ours' ? '$1' : '$2',
  );

function joined(base: Texts, ours: Texts, theirs: Texts, side: 'ours' | 'theirs'): Texts {
  const result = new Map<string, string>();
  for (const path of new Set([...base.keys(), ...ours.keys(), ...theirs.keys()])) {
    const [was, our, their] = [base, ours, theirs].map((one) => one.get(path));
    const text = our === was ? their : their === was ? our : side === 'ours' ? our : their;
    if (text !== undefined) result.set(path, text);
  }
  return result;
}

test('what one side changed is in, what both changed is marked, whatever the layout', () => {
  const random = randomFrom(SEED);
  for (let round = 0; round < 150 * ROUNDS; round++) {
    const base = changed(changed(changed(new Map(), random), random), random);
    const [ours, theirs] = [changed(base, random), changed(base, random)];
    const layout = oneOf(random, LAYOUTS);
    const other = random(10) < 8 ? layout : oneOf(random, LAYOUTS);
    const three = {
      base: written(base, layout),
      ours: written(ours, layout),
      theirs: written(theirs, other),
    };
    const { text, conflicts } = mergeFile('de.jsonc', three);
    for (const side of ['ours', 'theirs'] as const)
      expect([round, three, textsOf(decided(text, side))]).toEqual([
        round,
        three,
        expected(joined(base, ours, theirs, side)),
      ]);
    const isClear =
      JSON.stringify([...joined(base, ours, theirs, 'ours')].sort()) ===
      JSON.stringify([...joined(base, ours, theirs, 'theirs')].sort());
    expect([round, conflicts.length === 0]).toEqual([round, isClear]);
  }
});
