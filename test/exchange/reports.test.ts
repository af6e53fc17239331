import { describe, expect, test } from '@jest/globals';
import * as z from 'zod';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import { violationsOf } from '../../src/exchange/keywords/failure.js';
import type { Background } from '../../src/exchange/violations/foreign.js';
import { fromSchemaOutput } from '../../src/exchange/violations/schema-output.js';
import { nearestShape, shapeOf } from '../../src/exchange/violations/shapes.js';
import { fromZodIssues } from '../../src/exchange/violations/zod.js';

type Json = Record<string, unknown>;

const [declared] = readSheet(
  {
    forms: {
      proposal: {
        fields: {
          title: { type: 'string', required: true, maxLength: 3 },
          'lead.name': { required: true },
          'lead.phone': { required: true },
          semester: { pattern: { regex: '^\\d', example: '2027A' } },
          kind: { enum: ['a', 'b'] },
          'targets[*].name': { required: true },
          'targets[*].magnitude': { type: 'number', maximum: 25 },
          hidden: { dependentRequired: 'kind' },
          map: { additionalProperties: false },
          exposures: { external: { 'fits-the-night': { hours: 6.5 } } },
        },
      },
    },
  },
  'rules.yaml',
).forms;
if (!declared) throw new Error('no form');
const index = new FormIndex(declared);

const told = (failures: ReturnType<typeof fromZodIssues>): unknown[] =>
  violationsOf(failures).map(({ path, rule, params }) =>
    params ? [`${path} ${rule}`, params] : `${path} ${rule}`,
  );

describe('issues of Zod', () => {
  const schema = z.strictObject({
    title: z.string().max(3),
    nights: z.int().min(1).max(14).multipleOf(2),
    lead: z.object({
      email: z.email(),
      site: z.url(),
      when: z.iso.datetime(),
      code: z.string().regex(/^\d{4}[AB]$/),
    }),
    kind: z.enum(['a', 'b']),
    fixed: z.literal('x'),
    tags: z.array(z.string()).min(1).max(2),
    at: z.number().gt(0).lt(5),
    from: z.date().min(new Date('2027-02-01T00:00:00Z')),
    map: z.record(z.string().regex(/^k/), z.number()),
    plan: z.union([
      z.object({ kind: z.literal('queue'), hours: z.number() }),
      z.object({ kind: z.literal('classical'), nights: z.number().max(5) }),
    ]),
    spare: z.string().optional(),
  });
  const payload = {
    title: 'abcd',
    nights: 15,
    lead: { email: 'x', site: 'y', when: 'z', code: '1' },
    kind: 'c',
    fixed: 'y',
    tags: [],
    at: 5,
    from: new Date('2027-01-01T00:00:00Z'),
    map: { x: 1 },
    plan: { kind: 'classical', nights: 9 },
    spare: 5,
    more: 1,
  };

  test('every code is a rule of ours', () => {
    const issues = schema.safeParse(payload).error?.issues ?? [];
    expect(told(fromZodIssues(issues, { payload: { value: payload } }))).toEqual([
      ['title maxLength', { max: 3 }],
      ['nights maximum', { max: 14 }],
      ['nights multipleOf', { step: 2 }],
      ['lead.email format', { format: 'email' }],
      ['lead.site format', { format: 'uri' }],
      ['lead.when format', { format: 'date-time' }],
      ['lead.code pattern', { regex: '^\\d{4}[AB]$' }],
      ['kind enum', { choices: ['a', 'b'] }],
      ['fixed const', { expected: 'x' }],
      ['tags minItems', { min: 1 }],
      ['at exclusiveMaximum', { max: 5 }],
      ['from earliest', { limit: '2027-02-01T00:00:00.000Z' }],
      ['map propertyNames', { name: 'x' }],
      ['plan.nights maximum', { max: 5 }],
      ['spare type', { expected: 'string' }],
      [' additionalProperties', { name: 'more' }],
    ]);
  });

  test('missing and of a wrong type are told apart, by the payload or by what the issue says', () => {
    const { issues = [] } = schema.safeParse({ nights: null }).error ?? {};
    const lacking = issues.filter(({ path }) =>
      ['title', 'nights', 'kind', 'plan'].includes(String(path[0])),
    );
    const expected = [
      'title required',
      ['nights type', { expected: 'number' }],
      'kind required',
      'plan required',
    ];
    expect(told(fromZodIssues(lacking, { index, payload: { value: { nights: null } } }))).toEqual(
      expected.map((one) =>
        one === 'kind required' ? ['kind enum', { choices: ['a', 'b'] }] : one,
      ),
    );
    expect(told(fromZodIssues(lacking.slice(0, 2), {}))).toEqual(expected.slice(0, 2));
  });

  test('a custom issue names its rule, or the form leaves no choice; the error itself, its JSON and a result are read too', () => {
    const custom = z.any().superRefine((_, context) => {
      context.addIssue({
        code: 'custom',
        path: ['exposures'],
        params: { rule: 'fits-the-night', hours: 7 },
      });
      context.addIssue({ code: 'custom', path: ['exposures'] });
    });
    const result = custom.safeParse({});
    const expected = [['exposures fits-the-night', { hours: 7 }], 'exposures fits-the-night'];
    for (const form of [
      result,
      result.error,
      JSON.parse(JSON.stringify(result.error)) as Json,
      result.error?.issues,
    ])
      expect(told(fromZodIssues(form, { index }))).toEqual(expected);
    expect(() => fromZodIssues(result.error, { strict: true })).toThrow(
      'the custom issue at exposures names no rule',
    );
    const inner = { code: 'invalid_type', expected: 'number', path: [], message: '' };
    const element = {
      code: 'invalid_element',
      origin: 'map',
      key: 1,
      path: ['map'],
      issues: [inner],
    };
    expect(told(fromZodIssues([element], {}))).toEqual([['map type', { expected: 'number' }]]);
  });
});

