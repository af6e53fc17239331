import { describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { evaluate } from '../../src/core/rules/evaluate.js';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import type { Violation } from '../../src/core/violation/violation.js';
import { Documents } from '../../src/exchange/schema/documents.js';
import { hasFormat } from '../../src/exchange/schema/formats.js';
import { readSchemas, type SchemaForm } from '../../src/exchange/schema/read.js';
import { schemaEvaluator } from '../../src/exchange/schema/run.js';
import { formAsJsonSchema } from '../../src/exchange/schema/write.js';

type Json = Record<string, unknown>;

const matches = (regex: string, text: string): boolean => new RegExp(regex, 'u').test(text);

interface Read {
  schema: SchemaForm;
  index: FormIndex;
  remarks: string[];
}

function read(root: unknown, files: Record<string, unknown> = {}, name = 'forms/proposal.schema.json'): Read[] {
  const documents = new Documents((file) => (file in files ? { root: files[file] } : undefined));
  documents.open(name, root);
  const { forms, remarks } = readSchemas(name, documents);
  return forms.map((schema) => ({ schema, index: new FormIndex(schema.form), remarks: remarks.map(({ message }) => message) }));
}

function only(root: unknown, files: Record<string, unknown> = {}): Read {
  const [first] = read(root, files);
  if (!first) throw new Error('no form');
  return first;
}

const run = ({ schema, index }: Read, request: Parameters<ReturnType<typeof schemaEvaluator>>[0]): Violation[] =>
  schemaEvaluator(schema, index, matches)(request);
const said = (violations: readonly Violation[]): string[] => violations.map(({ path: at, rule }) => `${at} ${rule}`);
const broken = (root: unknown, body: unknown, files: Record<string, unknown> = {}): string[] =>
  said(run(only(root, files), { body }));
const rules = ({ schema }: Read): string[] =>
  schema.form.fields.flatMap(({ path: at, uses }) => uses.map(({ rule, params }) => `${at} ${rule} ${JSON.stringify(params)}`));

describe('the official cases', () => {
  // The suite that a package ships is of draft 4: its keywords mean what they mean today, but for `id`, `definitions` of
  // the metaschema and references over the network.
  const folder = path.join(path.dirname(require.resolve('json-schema-test-suite/package.json')), 'tests', 'draft4');
  const left = new Set(['definitions.json', 'refRemote.json', 'ref.json']);
  const files = [
    ...readdirSync(folder).filter((file) => file.endsWith('.json') && !left.has(file)),
    ...['email', 'ipv4', 'ipv6', 'hostname', 'date-time', 'uri', 'format', 'ecmascript-regex'].map(
      (name) => `optional/${name}.json`,
    ),
  ].filter((file) => readdirSync(path.join(folder, path.dirname(file))).includes(path.basename(file)));

  test.each(files)('%s', (file) => {
    const groups = JSON.parse(readFileSync(path.join(folder, file), 'utf8')) as {
      description: string;
      schema: Json;
      tests: { description: string; data: unknown; valid: boolean }[];
    }[];
    for (const { description, schema, tests } of groups) {
      const form = only({ $schema: 'http://json-schema.org/draft-04/schema#', ...schema });
      // A URI has a scheme (RFC 3986 section 3); draft 4's cases were written when the format meant references too.
      for (const { description: about, data, valid } of tests.filter(
        (one) => one.description !== 'a valid protocol-relative URI',
      ))
        expect([description, about, run(form, { body: data }).length === 0]).toEqual([description, about, valid]);
    }
  });
});

describe('keywords of later drafts, from the specification', () => {
  const draft = (name: string): Json => ({
    $schema: name === '07' ? 'http://json-schema.org/draft-07/schema#' : `https://json-schema.org/draft/${name}/schema`,
  });

  test.each<[string, Json, [unknown, string[]][]]>([
    [
      '07',
      { const: { a: 1 } },
      [
        [{ a: 1 }, []],
        [{ a: 2 }, [' const']],
      ],
    ],
    [
      '07',
      { contains: { minimum: 5 } },
      [
        [[1, 5], []],
        [[1, 2], [' contains']],
      ],
    ],
    [
      '07',
      { propertyNames: { maxLength: 3 } },
      [
        [{ abc: 1 }, []],
        [{ abcd: 1, efghi: 2 }, [' propertyNames', ' propertyNames']],
      ],
    ],
    [
      '07',
      { if: { required: ['a'] }, then: { required: ['b'] }, else: { required: ['c'] } },
      [
        [{ a: 1 }, ['b required']],
        [{}, ['c required']],
        [{ c: 1 }, []],
      ],
    ],
    [
      '07',
      { items: [{ type: 'integer' }], additionalItems: false },
      [
        [[1], []],
        [
          ['x', 2],
          [' maxItems', '[0] type'],
        ],
      ],
    ],
    ['07', { dependencies: { a: ['b'], c: { required: ['d'] } } }, [[{ a: 1, c: 2 }, ['b dependentRequired', 'd required']]]],
    [
      '07',
      { properties: { a: false } },
      [
        [{}, []],
        [{ a: 1 }, ['a false']],
      ],
    ],
    [
      '2019-09',
      { dependentRequired: { a: ['b'] } },
      [
        [{ a: 1 }, ['b dependentRequired']],
        [{ a: 1, b: 2 }, []],
      ],
    ],
    [
      '2019-09',
      { contains: { const: 1 }, minContains: 2, maxContains: 3 },
      [
        [[1, 1], []],
        [[1], [' minContains']],
        [[1, 1, 1, 1], [' maxContains']],
      ],
    ],
    [
      '2019-09',
      { properties: { a: true }, unevaluatedProperties: false },
      [
        [{ a: 1 }, []],
        [{ b: 1 }, [' unevaluatedProperties']],
      ],
    ],
    [
      '2020-12',
      { prefixItems: [{ type: 'integer' }, { type: 'string' }], items: false },
      [
        [[1, 'x'], []],
        [
          [1, 2, 3],
          [' maxItems', '[1] type'],
        ],
      ],
    ],
    [
      '2020-12',
      { allOf: [{ properties: { a: { type: 'integer' } } }], unevaluatedProperties: false },
      [
        [{ a: 1 }, []],
        [{ a: 1, b: 2 }, [' unevaluatedProperties']],
      ],
    ],
    [
      '2020-12',
      { dependentSchemas: { a: { maxProperties: 1 } } },
      [
        [{ a: 1 }, []],
        [{ a: 1, b: 1 }, [' maxProperties']],
      ],
    ],
    [
      '2020-12',
      { not: { required: ['a'] } },
      [
        [{}, []],
        [{ a: 1 }, [' not']],
      ],
    ],
    [
      '2020-12',
      { $anchor: 'x', properties: { c: { $dynamicRef: '#x' }, n: { type: 'number' } } },
      [
        [{ c: { n: 1 } }, []],
        [{ c: { c: { n: 'x' } } }, ['c.c.n type']],
      ],
    ],
    [
      '2020-12',
      { type: ['string', 'null'], maxLength: 2, pattern: '^a', enum: ['ab', null] },
      [
        ['ab', []],
        [null, []],
        ['bcd', [' maxLength', ' enum']],
        [5, [' type']],
      ],
    ],
  ])('%s %j', (name, schema, expectations) => {
    for (const [value, expected] of expectations)
      expect([value, broken({ ...draft(name), ...schema }, value)]).toEqual([value, expected]);
  });
});

describe('a choice between schemas', () => {
  const plan = {
    oneOf: [
      { required: ['kind', 'nights'], properties: { kind: { const: 'classical' }, nights: { type: 'integer', minimum: 1 } } },
      {
        required: ['kind', 'hours'],
        properties: { kind: { const: 'queue' }, hours: { anyOf: [{ type: 'number', minimum: 1 }, { const: 'all' }] } },
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

  test('types that would do are told at once; two that fit are one too many', () => {
    const form = only({
      properties: { a: { anyOf: [{ type: 'string' }, { $ref: '#/$defs/n' }] }, b: { oneOf: [{ minimum: 1 }, { maximum: 5 }] } },
      $defs: { n: { type: 'number' } },
    });
    expect(run(form, { body: { a: [], b: 3 } }).map(({ path: at, rule, params }) => [at, rule, params])).toEqual([
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
    expect(broken(schema, [{}, null, { name: 'x' }, { name: 'xx' }])).toEqual(['[0].name required', '[2].name minLength']);
  });
});

describe('fields and rules', () => {
  test('of all parts of a schema, in the order of the document, with places and names', () => {
    const form = only({
      $id: 'https://errors.harrowfell.example/schemas/observing-proposal.schema.json',
      type: 'object',
      required: ['semester', 'extra'],
      properties: {
        semester: { title: 'Semester', type: 'string', pattern: '^\\d{4}[AB]$', examples: ['soon', '2027A'] },
        targets: { type: 'array', minItems: 1, items: { $ref: '#/$defs/target' } },
        secret: { type: 'string', format: 'password' },
      },
      patternProperties: { '^x-': { maxLength: 3 } },
      allOf: [{ properties: { semester: { minLength: 5 } } }],
      $defs: { target: { type: 'object', properties: { name: { type: 'string' } }, required: ['name'] } },
    });
    expect(form.schema.form.id).toBe('observing-proposal');
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
    expect(form.schema.titles.map(({ text }) => text)).toEqual(['Semester']);
    expect(form.schema.form.fields.find(({ path: at }) => at === 'targets[*].name')?.origin.keys).toEqual([
      '$defs',
      'target',
      'properties',
      'name',
    ]);
    expect(form.index.isSecret(['secret'])).toBe(true);
  });

  test('a schema that contains itself is named with .., and evaluated at any depth', () => {
    const tree = only({
      $id: 'tree',
      type: 'object',
      properties: { name: { type: 'string', maxLength: 2 }, children: { type: 'array', items: { $ref: '#' } } },
    });
    expect(tree.schema.form.fields.map(({ path: at }) => at)).toEqual([
      '',
      'name',
      'children',
      '..children[*]',
      '..children[*].name',
      '..children[*].children',
    ]);
    const violations = run(tree, { body: { name: 'xxx', children: [{ children: [{ name: 'xxx' }] }, 5] } });
    expect(said(violations)).toEqual(['name maxLength', 'children[0].children[0].name maxLength', 'children[1] type']);
    for (const { path: at, rule } of violations)
      expect(tree.index.field(tree.index.readPath(at, 'body'), 'body')?.uses.some((use) => use.rule === rule)).toBe(true);
  });

  test('references: other files, $id, cycles between files; and what cannot be followed', () => {
    const files = {
      'forms/common.json': { $defs: { name: { type: 'string', maxLength: 2 }, loop: { $ref: 'proposal.schema.json' } } },
      'shared/site.json': { $id: 'https://errors.harrowfell.example/site', type: 'integer' },
    };
    const root = {
      properties: {
        a: { $ref: 'common.json#/$defs/name' },
        b: { $ref: '../shared/site.json' },
        c: { $ref: 'common.json#/$defs/loop' },
      },
    };
    expect(broken(root, { a: 'xxx', b: 'x', c: { a: 'yyy' } }, files)).toEqual(['a maxLength', 'b type', 'c.a maxLength']);
    const lost = (reference: string): string | undefined => only({ properties: { a: { $ref: reference } } }, files).remarks[0];
    expect(lost('https://errors.harrowfell.example/other')).toMatch(
      /is a remote reference, and nothing is fetched; put the file into the workspace/,
    );
    expect(lost('../../etc/passwd')).toMatch(/leads out of the workspace/);
    expect(lost('/etc/passwd')).toMatch(/leads out of the workspace/);
    expect(lost('missing.json')).toMatch(/names forms\/missing.json, which is not in the workspace/);
    expect(lost('#/$defs/nothing')).toMatch(/there is no "\$defs"/);
    expect(lost('#nowhere')).toMatch(/names an anchor that is not there/);
  });
});

describe('OpenAPI', () => {
  const operation = (schema: Json, more: Json = {}): Json => ({
    openapi: '3.0.3',
    paths: {
      '/proposals/{id}': {
        parameters: [{ name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } }],
        put: {
          operationId: 'change-proposal',
          parameters: [
            { name: 'X-Station', in: 'header', required: true, schema: { enum: ['north', 'south'] } },
            { $ref: '#/components/parameters/dry' },
          ],
          requestBody: { content: { 'application/merge-patch+json': { schema } } },
        },
        get: { responses: {} },
        delete: { responses: {} },
      },
    },
    components: {
      parameters: { dry: { name: 'dry', in: 'query', schema: { type: 'boolean' } } },
      schemas: { Id: { type: 'integer', readOnly: true } },
    },
    ...more,
  });

  test('an operation is a form: body and parameters, 3.0 read as it means it', () => {
    const [form, get] = read(
      operation({
        type: 'object',
        required: ['id', 'nights', 'note'],
        additionalProperties: false,
        properties: {
          id: { $ref: '#/components/schemas/Id' },
          nights: { type: 'integer', minimum: 0, exclusiveMinimum: true },
          note: { type: 'string', nullable: true, enum: ['short', 'long'] },
        },
      }),
    );
    if (!form || !get) throw new Error('no forms');
    expect([form.schema.form.id, form.schema.form.request, get.schema.form.id]).toEqual([
      'change-proposal',
      'PUT /proposals/{id}',
      'GET /proposals/{id}',
    ]);
    expect(form.schema.form.fields.map(({ in: place, path: at }) => `${place} ${at}`)).toEqual([
      ...['body ', 'body nights', 'body note', 'path id', 'header X-Station', 'query dry'],
    ]);
    const request = {
      path: { id: '0' },
      header: {},
      query: { dry: 'x' },
      body: { id: 'anything', nights: 0, note: null, more: 1 },
    };
    expect(said(run(form, request))).toEqual([
      ' additionalProperties',
      'nights exclusiveMinimum',
      'id minimum',
      'X-Station required',
      'dry type',
    ]);
    expect(
      said(
        run(form, {
          ...request,
          body: { nights: 1, note: 'long' },
          path: { id: '7' },
          header: { 'x-station': 'north' },
          query: {},
        }),
      ),
    ).toEqual([]);
  });

  test('3.1 is JSON Schema 2020-12', () => {
    const [form] = read({
      ...operation({ properties: { a: { type: ['string', 'null'] }, b: { prefixItems: [{ const: 1 }], items: false } } }),
      openapi: '3.1.0',
    });
    if (!form) throw new Error('no form');
    expect(said(run(form, { body: { a: 5, b: [1, 2] }, path: { id: '1' }, header: { 'x-station': 'south' } }))).toEqual([
      'a type',
      'b maxItems',
    ]);
  });
});

describe('a sheet written out as JSON Schema', () => {
  const sheet = {
    title: { type: 'string', required: true, maxLength: 4 },
    kind: { enum: ['a', 'b'] },
    'lead.name': { required: true },
    lead: { optional: true },
    'targets[*].n': { type: 'integer', range: { min: 1, max: 3 }, required: true },
    targets: { maxItems: 2, uniqueItems: true },
    'map.*': { type: 'number', multipleOf: 0.5 },
    gone: { absent: true },
  };
  const [form] = readSheet({ forms: { form: { fields: sheet } } }, 'rules.yaml').forms;
  if (!form) throw new Error('no form');
  const index = new FormIndex(form);
  const { schema, unsaid } = formAsJsonSchema(form, undefined);

  test('lets through what the sheet lets through, and nothing else', () => {
    const form2 = only(schema);
    const scalar = fc.constantFrom<unknown>(null, '', ' ', 'a', 'abcde', 0, 2, 2.5, true, [], {});
    const body = fc.record(
      {
        title: scalar,
        kind: scalar,
        lead: fc.oneof(scalar, fc.record({ name: scalar }, { requiredKeys: [] })),
        targets: fc.oneof(scalar, fc.array(fc.oneof(scalar, fc.record({ n: scalar }, { requiredKeys: [] })), { maxLength: 3 })),
        map: fc.oneof(scalar, fc.dictionary(fc.constantFrom('x', 'y'), scalar)),
        gone: scalar,
      },
      { requiredKeys: [] },
    );
    const around = { zone: 'UTC', today: () => '', matches, hasFormat, knows: () => undefined };
    fc.assert(
      fc.property(body, (value) => {
        const bySheet = evaluate(index, { body: value }, around).length === 0;
        expect([value, run(form2, { body: value }).length === 0]).toEqual([value, bySheet]);
      }),
      { numRuns: 500 },
    );
    expect(unsaid).toEqual([]);
  });

  test('says what it cannot say', () => {
    const [rich] = readSheet(
      {
        forms: {
          f: {
            query: { q: { type: 'string' } },
            fields: { a: { trim: true, maxLength: 3, external: { odd: true } }, b: { repeats: 'a' } },
          },
        },
      },
      'x',
    ).forms;
    if (!rich) throw new Error('no form');
    expect(formAsJsonSchema(rich, undefined).unsaid).toEqual([
      'q, a parameter of the query',
      'a: that blanks around the text do not count for maxLength',
      'a: odd',
      'b: repeats',
    ]);
  });
});
