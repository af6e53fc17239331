import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormIndex } from '../../src/core/rules/form-index.js';
import { gathered, parametersOf, withParameters } from '../../src/core/rules/parameters.js';
import type { Form } from '../../src/core/rules/form.js';
import { readSheet } from '../../src/core/rules/sheet.js';
import { contractOpenApi } from '../../src/exchange/contract/openapi.js';
import { FormTable } from '../../src/workspace/reading/forms.js';
import { RequestForms } from '../../src/workspace/reading/request-forms.js';
import { only, run, said, type Read } from '../support/schemas.js';

type Json = Record<string, unknown>;
type Place = 'query' | 'path' | 'header';

const formWith = (...parameters: Json[]): Read =>
  only({
    openapi: '3.1.0',
    paths: { '/nights/{color}': { get: { operationId: 'nights', parameters } } },
  });

const SCHEMAS = {
  text: { type: 'string' },
  list: { type: 'array', items: { type: 'string' } },
  object: {
    type: 'object',
    properties: { R: { type: 'integer' }, G: { type: 'integer' }, B: { type: 'integer' } },
  },
};

function color(place: Place, writing: Json, kind: keyof typeof SCHEMAS, written: string): unknown {
  const { index } = formWith({
    name: 'color',
    in: place,
    required: true,
    ...writing,
    schema: SCHEMAS[kind],
  });
  const given =
    place === 'query'
      ? gathered(new URLSearchParams(written))
      : { color: decodeURIComponent(written) };
  const read = withParameters(index, { [place]: given })[place] as Json;
  return read.color;
}

describe('how parameters are written (OpenAPI 3.1.0, Style Values)', () => {
  const LIST = ['blue', 'black', 'brown'];
  const OBJECT = { R: 100, G: 200, B: 150 };
  const none = undefined;

  // The standard's table of examples, with its columns: an empty text, a text, a list, an object.
  test.each<[Place, string, boolean, ...(string | undefined)[]]>([
    [
      'path',
      'matrix',
      false,
      ';color',
      ';color=blue',
      ';color=blue,black,brown',
      ';color=R,100,G,200,B,150',
    ],
    [
      'path',
      'matrix',
      true,
      ';color',
      ';color=blue',
      ';color=blue;color=black;color=brown',
      ';R=100;G=200;B=150',
    ],
    ['path', 'label', false, '.', '.blue', '.blue.black.brown', '.R.100.G.200.B.150'],
    ['path', 'label', true, '.', '.blue', '.blue.black.brown', '.R=100.G=200.B=150'],
    [
      'query',
      'form',
      false,
      'color=',
      'color=blue',
      'color=blue,black,brown',
      'color=R,100,G,200,B,150',
    ],
    [
      'query',
      'form',
      true,
      'color=',
      'color=blue',
      'color=blue&color=black&color=brown',
      'R=100&G=200&B=150',
    ],
    ['path', 'simple', false, none, 'blue', 'blue,black,brown', 'R,100,G,200,B,150'],
    ['header', 'simple', true, none, 'blue', 'blue, black,brown', 'R=100,G=200,B=150'],
    [
      'query',
      'spaceDelimited',
      false,
      none,
      none,
      'color=blue%20black%20brown',
      'color=R%20100%20G%20200%20B%20150',
    ],
    [
      'query',
      'pipeDelimited',
      false,
      none,
      none,
      'color=blue|black|brown',
      'color=R|100|G|200|B|150',
    ],
    ['query', 'deepObject', true, none, none, none, 'color[R]=100&color[G]=200&color[B]=150'],
  ])('in %s, %s, exploded %s', (place, style, explode, empty, text, list, object) => {
    const read = (kind: keyof typeof SCHEMAS, written: string | undefined): unknown =>
      written === undefined ? none : color(place, { style, explode }, kind, written);
    expect([
      read('text', empty),
      read('text', text),
      read('list', list),
      read('object', object),
    ]).toEqual([
      empty === none ? none : '',
      text === none ? none : 'blue',
      list === none ? none : LIST,
      object === none ? none : OBJECT,
    ]);
  });

  test('where a document does not say, it goes by the place', () => {
    expect(color('query', {}, 'list', 'color=a,b&color=c')).toEqual(['a,b', 'c']);
    expect(color('path', {}, 'list', 'a,b')).toEqual(['a', 'b']);
    const listed = formWith({ name: 'n', in: 'query', schema: { enum: [1, true, 'x'] } });
    const read = (text: string): unknown =>
      (withParameters(listed.index, { query: { n: text } }).query as Json).n;
    expect(['1', 'true', 'x', '2', 'false'].map(read)).toEqual([1, true, 'x', 2, false]);
    expect(color('query', { style: 'unheard-of' }, 'object', 'R=1')).toEqual({ R: 1 });
  });

  test('a list of one, whole numbers and names in brackets come back as they were written', () => {
    const numbers = {
      name: 'n',
      in: 'query',
      schema: { type: 'array', items: { type: 'integer' } },
    };
    const deep = { name: 'deep', in: 'query', style: 'deepObject', schema: { type: 'object' } };
    const { index } = formWith(numbers, { ...numbers, name: 'joined', explode: false }, deep);
    const word = fc.string({ minLength: 1 }).filter((text) => !/[[\]]/.test(text));
    fc.assert(
      fc.property(
        fc.array(fc.integer(), { minLength: 1 }),
        fc.dictionary(word, fc.string(), { minKeys: 1 }),
        (list, object) => {
          const query = new URLSearchParams([
            ...list.map((one): [string, string] => ['n', String(one)]),
            ['joined', list.join(',')],
            ...Object.entries(object).map(([name, value]): [string, string] => [
              `deep[${name}]`,
              value,
            ]),
          ]);
          const read = withParameters(index, { query: gathered(query) }).query as Json;
          expect([read.n, read.joined, Object.entries(read.deep as Json)]).toEqual([
            list,
            list,
            Object.entries(object),
          ]);
        },
      ),
    );
  });
});

