import { describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { KINDS } from '../../src/core/check/kinds.js';
import { VOCABULARY } from '../../src/core/rules/vocabulary.js';
import { MISTAKES, title } from '../support/mistakes.js';
import { WORDING_MISTAKES } from '../support/wording-mistakes.js';
import { World } from '../support/world.js';

const cases = [...MISTAKES, ...WORDING_MISTAKES];

type Json = Record<string, unknown>;

const worldOf = (fields: Json, texts: readonly Json[], asksInline = false): World =>
  new World({ forms: { f: { fields } }, texts: [...texts], asksInline });

describe('each kind finds its mistake, at its place, and nothing in its twin', () => {
  test.each(cases)(
    '$kind: $says',
    ({
      kind,
      severity = 'warning',
      at,
      offset,
      says,
      fields = title,
      texts,
      mended,
      languages = ['en'],
      asksInline,
    }) => {
      const found = worldOf(fields, texts, asksInline)
        .check(...languages)
        .findings.filter((one) => one.kind === kind);
      expect(found.length).toBeGreaterThan(0);
      const [file, ...keys] = at;
      expect(found[0]).toMatchObject({
        severity,
        message: expect.stringContaining(says),
        spot: { file, keys, ...(offset === undefined ? {} : { offset }) },
      });
      const mendedWorld = worldOf(mended.fields ?? fields, mended.texts ?? texts, asksInline);
      const twin = mendedWorld.check(...languages);
      expect(twin.findings.filter((one) => one.kind === kind)).toEqual([]);
    },
  );

  test('all kinds are tested, here or with the readers that notice them, and say how to mend it', () => {
    const here = new Set(cases.map(({ kind }) => kind));
    const elsewhere = [
      'wrong-structure',
      'duplicate-key',
      'duplicate-form',
      'unknown-rule',
      'undeclared-rule',
      'unknown-field',
      'costly-pattern',
      'message-syntax',
      'unknown-argument',
      'missing-message',
      'missing-label',
      'missing-problem',
      'missing-translation',
      'term-missing',
      'term-avoided',
      'translated-twice',
      'unknown-problem',
      'missing-inflection',
      'secret-value',
      'exposed-details',
      'duplicate-request',
      'label-differs',
      'same-label',
      'wrong-example',
      'unused-message',
      'misspelt-key',
      'unused-excuse',
      'only-starter',
      'only-fallback',
      'behind-original',
      'no-example',
      'sample-argument',
      'stale',
      'unreviewed',
    ];
    expect(
      KINDS.map(({ kind }) => kind).filter((kind) => !here.has(kind) && !elsewhere.includes(kind)),
    ).toEqual([]);
    for (const { about, remedy } of KINDS)
      expect([about, remedy]).toEqual([expect.stringMatching(/\.$/), expect.stringMatching(/\.$/)]);
  });
});

test('two forms that call one field differently are told of, once a language', () => {
  const fields = { plate: { type: 'string' }, own: { type: 'string' } };
  const found = (...texts: Json[]): unknown[] =>
    new World({
      forms: { tram: { fields }, shift: { fields: { plate: { type: 'string' } } } },
      texts,
    })
      .check('en', 'de')
      .findings.filter(({ kind }) => kind === 'label-differs')
      .map(({ message, spot }) => [message, spot?.file, spot?.keys]);
  const general = { locale: 'en', fields: { plate: { label: 'number plate' } } };
  const own = { locale: 'en', form: 'shift', fields: { plate: { label: 'sign' } } };
  expect(found(general, own)).toEqual([
    [
      'plate is called “number plate” in tram and “sign” in shift. Where they mean the same, call it the same.',
      '1.json',
      ['fields', 'plate', 'label'],
    ],
  ]);
  expect(found(general, { ...own, locale: 'de' })).toEqual([]);
  expect(found(general, { ...own, fields: { plate: { label: 'number plate' } } })).toEqual([]);
  expect(found(general)).toEqual([]);
});

describe('no false alarm on the starter catalogs', () => {
  const folder = path.join(__dirname, '..', '..', 'src', 'starter');
  const starters = readdirSync(folder).map(
    (file) => JSON.parse(readFileSync(path.join(folder, file), 'utf8')) as Json,
  );
  // One field with every rule of the vocabulary, so that each starter text is in use.
  const everything = Object.fromEntries(
    [...VOCABULARY.values()]
      .filter(({ family }) => family !== 'schema')
      .map(({ id, parameters, bySibling }) => {
        const [main] = parameters;
        const samples: Json = {
          flag: main?.on ?? true,
          count: 3,
          number: 3,
          text: 'x',
          regex: 'x',
          value: 1,
          list: ['a'],
          types: 'string',
          format: 'date',
          date: '2027-02-01',
          field: 'other',
        };
        if (id.startsWith('min') && id.endsWith('Contains')) return [id, { min: 1, expected: 1 }];
        if (id === 'maxContains') return [id, { max: 2, expected: 1 }];
        if (id === 'range') return [id, { min: 1, max: 2 }];
        if (main?.type === 'table') return [id, { table: 't', column: 'c' }];
        return [id, bySibling && main?.type === 'field' ? 'other' : samples[main?.type ?? 'text']];
      }),
  );

  test.each(starters.map((starter) => [String(starter.locale), starter] as const))(
    '%s',
    (locale, starter) => {
      const world = new World({
        forms: { f: { fields: { list: { maxItems: 9 }, 'list[*].a': everything, other: {} } } },
        texts: [starter],
        original: locale,
      });
      const wording = [
        'vague-message',
        'wrong-script',
        'spacing',
        'end-mark',
        'mixed-direction',
        'markup',
        'raw-path',
        'plural-gap',
        'plural-extra',
        'select-mismatch',
        'same-text',
        'nested-too-deep',
        'message-syntax',
      ];
      expect(
        world
          .check(locale)
          .findings.filter(({ kind }) => wording.includes(kind))
          .map(({ kind, message: said, spot }) => [kind, said, spot?.keys]),
      ).toEqual([]);
    },
  );
});
