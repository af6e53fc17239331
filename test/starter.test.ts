import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import plurals from 'cldr-core/supplemental/plurals.json' with { type: 'json' };
import { PROBLEM_STATUSES } from '../src/core/body/problems.js';
import { isFormOf, ruleArguments } from '../src/core/check/offers.js';
import { parseLocale } from '../src/core/locale/tag.js';
import { walk } from '../src/core/message/tree.js';
import { FIELD_ARGUMENTS, VOCABULARY } from '../src/core/rules/vocabulary.js';
import { Purposes, type TextKind } from '../src/core/texts/purpose.js';
import { readCatalog } from '../src/core/texts/read.js';
import { World } from './support/world.js';

const folder = path.join(__dirname, '..', 'src', 'starter');
const locales = readdirSync(folder).map((file) => path.basename(file, '.json'));
const cardinal = plurals.supplemental['plurals-type-cardinal'] as Record<string, object>;

/** Categories that only millions or decimals reach; what a starter text counts are small whole numbers. */
const RARE: Record<string, string[]> = { fr: ['many'], es: ['many'], it: ['many'], pt: ['many'] };

test('there are sixteen', () => {
  expect(locales.sort()).toEqual([
    'ar',
    'cs',
    'de',
    'en',
    'es',
    'fr',
    'he',
    'it',
    'ja',
    'ko',
    'nl',
    'pl',
    'pt',
    'tr',
    'uk',
    'zh',
  ]);
});

describe.each(locales)('the starter catalog %s', (tag) => {
  const root = JSON.parse(readFileSync(path.join(folder, `${tag}.json`), 'utf8')) as Record<string, unknown>;
  const { texts, problems, remarks } = readCatalog(root, `${tag}.json`, parseLocale(tag), 'starter', new Purposes()).catalog;
  const keysOf = (kind: TextKind): string[] =>
    texts.filter(({ purpose }) => purpose.kind === kind).map(({ purpose }) => purpose.key);
  const messages = texts.filter(({ purpose }) => purpose.kind === 'message');

  test('has every rule and every problem, and nothing else', () => {
    expect(remarks).toEqual([]);
    expect(keysOf('message').sort()).toEqual([...VOCABULARY.keys()].sort());
    expect([...problems].sort()).toEqual([...PROBLEM_STATUSES.keys()].sort());
    expect(keysOf('problem').sort()).toEqual(
      [...PROBLEM_STATUSES.keys()].flatMap((id) => [`${id} title`, `${id} detail`]).sort(),
    );
    expect(texts.flatMap(({ error, text }) => (error ? [text] : []))).toEqual([]);
  });

  test('asks only for what each rule has on offer', () => {
    for (const entry of messages) {
      const rule = entry.purpose.key;
      const offers = new Set([...FIELD_ARGUMENTS.map(({ name }) => name), ...ruleArguments(rule)]);
      const unknown = [...entry.arguments.keys()].filter(
        (name) => !offers.has(name) && !isFormOf(name, (word) => offers.has(word)),
      );
      expect([rule, unknown]).toEqual([rule, []]);
    }
  });

  test("has the locale's plural categories in every plural", () => {
    const wanted = Object.keys(cardinal[tag] ?? {})
      .map((name) => name.replace('pluralRule-count-', ''))
      .filter((name) => !RARE[tag]?.includes(name));
    for (const { tree, text } of texts) {
      walk(tree, (node) => {
        if (node.kind === 'plural')
          expect([text, node.cases.map(({ selector }) => selector).sort()]).toEqual([text, [...wanted].sort()]);
      });
    }
  });

  test('names every bound, example, choice and other field that its rule has', () => {
    const telling = new Set([
      'min',
      'max',
      'step',
      'choices',
      'example',
      'counterpart',
      'limit',
      'name',
      'first',
      'second',
      'expected',
      'format',
    ]);
    for (const entry of messages) {
      const rule = entry.purpose.key;
      // A size is said with its unit.
      const said = (name: string): boolean => entry.arguments.has(name) || (/^m..$/.test(name) && entry.arguments.has('size'));
      const silent = ruleArguments(rule).filter((name) => telling.has(name) && !said(name));
      expect([rule, silent]).toEqual([rule, []]);
    }
  });

  test('makes sentences without a hole for every rule, on the body, a field and an element', () => {
    const fields = Object.fromEntries(['field', 'list[*].field'].map((one) => [one, { external: Object.fromEntries([]) }]));
    const world = new World({ texts: [], starters: [root], forms: { form: { fields } }, original: tag });
    for (const definition of VOCABULARY.values()) {
      const params = Object.fromEntries(definition.arguments.map(({ name, sample }) => [name, sample]));
      for (const where of ['', 'field', 'list[1].field']) {
        for (const bound of ['value', 'field', 'today']) {
          const { text } = world.say(
            { path: where, rule: definition.id, params: { ...params, bound, counterpart: 'other' }, value: 'x' },
            tag,
          );
          expect(text).not.toMatch(/[{}]|undefined| {2}|^\s|\s$/);
          expect(text.length).toBeGreaterThan(4);
        }
      }
    }
  });
});