test('a contract tells how they are written', () => {
  const styles = [
    ...['form', 'spaceDelimited', 'pipeDelimited', 'deepObject'].map((style) => ({
      in: 'query',
      style,
    })),
    ...['simple', 'label', 'matrix'].map((style) => ({ in: 'path', style })),
  ];
  const written = styles.flatMap(({ in: place, style }) =>
    Object.entries(SCHEMAS).flatMap(([kind, schema]) =>
      [true, false].map((explode) => ({
        name: `${style}-${kind}-${explode}`,
        in: place,
        style,
        explode,
        schema,
      })),
    ),
  );
  const json = {
    name: 'json',
    in: 'query',
    content: { 'application/json': { schema: { type: 'object' } } },
  };
  const { schema } = formWith(...written, json, {
    name: 'X-A',
    in: 'header',
    schema: SCHEMAS.list,
  });
  const form = { ...schema.parts.form, request: 'GET /nights' };
  const again = only(
    contractOpenApi(
      [form],
      { mediaType: 'a/b', schema: {} },
      () => ({ schema: {}, unsaid: [] }),
      '1',
    ),
  );
  const ways = (one: Form): unknown =>
    parametersOf(new FormIndex(one)).map(({ name, in: part, shape, writing }) => [
      name,
      part,
      shape,
      shape === 'plain' || writing,
    ]);
  expect(ways(again.schema.parts.form)).toEqual(ways(form));
});

test('what is wrong inside of a parameter is told at its place', () => {
  const form = formWith(
    {
      name: 'ids',
      in: 'query',
      schema: { type: 'array', maxItems: 3, items: { type: 'integer', minimum: 1 } },
    },
    {
      name: 'page',
      in: 'query',
      required: true,
      schema: {
        type: 'object',
        required: ['size'],
        properties: { size: { maximum: 9, type: 'integer' }, after: {} },
      },
    },
    {
      name: 'where',
      in: 'query',
      content: {
        'application/json': { schema: { type: 'object', properties: { mag: { maximum: 20 } } } },
      },
    },
    {
      name: 'X-Weights',
      in: 'header',
      schema: { type: 'array', items: { type: 'number', minimum: 0 } },
    },
  );
  const told = (query: string, header: Json = {}): string[] =>
    said(run(form, { query: gathered(new URLSearchParams(query)), header }));
  expect(told('ids=4&size=9&where={"mag":3}', { 'x-weights': '1, 2.5' })).toEqual([]);
  expect(told('ids=0&ids=x&size=10&where={"mag":30}', { 'x-weights': '1,-2' })).toEqual([
    'ids[0] minimum',
    'ids[1] type',
    'page.size maximum',
    'where.mag maximum',
    'X-Weights[1] minimum',
  ]);
  expect(told('after=4&where={"mag')).toEqual(['page.size required', 'where type']);
  expect(told('ids=1&ids=2&ids=3&ids=4')).toEqual(['ids maxItems', 'page required']);
  // What nobody could look through is not JSON to us.
  expect(told(`size=1&where=${'['.repeat(5000)}`)).toEqual(['where type']);
});

