import { describe, expect, test } from '@jest/globals';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import type { Warn, Warning } from '../../src/core/violation/warning.js';
import { fromDeclared, type ReaderDeclaration } from '../../src/exchange/violations/declared.js';
import { listed, violationsOf, type Failure } from '../../src/exchange/keywords/failure.js';
import { ErrorListError, type Background } from '../../src/exchange/violations/foreign.js';
import { fromNativeErrors } from '../../src/exchange/violations/schema-errors.js';
import { fromSchemaOutput } from '../../src/exchange/violations/schema-output.js';
import { readPlace } from '../../src/exchange/violations/place-text.js';
import { violationLine as line } from '../support/schemas.js';

const [proposal] = readSheet(
  {
    forms: {
      proposal: {
        fields: {
          title: { required: true, type: 'string', minLength: 3, maxLength: 120 },
          'lead.email': { required: true, format: 'email' },
          'targets[*].name': { required: true, pattern: { regex: '^[A-Z]', example: 'NGC 7' } },
          'targets[*].magnitude': { type: 'number', range: { min: -2, max: 30 } },
          nights: {
            type: 'integer',
            minimum: { min: 1, as: 'one-night-at-least' },
            external: { 'fits-the-night': { hours: 6.5 } },
          },
        },
        query: { page: { type: 'integer', minimum: 1 } },
      },
    },
  },
  'rules.yaml',
).forms;
if (!proposal) throw new Error('no form');
const index = new FormIndex(proposal);

/**
 * Error lists as validators of several languages report, how they are declared, and what they say.
 */
