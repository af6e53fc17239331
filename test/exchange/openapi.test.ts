import { describe, expect, test } from '@jest/globals';
import { broken, judgeOf, read, run, said } from '../support/schemas.js';

type Json = Record<string, unknown>;

describe('OpenAPI', () => {
  const operation = (schema: Json, more: Json = {}): Json => ({
    openapi: '3.0.3',
    paths: {
      '/proposals/{id}': {
        parameters: [
          { name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } },
        ],
        put: {
          operationId: 'change-proposal',
          parameters: [
            {
              name: 'X-Station',
              in: 'header',
              required: true,
              schema: { enum: ['north', 'south'] },
            },
            // OpenAPI ignores header parameters of these names.
            {
              name: 'Accept',
              in: 'header',
              required: true,
              schema: { enum: ['application/json'] },
            },
            {
              name: 'authorization',
              in: 'header',
              required: true,
              schema: { type: 'string', minLength: 900 },
            },
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

  test('forms that refer to the same parts are judged each by its own, as often as anybody asks', () => {
    const body = (schema: Json): Json => ({
      requestBody: { content: { 'application/json': { schema } } },
    });
    const note = { $ref: '#/components/schemas/Note' };
    const marks = {
      name: 'marks',
      in: 'query',
      schema: { type: 'array', items: { type: 'integer' } },
    };
    const forms = read({
      openapi: '3.1.0',
      paths: {
        '/notes': { post: { operationId: 'note', ...body(note), parameters: [marks] } },
        '/plates': {
          post: {
            operationId: 'plate',
            ...body({ required: ['id'], properties: { note, id: { minimum: 2 } } }),
          },
        },
      },
      components: {
        schemas: {
          Note: {
            required: ['text'],
            properties: { text: { maxLength: 2 }, replies: { type: 'array', items: note } },
          },
        },
      },
    }).map(judgeOf);
    const tell = (): unknown[] => [
      said(
        forms[0]?.({ body: { text: 'abc', replies: [{}, { replies: [{ text: 'abc' }] }] } })
          .violations ?? [],
      ),
      said(forms[1]?.({ body: { id: 1, note: { replies: [{ text: 'abc' }] } } }).violations ?? []),
    ];
    const told = [
      [
        'text maxLength',
        'replies[0].text required',
        'replies[1].text required',
        'replies[1].replies[0].text maxLength',
      ],
      ['note.text required', 'note.replies[0].text maxLength', 'id minimum'],
    ];
    expect([tell(), tell()]).toEqual([told, told]);
    // What one request had too many of says nothing of the next.
    const many = { body: { text: 'a' }, query: { marks: Array.from({ length: 2500 }, () => 'x') } };
    expect(forms[0]?.(many)).toMatchObject({ more: 500, violations: { length: 2000 } });
    expect(forms[0]?.({ body: { text: 'a' }, query: {} })).toEqual({ more: 0, violations: [] });
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
    expect([
      form.schema.parts.form.id,
      form.schema.parts.form.request,
      get.schema.parts.form.id,
    ]).toEqual(['change-proposal', 'PUT /proposals/{id}', 'GET /proposals/{id}']);
    expect(form.schema.parts.form.fields.map(({ in: part, path: at }) => `${part} ${at}`)).toEqual([
      'body ',
      'body nights',
      'body note',
      'path id',
      'header X-Station',
      'query dry',
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
      ...operation({
        properties: {
          a: { type: ['string', 'null'] },
          b: { prefixItems: [{ const: 1 }], items: false },
        },
      }),
      openapi: '3.1.0',
    });
    if (!form) throw new Error('no form');
    expect(
      said(
        run(form, {
          body: { a: 5, b: [1, 2] },
          path: { id: '1' },
          header: { 'x-station': 'south' },
        }),
      ),
    ).toEqual(['a type', 'b maxItems']);
  });
});

test('nullable is a word of OpenAPI 3.0, beside a type, and of nothing else', () => {
  const inOpenApi = (version: string, schema: object): object => ({
    openapi: version,
    paths: {
      '/a': {
        post: { operationId: 'a', requestBody: { content: { 'application/json': { schema } } } },
      },
    },
  });
  const nullable = { nullable: true, type: 'string' };
  expect(broken(inOpenApi('3.0.3', nullable), null)).toEqual([]);
  expect(broken(inOpenApi('3.1.0', nullable), null)).toEqual([' type']);
  expect(broken(nullable, null)).toEqual([' type']);
  for (const root of [
    inOpenApi('3.0.3', { nullable: true }),
    inOpenApi('3.1.0', { nullable: true }),
    { nullable: true, properties: {} },
  ])
    for (const body of [null, 1, {}]) expect(broken(root, body)).toEqual([]);
});
