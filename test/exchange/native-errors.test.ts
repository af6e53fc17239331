import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import type { Warning } from '../../src/core/violation/warning.js';
import { listed } from '../../src/exchange/keywords/failure.js';
import type { Background } from '../../src/exchange/violations/foreign.js';
import { fromNativeErrors } from '../../src/exchange/violations/schema-errors.js';
import { only, run, violationLine as line } from '../support/schemas.js';

type Json = Record<string, unknown>;

const target = {
  type: 'object',
  required: ['name', 'magnitude'],
  properties: {
    name: { type: 'string', minLength: 2, pattern: '^[A-Z]+ \\d+$' },
    magnitude: { type: 'number', exclusiveMaximum: 30 },
    kind: { enum: ['star', 'galaxy'] },
  },
  additionalProperties: false,
};
const schema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: 'proposal',
  type: 'object',
  required: ['title', 'targets'],
  properties: {
    title: { type: 'string', maxLength: 8 },
    mail: { type: 'string', format: 'email' },
    code: { type: 'string', pattern: '^OBS-.*' },
    semester: { const: '2027A' },
    nights: { type: 'integer', multipleOf: 2 },
    targets: { type: 'array', minItems: 1, uniqueItems: true, items: { $ref: '#/$defs/target' } },
    tags: { type: 'array', contains: { const: 'ha' } },
    extras: { type: 'object', propertyNames: { pattern: '^[a-z]+$' } },
    plan: {
      oneOf: [
        {
          type: 'object',
          required: ['hours'],
          properties: { kind: { const: 'queue' }, hours: { type: 'number', minimum: 1 } },
        },
        { $ref: '#/$defs/classical' },
      ],
    },
    either: { anyOf: [{ type: 'string' }, { type: 'number' }] },
    never: false,
    taken: { not: { enum: ['a', 1] } },
    gone: { not: {} },
    shaped: { not: { type: 'object' } },
  },
  dependentRequired: { mail: ['title'], code: ['semester'] },
  $defs: {
    target,
    classical: {
      type: 'object',
      required: ['nights'],
      properties: { kind: { const: 'classical' }, nights: { type: 'integer' } },
    },
  },
};

const BODIES: Json[] = [
  {},
  { title: 5, targets: 'x' },
  { title: 'too long to be true', targets: [] },
  { title: 'x', targets: [{ name: 'm', magnitude: 31, colour: 1 }, { name: 'NGC 7' }], nights: 3 },
  {
    title: 'x',
    targets: [
      { name: 'Field 7', magnitude: 3 },
      { name: 'Field 7', magnitude: 3 },
    ],
    mail: 'at',
    never: 1,
  },
  {
    title: 'x',
    targets: [{ name: 'Field 7', magnitude: 3, kind: 'x' }],
    code: 'x',
    semester: 'y',
    tags: ['o3'],
    either: true,
  },
  {
    title: 'x',
    targets: [{ name: 'Field 7', magnitude: 3 }],
    extras: { BIG: 1 },
    plan: { kind: 'queue', hours: 0 },
  },
  {
    title: 'x',
    targets: [{ name: 'Field 7', magnitude: 3 }],
    plan: { kind: 'classical', nights: 'two' },
  },
  { title: 'x', targets: [{ name: 'Field 7', magnitude: 3 }], code: 'OBS-1' },
  { title: 'x', targets: [{ name: 'Field 7', magnitude: 3 }], taken: 1, gone: null, shaped: {} },
];

describe('native errors of JSON Schema validators', () => {
  const form = only(schema);
  const native = (allErrors: boolean, verbose: boolean): ((value: unknown) => unknown) => {
    const ajv = addFormats.default(new Ajv2020({ allErrors, verbose, strict: false }));
    const validate = ajv.compile(schema);
    return (value) => (validate(value), validate.errors);
  };

  test.each([true, false])(
    'tell what our own judge tells, with the payload at hand (verbose: %s)',
    (verbose) => {
      const errors = native(true, verbose);
      for (const body of BODIES) {
        const ours = run(form, { body }).map(line).sort();
        const theirs = listed(
          fromNativeErrors(errors(body), {
            index: form.index,
            payload: { value: body },
            strict: true,
          }),
          {
            index: form.index,
          },
        );
        expect(theirs.map(line).sort()).toEqual(ours);
      }
    },
  );

  test('the first error alone is one of them', () => {
    const errors = native(false, false);
    for (const body of BODIES.slice(0, 6)) {
      const ours = run(form, { body }).map(({ path, rule }) => `${path} ${rule}`);
      const [first] = listed(fromNativeErrors(errors(body), { index: form.index, strict: true }), {
        index: form.index,
      });
      expect(ours).toContain(`${first?.path ?? ''} ${first?.rule ?? ''}`);
    }
  });

  test('what a framework throws says which part of a request it was; older places; what replaced errors; what nobody knows', () => {
    const told: Warning[] = [];
    const read = (value: unknown, background: Background = {}): string[] =>
      listed(
        fromNativeErrors(value, { warn: (one) => told.push(one), ...background }),
        background,
      ).map(line);
    const limit = {
      instancePath: '/limit',
      keyword: 'maximum',
      params: { comparison: '<=', limit: 50 },
    };
    expect(
      read({ statusCode: 400, validation: [limit], validationContext: 'querystring' }),
    ).toEqual(['query: limit maximum {"max":50}']);
    expect(read({ errors: [{ ...limit, instancePath: undefined, dataPath: '.a[0].b' }] })).toEqual([
      'a[0].b maximum {"max":50}',
    ]);
    const replaced = {
      instancePath: '/a',
      keyword: 'errorMessage',
      params: { errors: [{ ...limit, instancePath: '/a' }] },
    };
    expect(read([replaced])).toEqual(['a maximum {"max":50}']);
    const tag = {
      instancePath: '/plan',
      keyword: 'discriminator',
      params: { error: 'mapping', tag: 'kind', tagValue: 'x' },
    };
    expect(read([tag, { ...tag, params: { tag: 'kind' } }])).toEqual([
      'plan.kind unnamed',
      'plan.kind required',
    ]);
    const late = {
      instancePath: '/at',
      keyword: 'formatExclusiveMaximum',
      params: { limit: '2027-07-31' },
    };
    expect(read([late])).toEqual(['at latest {"limit":"2027-07-31","exclusive":true}']);
    expect(read([{ instancePath: '/b', keyword: 'isEven', params: {} }, 5])).toEqual([
      'b unnamed',
      '/ unnamed',
    ]);
    expect(told.map((one) => one.message)).toEqual([
      expect.stringContaining('an error is an object'),
      expect.stringContaining('no rule for the keyword "isEven"'),
    ]);
    expect(() =>
      read([{ instancePath: '/b', keyword: 'isEven', params: {} }], { strict: true }),
    ).toThrow('isEven');
    for (const keyword of ['constructor', '__proto__', 'toString'])
      expect(read([{ instancePath: '/b', keyword, params: {} }], { index: form.index })).toEqual([
        'b unnamed',
      ]);
  });
});
