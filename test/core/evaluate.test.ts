import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { withoutSecrets } from '../../src/core/rules/evaluate.js';
import { VOCABULARY } from '../../src/core/rules/vocabulary.js';

import { broken, formOf, run, said, type Json } from '../support/judging.js';

/** A rule of a field `f`, values that pass it, and values that break it. */
const table: [string, Json, unknown[], unknown[]][] = [
  ['required', { required: true }, ['x', 0, false, [], {}], [undefined, null, '', ' \t\n']],
  ['absent', { absent: true }, [undefined, null], ['', 0, false, []]],
  [
    'atLeastOne',
    { atLeastOne: ['a', 'b.c'] },
    [{ a: 1 }, { b: { c: 0 } }, { a: 1, b: { c: 2 } }, undefined, 'x'],
    [{}, { a: null }, { a: ' ' }, { b: {} }],
  ],
  ['exactlyOne', { exactlyOne: ['a', 'b'] }, [{ a: 1 }, { b: 0, a: '' }], [{}, { a: 1, b: 2 }]],
  ['type', { type: 'integer' }, [3, 3.0, -1e20, undefined, null], [3.5, '3', true, [], {}]],
  ['type', { type: ['string', 'boolean'] }, ['', false], [0, [], {}]],
  ['type', { type: 'object' }, [{}], [[], 'x']],
  [
    'format',
    { format: 'email' },
    ['name@domain.example', 5],
    ['at domain.example', '', 'a@b', 'x'.repeat(70_000)],
  ],
  ['format', { format: 'date' }, ['2028-02-29'], ['2027-02-29', '9 March', '2027-3-9']],
  ['format', { format: 'time' }, ['21:30:00Z', '21:30:00+01:00'], ['25:00:00Z', '21:30']],
  ['format', { format: 'date-time' }, ['2027-03-09T21:30:00Z'], ['2027-03-09 25:30']],
  ['format', { format: 'uri' }, ['https://domain.example/page'], ['page', '/page']],
  ['format', { format: 'uuid' }, ['2f1c9e0a-51d3-4c8e-9b7a-0d6f3e2a4b18'], ['2f1c9e0a']],
  ['format', { format: 'ipv4' }, ['192.0.2.7'], ['192.0.2.256', '192.0.2']],
  ['format', { format: 'ipv6' }, ['2001:db8::7'], ['2001:db8:::7']],
  ['format', { format: 'hostname' }, ['dome.domain.example'], ['-dome', 'a b']],
  ['format', { format: 'duration' }, ['PT45M', 'P1W'], ['45M', 'P']],
  ['format', { format: 'json-pointer' }, ['/targets/2', ''], ['targets', '/~2']],
  [
    'const',
    { const: { expected: { a: [1, 2], b: null } } },
    [{ b: null, a: [1, 2] }],
    [{ a: [2, 1], b: null }, 'x'],
  ],
  ['minLength', { minLength: 2 }, ['ab', '🔭🔭', 7], ['a', '🔭']],
  ['maxLength', { maxLength: 2 }, ['ab', '🔭🔭', ''], ['abc', '🔭🔭🔭']],
  ['minItems', { minItems: 1 }, [[0], 'x'], [[]]],
  ['maxItems', { maxItems: 1 }, [[], [0]], [[0, 0]]],
  ['minProperties', { minProperties: 1 }, [{ a: 1 }, []], [{}]],
  ['maxProperties', { maxProperties: 1 }, [{ a: 1 }], [{ a: 1, b: 2 }]],
  ['contains', { contains: { expected: 'ha' } }, [['o3', 'ha'], 'x'], [[], ['o3']]],
  ['minContains', { minContains: { min: 2, expected: 1 } }, [[1, 1.0, 2]], [[1, 2], []]],
  ['maxContains', { maxContains: { max: 1, expected: 1 } }, [[1, 2], []], [[1, 1]]],
  ['minimum', { minimum: 1 }, [1, 2, '0'], [0.99]],
  ['maximum', { maximum: 1 }, [1, -5], [1.01]],
  ['exclusiveMinimum', { exclusiveMinimum: 1 }, [1.01], [1]],
  ['exclusiveMaximum', { exclusiveMaximum: 1 }, [0.99], [1]],
  ['range', { range: { min: 0.1, max: 9 } }, [0.1, 9], [0, 9.01]],
  ['multipleOf', { multipleOf: 0.1 }, [0.3, 1.1, 0, -0.7], [0.35, 0.1000001]],
  ['pattern', { pattern: '^\\d{4}[AB]$' }, ['2027A', 2027], ['2027C', 'x2027A']],
  ['beginsWith', { beginsWith: 'OBS-' }, ['OBS-1', 5], ['obs-1', '']],
  ['finishesWith', { finishesWith: '.fits' }, ['a.fits'], ['a.FITS', '.fit']],
  ['containsText', { containsText: 'NGC' }, ['in NGC 7'], ['ngc', '']],
  ['letterCase', { letterCase: 'upper' }, ['ΑΒΓ-7', '7', '東'], ['aB', 'ǆ', 'ß']],
  ['letterCase', { letterCase: 'lower' }, ['αβ-7', '東'], ['aB', 'ǅ']],
  ['minBytes', { minBytes: 3 }, ['abc', 'é1', { size: 3 }, 7, {}], ['ab', 'é', { size: 2 }]],
  [
    'maxBytes',
    { maxBytes: 3 },
    ['abc', '東', new Blob(['abc']), [1, 2, 3, 4]],
    ['東1', { size: 4 }, new Blob(['abcd'])],
  ],
  [
    'mediaType',
    { mediaType: ['image/png', 'text/*'] },
    [{ type: 'Image/PNG' }, { mediaType: 'text/csv; charset=utf-8' }, { type: 5 }, 'x'],
    [{ type: 'image/jpeg' }, new Blob([], { type: 'image/gif' })],
  ],
  ['enum', { enum: ['ha', 3, null] }, ['ha', 3, 3.0], ['HA', '3', 0]],
  ['noneOf', { noneOf: ['admin', 'root'] }, ['lead'], ['root']],
  [
    'uniqueItems',
    { uniqueItems: true },
    [[1, '1', [1], { a: 1 }, { b: 1 }]],
    [
      [1, 2, 1],
      [
        { a: 1, b: 2 },
        { b: 2, a: 1 },
      ],
    ],
  ],
  ['additionalProperties', { additionalProperties: false }, [{}], [{ colour: 1 }]],
  ['propertyNames', { propertyNames: '^[a-z]+$' }, [{ abc: 1 }], [{ ABC: 1 }]],
  [
    'earliest',
    { earliest: '2027-02-01' },
    ['2027-02-01', '2027-01-31T23:30:00Z', 'soon'],
    ['2027-01-31', '2027-01-31T22:30:00Z'],
  ],
  [
    'earliest',
    { earliest: { limit: '2027-02-01', exclusive: true } },
    ['2027-02-02'],
    ['2027-02-01'],
  ],
  [
    'latest',
    { latest: 'today' },
    ['2027-03-09', '2027-03-09T22:59:00Z'],
    ['2027-03-10', '2027-03-09T23:00:00Z'],
  ],
  ['latest', { latest: '12:00:00Z' }, ['11:59:00Z', '12:30:00+01:00'], ['12:00:01Z']],
  [
    'knownIn',
    { knownIn: { table: 't', column: 'code' } },
    ['echelle', 'plates', 7],
    ['spyglass', ''],
  ],
  [
    'knownIn',
    { knownIn: { table: 't', column: 'code', having: { retired: 'no' } } },
    ['echelle'],
    ['plates'],
  ],
  ['knownIn', { knownIn: { table: 't', column: 'cde' } }, ['spyglass'], []],
  ['newIn', { newIn: { table: 't', column: 'code' } }, ['spyglass'], ['echelle']],
];