const REPORTS: [string, ReaderDeclaration, unknown, string[], Partial<Background>?][] = [
  [
    'a map of lists of codes with parameters, by dotted paths',
    {
      entries: '/errors',
      path: '@key',
      rule: { at: '/code', map: { TOO_LONG: 'maxLength', BLANK: 'required' } },
      params: { max: '/args/limit' },
    },
    {
      errors: {
        title: [{ code: 'TOO_LONG', args: { limit: 120 } }],
        'targets.1.name': [{ code: 'blank' }],
      },
    },
    ['title maxLength {"max":120}', 'targets[1].name required'],
  ],
  [
    'a map of lists of messages, without any rule: the form finds what it is',
    { path: '@key', validate: true },
    { title: ['This field is too short.'], 'targets[0].magnitude': ['Out of range.'] },
    ['title minLength {"min":3}', 'targets[0].magnitude range'],
    {
      judge: () => [
        { path: 'title', rule: 'minLength', params: { min: 3 } },
        { path: 'targets[0].magnitude', rule: 'range' },
        { path: 'nights', rule: 'minimum' },
      ],
    },
  ],
  [
    'nested nodes with children, each with a map of constraints',
    {
      path: '/property',
      children: '/children',
      rules: {
        keys: '/constraints',
        map: { isNotEmpty: 'required', isEmail: 'format', matches: 'pattern' },
      },
    },
    [
      {
        property: 'lead',
        children: [
          { property: 'email', constraints: { isEmail: 'must be an email' }, children: [] },
        ],
      },
      {
        property: 'targets',
        children: [
          {
            property: '1',
            children: [{ property: 'name', constraints: { matches: 'no', isNotEmpty: 'no' } }],
          },
        ],
      },
    ],
    ['lead.email format', 'targets[1].name pattern', 'targets[1].name required'],
  ],
  [
    'paths as arrays with the part of the request in front, types with dots, parameters in a context',
    {
      entries: '/detail',
      path: { at: '/loc', drop: ['body', 'query'] },
      in: '/loc/0',
      rule: {
        at: '/type',
        map: {
          missing: 'required',
          string_too_short: 'minLength',
          int_parsing: { rule: 'type', params: { expected: 'integer' } },
          greater_than_equal: 'minimum',
        },
      },
      params: { min: ['/ctx/min_length', '/ctx/ge'] },
      value: '/input',
    },
    {
      detail: [
        { type: 'missing', loc: ['body', 'targets', 0, 'name'], msg: 'Field required', input: {} },
        { type: 'string_too_short', loc: ['body', 'title'], ctx: { min_length: 3 }, input: 'ab' },
        { type: 'greater_than_equal', loc: ['query', 'page'], ctx: { ge: 1 }, input: 0 },
        { type: 'int_parsing', loc: ['body', 'nights'], input: 'x' },
      ],
    },
    [
      'targets[0].name required',
      'title minLength {"min":3}',
      'query: page minimum {"min":1}',
      'nights type {"expected":"integer"}',
    ],
  ],
  [
    'classes as rules, bracketed paths, attributes as parameters',
    {
      entries: '/violations',
      path: '/propertyPath',
      rule: {
        at: '/constraint',
        map: {
          'com.dome.constraints.Size': ['minLength', 'maxLength'],
          'com.dome.constraints.NotNull': 'required',
          'com.dome.constraints.Fits': 'fits-the-night',
        },
      },
      params: { min: '/attributes/min', max: '/attributes/max', hours: '/attributes/hours' },
      value: '/invalidValue',
    },
    {
      violations: [
        {
          propertyPath: 'title',
          constraint: 'com.dome.constraints.Size',
          attributes: { min: 3, max: 120 },
          invalidValue: 'x',
        },
        {
          propertyPath: 'targets[2].name',
          constraint: 'com.dome.constraints.NotNull',
          attributes: {},
        },
        {
          propertyPath: 'nights',
          constraint: 'com.dome.constraints.Fits',
          attributes: { hours: 7 },
        },
      ],
    },
    ['title minLength {"min":3}', 'targets[2].name required', 'nights fits-the-night {"hours":7}'],
    { judge: () => [{ path: 'title', rule: 'minLength' }] },
  ],
  [
    'pointers, rules by our own names written otherwise',
    { entries: '/faults', path: '/pointer', rule: '/rule', params: { max: '/limit' } },
    {
      faults: [
        { pointer: '#/title', rule: 'MAX_LENGTH', limit: 120 },
        { pointer: '/nights', rule: 'one_night_at_least' },
      ],
    },
    ['title maxLength {"max":120}', 'nights minimum as one-night-at-least'],
  ],
  [
    'field and tag of a struct, a parameter as text; the member that is missing is named beside',
    {
      entries: ['/failures', '/errors'],
      path: '/object',
      rule: { at: '/tag', map: { required: { rule: 'required', add: 'email' }, gte: 'minimum' } },
      params: { min: '/param' },
    },
    {
      errors: [
        { object: 'lead', tag: 'required' },
        { object: 'nights', tag: 'gte', param: 1 },
      ],
    },
    ['lead.email required', 'nights minimum {"min":1}'],
  ],
  [
    'segments as objects, several rules in a list, the last of a list',
    {
      entries: '/issues',
      path: '/path',
      rules: { items: '/kinds', map: { empty: 'required' } },
      params: { max: '/bounds/-1' },
    },
    {
      issues: [
        {
          path: [{ key: 'targets' }, { key: 1 }, { key: 'magnitude' }],
          kinds: ['range', 'empty'],
          bounds: [-2, 30],
        },
      ],
    },
    ['targets[1].magnitude range {"max":30}', 'targets[1].magnitude required'],
  ],
  [
    'one error alone, as an object, with a JSONPath',
    { path: '/where', rule: { at: '/why', map: { format: 'format' } } },
    { where: '$.lead["email"]', why: 'format' },
    ['lead.email format'],
  ],
];

