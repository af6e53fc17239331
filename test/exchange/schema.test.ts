import { describe, expect, test } from '@jest/globals';
import { broken, only, read, rules, run, said } from '../support/schemas.js';

describe('a choice between schemas', () => {
  const plan = {
    oneOf: [
      {
        required: ['kind', 'nights'],
        properties: { kind: { const: 'classical' }, nights: { type: 'integer', minimum: 1 } },
      },
      {
        required: ['kind', 'hours'],
        properties: {
          kind: { const: 'queue' },
          hours: { anyOf: [{ type: 'number', minimum: 1 }, { const: 'all' }] },
        },
      },
    ],
  };

  test.each<[string, unknown, string[]]>([
    ['fits', { kind: 'queue', hours: 'all' }, []],
    ['the nearest is told', { kind: 'queue', hours: 0 }, ['hours minimum']],
    ['the other nearest', { kind: 'classical' }, ['nights required']],
    ['choices inside choices', { kind: 'queue', hours: 'x' }, ['hours const']],
    ['twins at another place are kept apart', { kind: 'classical', nights: 0 }, ['nights minimum']],
  ])('%s', (_, body, expected) => {
    expect(broken({ type: 'object', ...plan }, body)).toEqual(expected);
  });

  const either = (keyword: 'anyOf' | 'oneOf'): object => ({
    type: 'object',
    properties: { email: { type: 'string' }, phone: { type: 'string' }, name: {} },
    [keyword]: [{ required: ['email'] }, { required: ['phone'] }],
  });
  const members = ['email', 'phone'];
  test.each<[string, object, unknown, unknown[]]>([
    ['none of two', either('anyOf'), {}, [['', 'atLeastOne', { members }]]],
    ['one of two', either('anyOf'), { phone: '1' }, []],
    ['both', either('anyOf'), { phone: '1', email: 'x' }, []],
    ['none where one is wanted', either('oneOf'), {}, [['', 'exactlyOne', { members }]]],
    [
      'both where one is',
      either('oneOf'),
      { phone: '1', email: 'x' },
      [['', 'exactlyOne', { members }]],
    ],
    [
      'whole alternatives, told apart by what is missing alone',
      {
        anyOf: [
          { type: 'object', required: ['a'], properties: { a: {} } },
          { type: 'object', required: ['b'] },
        ],
      },
      {},
      [['', 'atLeastOne', { members: ['a', 'b'] }]],
    ],
    [
      'alternatives that want several, of which none is demanded',
      { anyOf: [{ required: ['a', 'b'] }, { required: ['c'] }] },
      {},
      [['', 'anyOf', {}]],
    ],
    [
      'alternatives that want one in common',
      { anyOf: [{ required: ['a', 'b'] }, { required: ['a', 'c'] }] },
      {},
      [['a', 'required', {}]],
    ],
    [
      'alternatives that a value is equally near to',
      {
        anyOf: [
          { type: 'string', minLength: 5 },
          { type: 'string', pattern: '^x' },
        ],
      },
      'abc',
      [['', 'anyOf', {}]],
    ],
  ])('%s', (_, schema, body, expected) => {
    expect(
      run(only({ title: 'x', ...schema }), { body }).map(({ path, rule, params = {} }) => [
        path,
        rule,
        params,
      ]),
    ).toEqual(expected);
  });

  test('a choice by members that are given is one rule of the form', () => {
    expect(rules(only(either('oneOf'))).filter((one) => /Of|One|required/.test(one))).toEqual([
      expect.stringMatching(/exactlyOne/),
    ]);
  });

  test('a value that says which it means is told of that one, or of all names that would do', () => {
    const night = {
      type: 'object',
      required: ['nights'],
      properties: { nights: { type: 'integer' }, kind: { type: 'string' } },
    };
    const queue = {
      type: 'object',
      properties: { hours: { minimum: 1 }, kind: { type: 'string' } },
    };
    const oneOf = [{ $ref: '#/components/schemas/Night' }, { $ref: '#/components/schemas/Queue' }];
    const mapping = { classical: 'Night' };
    const [form] = read({
      openapi: '3.1.0',
      info: { title: 'x', version: '1' },
      components: { schemas: { Night: night, Queue: queue } },
      paths: {
        '/plans': {
          post: {
            operationId: 'plan',
            requestBody: {
              content: {
                'application/json': {
                  schema: { oneOf, discriminator: { propertyName: 'kind', mapping } },
                },
              },
            },
          },
        },
      },
    });
    const told = (body: unknown): unknown[] =>
      form ? run(form, { body }).map(({ path: at, rule, params }) => [at, rule, params]) : [];
    expect(told({ kind: 'classical', hours: 0 })).toEqual([['nights', 'required', undefined]]);
    expect(told({ kind: 'Queue', hours: 0 })).toEqual([['hours', 'minimum', { min: 1 }]]);
    expect(told({ kind: 'queued', hours: 0 })).toEqual([
      ['kind', 'enum', { choices: ['classical', 'Queue'] }],
    ]);
    const fixed = {
      oneOf: ['a', 'b'].map((name) => ({
        properties: { kind: { const: name } },
        required: ['kind', name],
      })),
    };
    expect(
      run(only(fixed), { body: { kind: 'c' } }).map(({ path: at, rule, params }) => [
        at,
        rule,
        params,
      ]),
    ).toEqual([['kind', 'enum', { choices: ['a', 'b'] }]]);
  });

  test('what is ruled out, or has to be among the entries, is told by its values where a schema lists them', () => {
    const twice = { contains: { const: 'park', title: 'parked' }, minContains: 2, maxContains: 3 };
    const properties = {
      none: { not: { const: 0 } },
      few: { not: { enum: ['x', null], description: 'taken' } },
      never: { not: {} },
      shaped: { not: { const: 0, type: 'integer' } },
      twice,
      kind: { contains: { enum: ['a', 'b'] } },
    };
    const form = only({ properties });
    expect(rules(form)).toEqual([
      'none noneOf {"choices":[0]}',
      'few noneOf {"choices":["x",null]}',
      'never false {}',
      'shaped not {}',
      'twice minContains {"min":2,"expected":"park"}',
      'twice maxContains {"max":3,"expected":"park"}',
      'kind contains {}',
    ]);
    expect(
      said(
        run(form, { body: { none: 0, few: null, never: 1, shaped: 0, twice: ['park'], kind: [] } }),
      ),
    ).toEqual([
      'none noneOf',
      'few noneOf',
      'never false',
      'shaped not',
      'twice minContains',
      'kind contains',
    ]);
    expect(
      said(
        run(form, { body: { none: 1, few: 'y', shaped: 1, twice: ['park', 'park'], kind: ['a'] } }),
      ),
    ).toEqual([]);
  });

  test('an expression that a library made of a format is not told beside it', () => {
    expect(
      broken({ properties: { a: { format: 'email', pattern: '^\\S+@\\S+\\.\\S+$' } } }, { a: 'x' }),
    ).toEqual(['a format']);
  });

  test('types that would do are told at once; two that fit are one too many', () => {
    const form = only({
      properties: {
        a: { anyOf: [{ type: 'string' }, { $ref: '#/$defs/n' }] },
        b: { oneOf: [{ minimum: 1 }, { maximum: 5 }] },
      },
      $defs: { n: { type: 'number' } },
    });
    expect(
      run(form, { body: { a: [], b: 3 } }).map(({ path: at, rule, params }) => [at, rule, params]),
    ).toEqual([
      ['a', 'type', { expected: ['string', 'number'] }],
      ['b', 'oneOf', undefined],
    ]);
  });

  test('an array of choices blames each entry for its own', () => {
    const schema = {
      type: 'array',
      items: { anyOf: [{ $ref: '#/$defs/t' }, { type: 'null' }] },
      $defs: { t: { required: ['name'], properties: { name: { minLength: 2 } } } },
    };
    expect(broken(schema, [{}, null, { name: 'x' }, { name: 'xx' }])).toEqual([
      '[0].name required',
      '[2].name minLength',
    ]);
  });
});