describe('the rules', () => {
  test.each(table)('%s %j', (rule, declared, fine, wrong) => {
    for (const value of fine)
      expect([value, broken({ f: declared }, { f: value })]).toEqual([value, []]);
    for (const value of wrong)
      expect([value, broken({ f: declared }, { f: value })]).toEqual([value, [`f ${rule}`]]);
  });

  test('each rule that a sheet can state has a test and stands in the table above, or below', () => {
    const above = new Set(table.map(([rule]) => rule));
    const below = ['dependentRequired', 'repeats', 'differsFrom', 'unevaluatedProperties'];
    const stated = [...VOCABULARY.values()].filter(({ family }) => family !== 'schema');
    for (const { id, test: check } of stated)
      expect([id, check !== undefined, above.has(id) || below.includes(id)]).toEqual([
        id,
        true,
        true,
      ]);
  });

  test('what a violation tells: the declared parameters, what was measured, which entries clash, which member is too much', () => {
    const tell = (fields: Json, f: unknown): unknown =>
      run(formOf({ f: fields }), { body: { f } }).map(({ params }) => params);
    expect(tell({ maxLength: 2 }, 'abc')).toEqual([{ max: 2, actual: 3 }]);
    expect(tell({ uniqueItems: true }, ['a', 'b', 'a'])).toEqual([{ first: 1, second: 3 }]);
    expect(tell({ additionalProperties: false }, { x: 1, y: 2 })).toEqual([
      { name: 'x' },
      { name: 'y' },
    ]);
    expect(tell({ required: true }, null)).toEqual([undefined]);
  });
});