describe("readers of one's own", () => {
  test.each(REPORTS)('%s', (_, declared, report, expected, background = {}) => {
    const failures = fromDeclared(declared, report, { index, strict: true, ...background });
    expect(listed(failures, { index }).map(line)).toEqual(expected);
  });

  test('what has no rule, no place or no entries loses nothing', () => {
    const told: string[] = [];
    const warn = ({ message }: Warning): number => told.push(message);
    const declared: ReaderDeclaration = {
      entries: '/errors',
      path: '/at',
      rule: { at: '/code', map: {} },
    };
    const report = {
      errors: [
        { at: 'title', code: 'odd' },
        { at: 'title', code: 'maxLength' },
        { at: true, code: 'required' },
        { at: '' },
      ],
    };
    expect(listed(fromDeclared(declared, report, { index, warn }), { index }).map(line)).toEqual([
      'title unnamed',
      'title maxLength',
      '/ unnamed',
    ]);
    expect(told).toHaveLength(3);
    expect(() => fromDeclared(declared, report, { index, strict: true })).toThrow(
      '"odd" stands for no rule',
    );
    expect(() => fromDeclared(declared, { faults: [] }, { index })).toThrow(
      'no entries at /errors',
    );
  });

  // RFC 6901 section 6 and RFC 9535 sections 2.1.1, 2.3.1.1 and 2.7, besides what libraries write.
  test.each<[unknown, readonly (string | number)[], boolean?]>([
    ['a.b[2].c', ['a', 'b', 2, 'c']],
    ["a['b.c'][0]", ['a', 'b.c', 0]],
    ['a[b].0', ['a', 'b', '0']],
    ['a b.c', ['a b', 'c']],
    ['$', []],
    ['.a', ['a']],
    ['$ .a ["b"] [ 2 ]\n[ \'c d\' ] .e ', ['a', 'b', 2, 'c d', 'e']],
    ["$['o']['j j']['k.k']", ['o', 'j j', 'k.k']],
    ['$["o"]["\\"j\\\\"]["\'"]["@"]', ['o', '"j\\', "'", '@']],
    [String.raw`$['\'']['\u2028\b\n\/']["\ud83d\uDD2d"]`, ["'", '\u2028\b\n/', '🔭']],
    ['/a~1b/~0', ['a/b', '~']],
    ['#', []],
    ['#/m/a%20b/c%25d/%CE%B2/k%22l/~01', ['m', 'a b', 'c%d', 'β', 'k"l', '~1']],
    ['/m/a%20b', ['m', 'a%20b']],
    [7, [7]],
    [
      [{ key: 'a' }, { index: 2 }],
      ['a', 2],
    ],
    ['a.b[', ['a', 'b'], false],
    ['#/a/%zz/b', ['a'], false],
    ['/a/b~2c/d', ['a'], false],
    ['/b'.repeat(300), Array<string>(200).fill('b'), false],
    [true, [], false],
    [['a', null, 'b'], ['a'], false],
  ])('a place written as %j', (written, segments, isWhole = true) => {
    expect(readPlace(written)).toEqual({ segments, isWhole });
  });
});

describe('places that cannot be read', () => {
  const told = (failures: readonly Failure[]): string[] =>
    violationsOf(failures).map((one) => line({ ...one, params: undefined }));

  test('are told as unnamed where they can be read last, and no entry vanishes', () => {
    const warnings: string[] = [];
    const warn: Warn = ({ message }) => void warnings.push(message);
    const errors = [
      { keyword: 'type', instancePath: '/title/~2/x', params: { type: 'object' } },
      { keyword: 'minLength', instancePath: '/title', params: { limit: 3 } },
    ];
    expect(told(fromNativeErrors(errors, { warn }))).toEqual(['title unnamed', 'title minLength']);
    const output = {
      valid: false,
      errors: [
        { keywordLocation: '/type', instanceLocation: '#/title/%zz', error: 'no object' },
        { keywordLocation: '/~3', instanceLocation: '/notes', error: 'x' },
        { keywordLocation: '/type', instanceLocation: 'title', error: 'x' },
        { keywordLocation: '/properties/title/minLength', instanceLocation: '/title', error: 'x' },
      ],
    };
    expect(told(fromSchemaOutput(output, { warn })).sort()).toEqual([
      '/ unnamed',
      'notes unnamed',
      'title minLength',
      'title unnamed',
    ]);
    const declared = { entries: '/errors', path: '/at', rule: '/rule' };
    const report = {
      errors: [
        { at: '#/notes/%zz', rule: 'type' },
        { at: '/title', rule: 'type' },
      ],
    };
    expect(told(fromDeclared(declared, report, { warn }))).toEqual(['notes unnamed', 'title type']);
    expect(warnings).toHaveLength(5);
    expect(() => fromSchemaOutput(output, { strict: true })).toThrow(ErrorListError);
  });
});