describe("JSON Schema's output formats", () => {
  const payload = {
    title: 'abcd',
    lead: { phone: 1 },
    targets: [{ name: 'x' }, { magnitude: 27 }],
    kind: 'a',
    map: { x: 1 },
  };
  const errors: [string, string, string][] = [
    ['/properties/title/maxLength', '/title', 'too long'],
    ['/properties/lead/required', '/lead', 'something is missing'],
    ['/properties/targets/items/$ref/required', '/targets/1', 'something is missing'],
    [
      '/properties/targets/items/$ref/properties/magnitude/maximum',
      '/targets/1/magnitude',
      '27 is more than 25',
    ],
    ['/dependentRequired', '', 'something is missing'],
    ['/properties/map/additionalProperties', '/map/x', 'is not allowed'],
    ['/properties/gone', '/gone', 'is not allowed'],
  ];
  const basic = {
    valid: false,
    errors: [
      { keywordLocation: '', instanceLocation: '', error: 'a subschema had errors' },
      { keywordLocation: '/properties', instanceLocation: '', error: 'a subschema had errors' },
      ...errors.map(([keywordLocation, instanceLocation, error]) => ({
        keywordLocation,
        instanceLocation: `#${instanceLocation}`,
        error,
      })),
    ],
  };
  const nest = ([keywordLocation, instanceLocation, error]: [string, string, string]): Json => ({
    valid: false,
    keywordLocation: '/properties',
    instanceLocation: '',
    errors: [{ valid: false, keywordLocation, instanceLocation, error }],
  });
  const detailed = {
    valid: false,
    keywordLocation: '',
    instanceLocation: '',
    errors: errors.map(nest),
  };
  const unit = ([location, instanceLocation, error]: [string, string, string]): Json => {
    const at = location.lastIndexOf('/');
    const asFalse = location === '/properties/gone';
    return {
      valid: false,
      evaluationPath: asFalse ? location : location.slice(0, at),
      schemaLocation: 'https://x.example/s#',
      instanceLocation,
      errors: { [asFalse ? '' : location.slice(at + 1)]: error },
    };
  };
  const list = {
    valid: false,
    details: [
      { valid: true, evaluationPath: '', schemaLocation: '', instanceLocation: '' },
      ...errors.map(unit),
    ],
  };
  const hierarchical = {
    valid: false,
    evaluationPath: '',
    schemaLocation: 's',
    instanceLocation: '',
    details: errors.map((one) => ({ ...unit(one), details: [] })),
  };

  test.each<[string, Json]>([
    ['basic', basic],
    ['detailed', detailed],
    ['list', list],
    ['hierarchical', hierarchical],
  ])('%s', (_, output) => {
    expect(told(fromSchemaOutput(output, { index, payload: { value: payload } }))).toEqual([
      'title maxLength',
      'lead.name required',
      'targets[1].name required',
      'targets[1].magnitude maximum',
      'hidden dependentRequired',
      ['map additionalProperties', { name: 'x' }],
      'gone false',
    ]);
  });

  const missing = (error: string, background: Background): unknown[] =>
    told(
      fromSchemaOutput(
        {
          valid: false,
          errors: [
            { keywordLocation: '/properties/lead/required', instanceLocation: '/lead', error },
          ],
        },
        background,
      ),
    );

  test('without the payload, what is missing is in the sentence, or only one thing can be', () => {
    expect(missing('"phone" is missing', { index })).toEqual(['lead.phone required']);
    expect(missing('something is missing', { index })).toEqual(['lead unnamed']);
    expect(() => missing('something is missing', { index, strict: true })).toThrow(
      'give the payload too',
    );
    expect(
      told(
        fromSchemaOutput(
          {
            valid: false,
            errors: [{ keywordLocation: '/x/required', instanceLocation: '/targets/0', error: '' }],
          },
          { index },
        ),
      ),
    ).toEqual(['targets[0].name required']);
  });

  test('of a choice, the nearest schema is told; what is inside contains and not is not', () => {
    const output = {
      valid: false,
      errors: [
        ['/items/anyOf/0/type', '/0'],
        ['/items/anyOf/1/$ref/required', '/0'],
        ['/items/anyOf/1/$ref', '/0'],
        ['/items/anyOf', '/0'],
        ['/items/anyOf/0/type', '/2'],
        ['/items/anyOf/1/$ref/properties/name/minLength', '/2/name'],
        ['/items/anyOf', '/2'],
        ['/contains/type', '/0'],
        ['/contains', ''],
      ].map(([keywordLocation, instanceLocation]) => ({
        keywordLocation,
        instanceLocation,
        error: '"name"',
      })),
    };
    expect(told(fromSchemaOutput(output, {}))).toEqual([
      '[0].name required',
      '[2].name minLength',
      ' contains',
    ]);
  });

  test('what says nothing is refused', () => {
    expect(() => fromSchemaOutput({ valid: false }, {})).toThrow(
      'ask the validator for "basic" or "list"',
    );
    expect(fromSchemaOutput({ valid: true }, {})).toEqual([]);
  });
});

test.each<[unknown, string | undefined, RegExp]>([
  [{ form: 'x', violations: [] }, 'violations', /./],
  [{ valid: false, errors: [] }, 'schema-output', /./],
  [[{ code: 'custom', path: [] }], 'zod', /./],
  [
    [{ keywordLocation: '/a', instanceLocation: '/b' }],
    undefined,
    /nearest is schema-output, written \{ "valid": false/,
  ],
  [{ success: false, message: 'x' }, undefined, /nearest is zod/],
  ['x', undefined, /^"x" has none of the shapes/],
])('the shape of %j is %s', (value, shape, sentence) => {
  expect(shapeOf(value)).toBe(shape);
  expect(nearestShape(value)).toMatch(sentence);
});