describe('other fields', () => {
  test('bounds, repetition and dates by another field; the element in hand stands for [*]', () => {
    const fields = {
      'slots[*].from': { format: 'date' },
      'slots[*].to': { earliest: { field: 'slots[*].from' } },
      least: {},
      most: { minimum: { field: 'least' } },
      word: {},
      again: { repeats: 'word' },
      hint: { differsFrom: 'word' },
      phone: { dependentRequired: 'callMe' },
      callMe: {},
    };
    const slots = [
      { from: '2027-03-01', to: '2027-03-02' },
      { from: '2027-03-05', to: '2027-03-04' },
    ];
    expect(
      broken(fields, { slots, least: 3, most: 2, word: 'a', again: 'b', hint: 'a', callMe: true }),
    ).toEqual([
      'slots[1].to earliest',
      'most minimum',
      'again repeats',
      'hint differsFrom',
      'phone dependentRequired',
    ]);
    // What the other field lacks bounds nothing; a repetition of nothing is none.
    expect(
      broken(fields, { slots: [{ to: '2027-03-04' }], maxViolations: 2, again: 'b', hint: 'a' }),
    ).toEqual(['again repeats']);
    const [violation] = run(formOf(fields), { body: { slots: slots.slice(1) } });
    expect(violation?.params).toEqual({ counterpart: 'slots[0].from' });
  });

  test('onlyIf: a value, one of several, absence', () => {
    const fields = {
      'targets[*].kind': {},
      'targets[*].magnitude': {
        maximum: [{ max: 25 }, { max: 21, as: 'too-faint', onlyIf: { instrument: 'echelle' } }],
      },
      'targets[*].epoch': { required: { onlyIf: { 'targets[*].kind': ['comet', 'planet'] } } },
      instrument: {},
      reason: { required: { onlyIf: { instrument: { absent: true } } } },
    };
    const targets = [
      { kind: 'comet', magnitude: 26 },
      { kind: 'star', magnitude: 22 },
    ];
    expect(broken(fields, { instrument: 'echelle', targets })).toEqual([
      'targets[0].magnitude maximum',
      'targets[0].magnitude too-faint',
      'targets[0].epoch required',
      'targets[1].magnitude too-faint',
    ]);
    expect(broken(fields, { targets: [] })).toEqual(['reason required']);
  });
});

test('a field that is trimmed is judged and told of without the blanks at both ends', () => {
  const index = formOf({
    title: { trim: true, maxLength: 3, required: true },
    again: { trim: true, repeats: 'title' },
  });
  const told = (body: unknown): unknown[] =>
    run(index, { body }).map(({ path, rule, value }) => [path, rule, value]);
  expect(told({ title: '  abc ', again: 'abc' })).toEqual([]);
  expect(told({ title: '  abcd ', again: '\tabce' })).toEqual([
    ['title', 'maxLength', 'abcd'],
    ['again', 'repeats', 'abce'],
  ]);
});

