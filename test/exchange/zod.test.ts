import { readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import * as z from 'zod';
import {
  formatKey,
  formatMeant,
  formatSaid,
  FORMAT_NAMES,
} from '../../src/core/rules/format-names.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import { VOCABULARY } from '../../src/core/rules/vocabulary.js';
import { valueText } from '../../src/core/text/value.js';
import type { Unread, Warning } from '../../src/core/violation/warning.js';
import { hasFormat } from '../../src/exchange/schema/formats.js';
import { violationsOf } from '../../src/exchange/keywords/failure.js';
import { fromZodIssues } from '../../src/exchange/violations/zod.js';
import { fromZod } from '../../src/library.js';

/** What is told of an input: `path rule params`, each in one line. */
function told(schema: z.ZodType, input: unknown, withPayload = false): string[] {
  const { error } = schema.safeParse(input);
  if (!error) throw new Error('nothing is broken');
  const failures = fromZodIssues(error, {
    strict: true,
    ...(withPayload ? { payload: { value: input } } : {}),
  });
  return violationsOf(failures).map(({ path: at, rule, params }) =>
    [at, rule, params ? JSON.stringify(params) : ''].join(' ').trim(),
  );
}

const day = new Date('2027-02-01T00:00:00Z');
const png = (bytes: number, type = 'image/png'): File =>
  new File(['x'.repeat(bytes)], 'a.png', { type });

const CASES: [string, z.ZodType, unknown, ...string[]][] = [
  ['a text', z.string(), 5, 'type {"expected":"string"}'],
  ['a number', z.number(), 'x', 'type {"expected":"number"}'],
  ['no number', z.number(), Number.NaN, 'type {"expected":"number"}'],
  ['endless', z.number(), Infinity, 'type {"expected":"number"}'],
  ['a whole number', z.int(), 1.5, 'type {"expected":"integer"}'],
  ['a big number', z.bigint(), 5, 'type {"expected":"integer"}'],
  ['true or false', z.boolean(), 'x', 'type {"expected":"boolean"}'],
  ['null', z.null(), 5, 'type {"expected":"null"}'],
  ['undefined', z.undefined(), 5, 'absent'],
  ['void', z.void(), 5, 'absent'],
  ['never', z.never(), 5, 'false'],
  ['nan', z.nan(), 5, 'const {"expected":"NaN"}'],
  ['a list', z.array(z.string()), 'x', 'type {"expected":"array"}'],
  ['a tuple', z.tuple([z.string()]), 'x', 'type {"expected":"array"}'],
  ['a set', z.set(z.string()), 'x', 'type {"expected":"array"}'],
  ['an object', z.object({}), 'x', 'type {"expected":"object"}'],
  ['a record', z.record(z.string(), z.number()), 'x', 'type {"expected":"object"}'],
  ['a map', z.map(z.string(), z.number()), 'x', 'type {"expected":"object"}'],
  ['a file', z.file(), 'x', 'type {"expected":"file"}'],
  ['a date', z.date(), 'x', 'format {"format":"date-time"}'],
  ['no date', z.coerce.date(), 'x', 'format {"format":"date-time"}'],
  ['given', z.string(), undefined, 'required'],
  ['not optional', z.nonoptional(z.string().optional()), undefined, 'required'],
  ['a literal', z.literal('x'), 'y', 'const {"expected":"x"}'],
  ['null as a literal', z.literal(null), 'y', 'const {"expected":null}'],
  ['a big literal', z.literal(5n), 'y', 'const {"expected":5}'],
  ['undefined as a literal', z.literal(undefined), 'y', 'absent'],
  ['literals', z.literal(['x', 5, null]), 'y', 'enum {"choices":["x",5,null]}'],
  ['names', z.enum(['a', 'b']), 'c', 'enum {"choices":["a","b"]}'],
  [
    'yes or no',
    z.stringbool({ truthy: ['yes'], falsy: ['no'] }),
    'x',
    'enum {"choices":["yes","no"]}',
  ],
  ['short', z.string().min(3), 'x', 'minLength {"min":3}'],
  ['long', z.string().max(3), 'xxxx', 'maxLength {"max":3}'],
  ['of a length', z.string().length(3), 'x', 'minLength {"min":3}'],
  ['few', z.array(z.any()).min(1), [], 'minItems {"min":1}'],
  ['many', z.array(z.any()).max(1), [1, 2], 'maxItems {"max":1}'],
  ['behind a tuple', z.tuple([z.any()]), [1, 2], 'maxItems {"max":1}'],
  ['before a tuple', z.tuple([z.any(), z.any()]), [1], 'minItems {"min":2}'],
  ['few of a set', z.set(z.any()).min(1), new Set(), 'minItems {"min":1}'],
  ['many of a set', z.set(z.any()).max(1), new Set([1, 2]), 'maxItems {"max":1}'],
  ['few of a map', z.map(z.any(), z.any()).min(1), new Map(), 'minProperties {"min":1}'],
  ['least', z.number().min(5), 4, 'minimum {"min":5}'],
  ['more', z.number().gt(5), 5, 'exclusiveMinimum {"min":5}'],
  ['most', z.number().max(5), 6, 'maximum {"max":5}'],
  ['less', z.number().lt(5), 5, 'exclusiveMaximum {"max":5}'],
  ['a safe whole number', z.int(), 2 ** 60, `maximum {"max":${Number.MAX_SAFE_INTEGER}}`],
  ['big least', z.bigint().min(5n), 4n, 'minimum {"min":5}'],
  ['beyond all numbers', z.bigint().max(2n ** 70n), 2n ** 71n, `maximum {"max":"${2n ** 70n}"}`],
  ['big steps', z.bigint().multipleOf(5n), 4n, 'multipleOf {"step":5}'],
  ['steps', z.number().multipleOf(0.5), 0.7, 'multipleOf {"step":0.5}'],
  ['early', z.date().min(day), new Date(0), 'earliest {"limit":"2027-02-01T00:00:00.000Z"}'],
  [
    'late',
    z.date().max(day),
    new Date('2030-01-01'),
    'latest {"limit":"2027-02-01T00:00:00.000Z"}',
  ],
  ['small', z.file().min(10), png(3), 'minBytes {"min":10}'],
  ['large', z.file().max(2), png(3), 'maxBytes {"max":2}'],
  [
    'of a type',
    z.file().mime(['image/png', 'image/jpeg']),
    png(1, 'text/plain'),
    'mediaType {"types":["image/png","image/jpeg"]}',
  ],
  [
    'of one type',
    z.file().mime('image/png'),
    png(1, 'text/plain'),
    'mediaType {"types":["image/png"]}',
  ],
  ['begins', z.string().startsWith('OBS-'), 'x', 'beginsWith {"text":"OBS-"}'],
  ['ends', z.string().endsWith('.fits'), 'x', 'finishesWith {"text":".fits"}'],
  ['contains', z.string().includes('HRF'), 'x', 'containsText {"text":"HRF"}'],
  ['lower', z.string().lowercase(), 'X', 'letterCase {"case":"lower"}'],
  ['upper', z.string().uppercase(), 'x', 'letterCase {"case":"upper"}'],
  ['an expression', z.string().regex(/^\d{4}[AB]$/i), 'x', 'pattern {"regex":"^\\\\d{4}[AB]$"}'],
  [
    'an expression that is a beginning',
    z.string().regex(/^OBS-.*/),
    'x',
    'beginsWith {"text":"OBS-"}',
  ],
  [
    'a template',
    z.templateLiteral(['run-', z.number()]),
    'x',
    'pattern {"regex":"^run--?\\\\d+(?:\\\\.\\\\d+)?$"}',
  ],
  [
    'a format of its own',
    z.stringFormat('dome-code', /^D\d$/),
    'x',
    'format {"format":"dome-code"}',
  ],
  [
    'a hash',
    z.hash('sha256'),
    'x',
    'format {"format":"digest","algorithm":"sha-256","encoding":"hex"}',
  ],
  [
    'another hash',
    z.hash('sha512', { enc: 'base64url' }),
    'x',
    'format {"format":"digest","algorithm":"sha-512","encoding":"base64url"}',
  ],
  ['a host', z.hostname(), '-', 'format {"format":"hostname"}'],
  ['hex', z.hex(), 'x', 'format {"format":"hex"}'],
  ['a hardware address', z.mac(), 'x', 'format {"format":"mac"}'],
  [
    'unknown members',
    z.strictObject({}),
    { a: 1, b: 2 },
    'additionalProperties {"name":"a"}',
    'additionalProperties {"name":"b"}',
  ],
  [
    'names of members',
    z.record(z.string().regex(/^k/), z.any()),
    { x: 1 },
    'propertyNames {"name":"x"}',
  ],
  [
    'names of members that must be there',
    z.record(z.enum(['a', 'b']), z.number()),
    { a: 1 },
    'b required',
  ],
  [
    'keys of a map',
    z.map(z.string().min(2), z.any()),
    new Map([['x', 1]]),
    'x minLength {"min":2}',
  ],
  [
    'elements of a map',
    z.map(z.string(), z.number()),
    new Map([['x', 'y']]),
    'x type {"expected":"number"}',
  ],
  [
    'elements of a map under objects',
    z.map(z.object({}), z.number()),
    new Map([[{}, 'y']]),
    'type {"expected":"number"}',
  ],
  ['elements of a set', z.set(z.string()), new Set([5]), 'type {"expected":"string"}'],
  ['types', z.union([z.string(), z.number()]), true, 'type {"expected":["string","number"]}'],
  ['one or nothing', z.string().nullable(), 5, 'type {"expected":"string"}'],
  [
    'literals of a union',
    z.union([z.literal('a'), z.literal('b')]),
    'c',
    'enum {"choices":["a","b"]}',
  ],
  [
    'a discriminator',
    z.discriminatedUnion('kind', [
      z.object({ kind: z.literal('a') }),
      z.object({ kind: z.literal('b') }),
    ]),
    { kind: 'c' },
    'kind enum {"choices":["a","b"]}',
  ],
  ['one only', z.xor([z.string(), z.string().min(1)]), 'x', 'oneOf'],
  [
    'both',
    z.intersection(z.object({ a: z.string() }), z.object({ b: z.string() })),
    { a: 'x' },
    'b required',
  ],
  [
    'a rule of ours',
    z.string().refine(() => false, { params: { rule: 'fits', hours: 6n } }),
    'x',
    'fits {"hours":6}',
  ],
];

test('values that JSON has not are shown, and found in maps', () => {
  const input = { far: 2n ** 70n, when: day, at: new Map([['x', new Set([1])]]) };
  const schema = z.object({
    far: z.bigint().max(5n),
    when: z.date().min(new Date('2030-01-01')),
    at: z.map(z.string(), z.number()),
  });
  const violations = fromZod(schema.safeParse(input), { payload: input });
  expect(violations.map(({ path: at, value }) => [at, valueText(value, 40)])).toEqual([
    ['far', String(2n ** 70n)],
    ['when', '2027-02-01T00:00:00.000Z'],
    ['at.x', '[1]'],
  ]);
});

describe('issues of Zod', () => {
  test.each(CASES)('%s', (_, schema, input, ...expected) => {
    expect(told(schema, input)).toEqual(expected);
    // With the payload at hand nothing else is told, but for what only it knows.
    if (typeof input === 'string' || typeof input === 'number')
      expect(told(schema, input, true)).toEqual(expected);
  });

  const declarations = (file: string): string =>
    readFileSync(path.join(__dirname, '../../node_modules/zod/v4', file), 'utf8');
  const names = (text: string, before: RegExp): string[] =>
    Array.from((before.exec(text)?.[1] ?? '').matchAll(/"([\w-]+)"/g), ([, name = '']) => name);

  test('every format of the library has a rule; every format that we know has a name and an example that fits', () => {
    const listed = names(declarations('core/checks.d.ts'), /\$ZodStringFormats = ([^;]+);/);
    const said =
      /const FormatDictionary = \{([^}]+)\}/.exec(declarations('locales/en.js'))?.[1] ?? '';
    const all = new Set([
      ...listed,
      ...Array.from(said.matchAll(/^\s*(\w+):/gm), ([, name = '']) => name),
    ]);
    expect(all.size).toBeGreaterThan(34);
    for (const format of all) {
      const issue = {
        code: 'invalid_format',
        format,
        path: [],
        message: '',
        prefix: 'a',
        suffix: 'a',
        includes: 'a',
        pattern: '/a+/',
      };
      const [failure] = violationsOf(fromZodIssues([issue], { strict: true }));
      expect([format, VOCABULARY.has(failure?.rule ?? '')]).toEqual([format, true]);
      const known =
        failure?.rule !== 'format' || FORMAT_NAMES.includes(String(failure.params?.format));
      expect([format, known]).toEqual([format, true]);
    }
    for (const format of FORMAT_NAMES) {
      const { name, example } = formatSaid(formatKey({ format })) ?? { name: '', example: '' };
      const held = [
        name !== '',
        hasFormat(formatKey({ format }), example),
        hasFormat(formatKey({ format }), '( {'),
      ];
      expect([format, ...held]).toEqual([format, true, true, false]);
    }
    for (const name of ['url', 'datetime', 'guid', 'json_string'])
      expect(FORMAT_NAMES).toContain(formatMeant(name));
  });

  test('every code and every type of the library is read as it stands', () => {
    const text = declarations('core/errors.d.ts');
    const codes = Array.from(text.matchAll(/readonly code: "(\w+)"/g), ([, code = '']) => code);
    const types = names(text, /\$ZodInvalidTypeExpected = ([^;]+);/);
    expect([new Set(codes).size, types.length]).toEqual([11, 21]);
    const unread: string[] = [];
    const warn = (warning: Warning): void => void unread.push((warning as Unread).message);
    const issues = [...new Set(codes)].map((code) => ({
      code,
      path: ['a'],
      message: '',
      expected: 'string',
      origin: 'number',
      minimum: 1,
      maximum: 1,
      format: 'email',
      divisor: 1,
      keys: ['b'],
      values: ['x'],
      errors: [],
      issues: [],
      params: { rule: 'fits' },
    }));
    for (const expected of types)
      issues.push({ ...issues[0], code: 'invalid_type', expected } as (typeof issues)[number]);
    fromZodIssues(issues, { warn });
    expect(unread.map((one) => /"(\w+)"/.exec(one)?.[1])).toEqual(['symbol', 'function']);
  });

  test('what cannot be read is told as unnamed, and refused by who is strict', () => {
    const warnings: Warning[] = [];
    const issues = [
      { code: 'odd', path: ['a'] },
      5,
      { code: 'custom', path: [Symbol('x')] },
      { code: 'custom', path: ['b'], message: 'no' },
      { code: 'too_small', origin: 'string', minimum: 2, path: ['c'] },
    ];
    const read = fromZod(issues, { onWarning: (one) => warnings.push(one) });
    expect(read).toEqual([
      { path: 'a', rule: 'unnamed' },
      { path: '', rule: 'unnamed' },
      { path: 'b', rule: 'unnamed' },
      { path: 'c', rule: 'minLength', params: { min: 2 } },
    ]);
    expect(warnings.map((one) => one.kind === 'unread' && one.at)).toEqual([
      '/0/code',
      '/1',
      '/2',
      '/3/params',
    ]);
    expect(() => fromZod(issues, { strict: true })).toThrow('there is no issue code "odd"');
    expect(() => fromZod(5)).toThrow('no list of issues');
  });

  test('the form decides where there is more than one way to say it; other parts of a request, and members alone', () => {
    const [form] = readSheet(
      {
        forms: {
          night: {
            fields: {
              code: { pattern: { regex: '^A', example: 'A1' } },
              site: { format: 'uri' },
              start: { format: 'date' },
              picture: { mediaType: ['image/png'] },
              'filter.at[*]': { minimum: 1 },
              custom: { external: { fits: { hours: 6 } } },
            },
            query: { limit: { maximum: 50 } },
          },
        },
      },
      'rules.yaml',
    ).forms;
    if (!form) throw new Error('no form');
    const rules = { id: 'night', index: new FormIndex(form) };
    const schema = z.object({
      code: z.string().startsWith('A'),
      site: z.string().regex(/x/),
      start: z.date(),
      picture: z.enum(['image/png']),
      custom: z.any().refine(() => false),
    });
    const { error } = schema.safeParse({ code: 'b', site: '', start: '', picture: 'a', custom: 1 });
    expect(
      fromZod(error, { form: rules, strict: true }).map(({ path: at, rule }) => `${at} ${rule}`),
    ).toEqual(['code pattern', 'site format', 'start format', 'picture mediaType', 'custom fits']);
    const query = z.object({ limit: z.number().max(50) }).safeParse({ limit: 60 });
    expect(fromZod(query, { form: rules, in: 'query', payload: { limit: 60 } })).toEqual([
      { path: 'limit', in: 'query', rule: 'maximum', params: { max: 50 }, value: 60 },
    ]);
    const inner = z.array(z.number().min(1)).safeParse([1, 0]);
    expect(fromZod(inner, { form: rules, prefix: 'filter.at', payload: [1, 0] })).toEqual([
      { path: 'filter.at[1]', rule: 'minimum', params: { min: 1 }, value: 0 },
    ]);
  });
});