test('a sheet has lists by repeating, and objects in brackets; what is read already stays as it is', () => {
  const query = {
    'tags[*]': { type: 'integer' },
    'filter.from': { required: true },
    'filter.day.number': { type: 'integer' },
  };
  const { forms, remarks } = readSheet({ forms: { nights: { fields: {}, query } } }, 'rules.yaml');
  const [form] = forms;
  if (!form || remarks.length > 0) throw new Error(JSON.stringify(remarks));
  const index = new FormIndex(form);
  const read = (text: string): unknown =>
    withParameters(index, { query: gathered(new URLSearchParams(text)) }).query;
  expect(read('tags=3')).toEqual({ tags: [3] });
  expect(read('tags=3&tags=x&filter[from]=a&filter[day][number]=7&else=1')).toMatchObject({
    tags: [3, 'x'],
    filter: { from: 'a', day: { number: 7 } },
    else: '1',
  });
  const request = { query: { tags: [1], filter: { from: 'a' } }, body: { tags: '1' } };
  expect(withParameters(index, request)).toEqual(request);
  const hostile = read('filter[__proto__][from]=a&filter[from][=1&filter=') as { filter: unknown };
  expect([hostile.filter, Object.keys({})]).toEqual(['', []]);
  expect(Object.getPrototypeOf((read('filter[__proto__][x]=a') as { filter: object }).filter)).toBe(
    Object.prototype,
  );
});

describe('which form a request is for', () => {
  const requests = [
    'GET /nights/{night}',
    'GET /nights/today',
    'GET /nights/{night}/plates/{plate}.{format}',
    'POST /nights/{night}:close',
    'GET /report-{from}-{to}',
    'GET /{anything}',
  ];
  const bases = ['/v2', '/{tenant}'];
  const table = new FormTable();
  const forms = requests.map((request): Form => ({
    id: request,
    request,
    partial: false,
    fields: [],
    origin: { file: '', keys: [] },
    ...(request.startsWith('POST') ? { bases } : {}),
  }));
  for (const form of forms) table.add(form.id, () => new FormIndex(form));
  const routes = new RequestForms(table);

  test.each<[string, string | undefined, Json | undefined]>([
    ['GET /nights/12', 'GET /nights/{night}', { night: '12' }],
    ['GET /nights/a%20b', 'GET /nights/{night}', { night: 'a b' }],
    ['GET /nights/today', 'GET /nights/today', {}],
    ['GET /nights/', undefined, undefined],
    [
      'GET /nights/1/plates/a.b.png',
      'GET /nights/{night}/plates/{plate}.{format}',
      { night: '1', plate: 'a', format: 'b.png' },
    ],
    ['GET /nights/1/plates/a', undefined, undefined],
    ['GET /nights/1/plates/.png', undefined, undefined],
    ['POST /nights/7:close', 'POST /nights/{night}:close', { night: '7' }],
    ['POST /v2/nights/7:close', 'POST /nights/{night}:close', { night: '7' }],
    ['POST /north/nights/7:close', 'POST /nights/{night}:close', { tenant: 'north', night: '7' }],
    ['POST /nights/:close', undefined, undefined],
    ['POST /nights/7', undefined, undefined],
    ['GET /report-1-2', 'GET /report-{from}-{to}', { from: '1', to: '2' }],
    ['GET /report--2', 'GET /{anything}', { anything: 'report--2' }],
    ['GET /%ff', undefined, undefined],
  ])('%s', (request, id, segments) => {
    const [method = '', at = ''] = request.split(' ');
    const found = routes.find(method, at);
    expect([found?.form.form.id, found?.segments]).toEqual([id, segments]);
  });
});