describe('presence and order', () => {
  const fields = {
    'lead.name': { required: true, type: 'string' },
    'lead.email': { format: 'email' },
    title: {
      type: 'string',
      trim: true,
      required: true,
      minLength: 3,
      pattern: '^[A-Z]',
      maxLength: 8,
    },
    'targets[*].name': { required: true },
    'targets[*].exposures[*].seconds': { required: true, minimum: 1 },
    'extras.*': { maxLength: 2 },
    contact: { optional: true },
    'contact.phone': { required: true },
  };

  test.each<[string, unknown, string[]]>([
    ['nothing at all', {}, ['lead.name required', 'title required']],
    [
      'null, as if nothing were given',
      { lead: null, title: null, targets: null },
      ['lead.name required', 'title required'],
    ],
    [
      'a wrong type, alone',
      { lead: 'me', title: 7, targets: {} },
      ['lead type', 'title type', 'targets type'],
    ],
    ['the body itself', [], [' type']],
    [
      'two rules of one field',
      { lead: { name: 'I' }, title: ' a ' },
      ['title minLength', 'title pattern'],
    ],
    [
      'no pattern on what is too long',
      { lead: { name: 'I' }, title: 'a'.repeat(9) },
      ['title maxLength'],
    ],
    [
      'an object that is there',
      { lead: { name: 'I' }, title: 'Abc', contact: {} },
      ['contact.phone required'],
    ],
    [
      'as one reads the document',
      {
        title: 'Abc',
        extras: { b: 'xxx', a: 'yyy' },
        targets: [{ exposures: [{ seconds: 0 }, {}] }, 5],
        lead: { email: 'x' },
      },
      [
        'lead.name required',
        'lead.email format',
        'targets[0].name required',
        'targets[0].exposures[0].seconds minimum',
        'targets[0].exposures[1].seconds required',
        'targets[1] type',
        'extras.b maxLength',
        'extras.a maxLength',
      ],
    ],
  ])('%s', (_, body, expected) => {
    expect(broken(fields, body)).toEqual(expected);
  });

  test('a partial form asks only for what is sent', () => {
    expect(broken(fields, { title: '', targets: [{}] }, { partial: true })).toEqual([
      'title required',
    ]);
  });

  test('the most literal pattern speaks for a place; .. reaches any depth', () => {
    expect(
      broken({ 'a[*]': { maxLength: 1 }, 'a[0]': { maxLength: 3 } }, { a: ['xx', 'xx'] }),
    ).toEqual(['a[1] maxLength']);
    const tree = { name: 'x', children: [{ children: [{ name: 'xxx' }] }] };
    expect(
      broken({ '..name': { maxLength: 2 }, '..children[*].name': { required: true } }, tree),
    ).toEqual(['children[0].name required']);
  });

  test('parameters come as texts; header names in any case', () => {
    const index = formOf(
      {},
      {
        query: {
          page: { type: 'integer', minimum: 1 },
          tags: { type: 'array', maxItems: 1 },
          dry: { type: 'boolean' },
        },
        header: { 'X-Station': { required: true } },
        path: { id: { pattern: '^\\d+$' } },
      },
    );
    const request = {
      query: { page: '0', tags: ['a', 'b'], dry: 'yes' },
      path: { id: 'x' },
      header: { 'x-station': 'north' },
    };
    expect(said(run(index, request))).toEqual([
      'page minimum',
      'tags maxItems',
      'dry type',
      'id pattern',
    ]);
    expect(said(run(index, { query: { page: '2', tags: 'a', dry: 'true' }, header: {} }))).toEqual([
      'X-Station required',
    ]);
  });

  test('values that are secret, or hold something secret, are not shown', () => {
    const index = formOf({
      login: { maxProperties: 1 },
      'login.word': { secret: true, minLength: 9 },
      name: { minLength: 9 },
    });
    const violations = run(index, {
      body: { login: { word: 'hidden', user: 'x' }, name: 'shown' },
    });
    expect(withoutSecrets(violations, index).map(({ value }) => value)).toEqual([
      undefined,
      undefined,
      'shown',
    ]);
  });
});

describe('hostile payloads', () => {
  test('names that prototypes have are members like any other', () => {
    const fields = {
      constructor: { required: true },
      '__proto__.x': { required: true },
      toString: { maxLength: 1 },
    };
    expect(broken(fields, {})).toEqual(['constructor required', '__proto__.x required']);
    expect(
      broken(fields, JSON.parse('{"constructor":"x","__proto__":{"x":1},"toString":"xx"}')),
    ).toEqual(['toString maxLength']);
  });

  test('depth costs no stack', () => {
    let deep: unknown = 'x';
    for (let level = 0; level < 100_000; level++) deep = [deep];
    expect(broken({ f: { uniqueItems: true, const: { expected: 1 } } }, { f: deep })).toEqual([
      'f const',
    ]);
  });

  test('any JSON gets an answer, the same one each time, in the order of the document', () => {
    const index = formOf({
      a: { required: true, maxLength: 2, type: 'string' },
      'b[*].c': { required: true, minimum: 3 },
      'b[*]': { maxProperties: 1 },
      'm.*': { type: 'number' },
      '..z': { absent: true },
    });
    const key = fc.constantFrom('a', 'b', 'c', 'm', 'z', '__proto__');
    const { value } = fc.letrec((tie) => ({
      value: fc.oneof(
        { maxDepth: 4 },
        fc.constantFrom(null, '', 'abc', 0, 5, true),
        fc.array(tie('value'), { maxLength: 3 }),
        fc.dictionary(key, tie('value')),
      ),
    }));
    fc.assert(
      fc.property(value, (body) => {
        const violations = run(index, { body });
        expect(run(index, { body: structuredClone(body) })).toEqual(violations);
        const types = new Set(
          violations.filter(({ rule }) => rule === 'type').map(({ path }) => path),
        );
        for (const { path, rule } of violations)
          expect(types.has(path) && rule !== 'type').toBe(false);
      }),
    );
  });
});