describe('fields and rules', () => {
  test('of all parts of a schema, in the order of the document, with places and names', () => {
    const form = only({
      $id: 'https://errors.harrowfell.example/schemas/observing-proposal.schema.json',
      type: 'object',
      required: ['semester', 'extra'],
      properties: {
        semester: {
          title: 'Semester',
          type: 'string',
          pattern: '^\\d{4}[AB]$',
          examples: ['soon', '2027A'],
        },
        targets: { type: 'array', minItems: 1, items: { $ref: '#/$defs/target' } },
        secret: { type: 'string', format: 'password' },
      },
      patternProperties: { '^x-': { maxLength: 3 } },
      allOf: [{ properties: { semester: { minLength: 5 } } }],
      $defs: {
        target: { type: 'object', properties: { name: { type: 'string' } }, required: ['name'] },
      },
    });
    expect(form.schema.parts.form.id).toBe('observing-proposal');
    expect(rules(form)).toEqual([
      ' type {"expected":"object"}',
      'semester required {}',
      'semester type {"expected":"string"}',
      'semester pattern {"regex":"^\\\\d{4}[AB]$","example":"2027A"}',
      'semester minLength {"min":5}',
      'targets type {"expected":"array"}',
      'targets minItems {"min":1}',
      'targets[*] type {"expected":"object"}',
      'targets[*].name required {}',
      'targets[*].name type {"expected":"string"}',
      'secret type {"expected":"string"}',
      'secret format {"format":"password"}',
      'extra required {}',
      '.* maxLength {"max":3}',
    ]);
    expect(form.schema.parts.titles.map(({ text }) => text)).toEqual(['Semester']);
    expect(
      form.schema.parts.form.fields.find(({ path: at }) => at === 'targets[*].name')?.origin.keys,
    ).toEqual(['$defs', 'target', 'properties', 'name']);
    expect(form.index.isSecretAt(['secret'], 'body')).toBe(true);
  });

  test('a schema that contains itself is listed once, below its name, and evaluated at any depth', () => {
    const tree = only({
      $id: 'tree',
      type: 'object',
      properties: {
        name: { type: 'string', maxLength: 2 },
        children: { type: 'array', items: { $ref: '#' } },
      },
    });
    expect(tree.schema.parts.form.fields.map(({ path: at }) => at)).toEqual([
      '',
      'proposal::',
      'proposal::name',
      'proposal::children',
      'proposal::children[*]',
    ]);
    const violations = run(tree, {
      body: { name: 'xxx', children: [{ children: [{ name: 'xxx' }] }, 5] },
    });
    expect(said(violations)).toEqual([
      'name maxLength',
      'children[0].children[0].name maxLength',
      'children[1] type',
    ]);
    for (const { path: at, rule } of violations)
      expect(
        tree.index
          .field(tree.index.readPath(at, 'body'), 'body')
          ?.uses.some((use) => use.rule === rule),
      ).toBe(true);
  });

  test('references: other files, $id, cycles between files; and what cannot be followed', () => {
    const files = {
      'forms/common.json': {
        $defs: { name: { type: 'string', maxLength: 2 }, loop: { $ref: 'proposal.schema.json' } },
      },
      'shared/site.json': { $id: 'https://errors.harrowfell.example/site', type: 'integer' },
    };
    const root = {
      properties: {
        a: { $ref: 'common.json#/$defs/name' },
        b: { $ref: '../shared/site.json' },
        c: { $ref: 'common.json#/$defs/loop' },
      },
    };
    expect(broken(root, { a: 'xxx', b: 'x', c: { a: 'yyy' } }, files)).toEqual([
      'a maxLength',
      'b type',
      'c.a maxLength',
    ]);
    const lost = (reference: string): string | undefined =>
      only({ properties: { a: { $ref: reference } } }, files).remarks[0];
    expect(lost('https://errors.harrowfell.example/other')).toMatch(
      /is a remote reference, and nothing is fetched; put the file into the workspace/,
    );
    expect(lost('../../etc/passwd')).toMatch(/is outside of the workspace/);
    expect(lost('/etc/passwd')).toMatch(/is outside of the workspace/);
    expect(lost('missing.json')).toMatch(
      /names forms\/missing.json, which is not in the workspace/,
    );
    expect(lost('#/$defs/nothing')).toMatch(/there is no "\$defs"/);
    expect(lost('#nowhere')).toMatch(/names an anchor that is not there/);
  });
});
