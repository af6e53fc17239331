import { readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { parse } from 'yaml';
import type { Answer } from '../../src/core/body/answer.js';
import { DEFAULT_SHAPE_OPTIONS, type ShapeOptions } from '../../src/core/body/shapes/shape.js';
import { SHAPES } from '../../src/core/body/shapes/shapes.js';
import { checkTemplate, TemplateError } from '../../src/core/body/shapes/check-template.js';
import { templateShape } from '../../src/core/body/shapes/template.js';
import { parseLocale } from '../../src/core/locale/tag.js';
import { parsePath } from '../../src/core/path/path.js';
import { toFragment } from '../../src/core/path/pointer.js';
import type { RequestPart } from '../../src/core/rules/form.js';
import type { Sentence } from '../../src/core/violation/sentence.js';
import { readReply } from '../../src/client.js';

const sentence = (at: string, code: string, text: string, part: RequestPart = 'body'): Sentence => {
  const path = parsePath(at);
  const pointer = part === 'body' ? toFragment(path) : path.join('.');
  return {
    text,
    case: {
      path,
      in: part,
      where: `${part} ${pointer}`,
      pointer,
      code,
      found: undefined,
      spoken: undefined,
      use: undefined,
      lacks: code === 'required',
      rank: [],
    },
  };
};

const answer: Answer = {
  problem: 'invalid-fields',
  type: 'https://errors.harrowfell.example/invalid-fields',
  status: 422,
  title: 'Please correct',
  detail: 'Two things.',
  locale: parseLocale('en'),
  members: {},
  instance: '/proposals/41',
  locales: [],
  time: '2027-03-09T21:30:00Z',
  requestId: 'r-1',
  more: 0,
  sentences: [
    sentence('dryRun', 'enum', 'Dry run: yes or no.', 'query'),
    sentence('', 'type', 'An object.'),
    sentence('targets[2].name', 'required', 'Give the <name> & more.'),
    sentence('targets[2].name', 'too-odd', 'It is "odd".'),
    sentence('["a/b~c"]', 'enum', "It's Ünï."),
  ],
};
const other: Answer = {
  ...answer,
  problem: 'not-found',
  type: 'https://errors.harrowfell.example/not-found',
  status: 404,
  title: 'Nothing',
  detail: '',
  sentences: [],
};

const shapeOf = (name: string): NonNullable<ReturnType<typeof SHAPES.get>> => {
  const shape = SHAPES.get(name);
  if (!shape) throw new Error(name);
  return shape;
};
const write = (name: string, of = answer, options: Partial<ShapeOptions> = {}): string =>
  shapeOf(name).write(of, { ...DEFAULT_SHAPE_OPTIONS, ...options });
const value = (name: string, of = answer, options: Partial<ShapeOptions> = {}): unknown =>
  JSON.parse(write(name, of, options));

const problem = (of: Answer): Record<string, unknown> =>
  value('problem', of) as Record<string, unknown>;

describe('every shape', () => {
  test.each([...SHAPES.keys()])(
    '%s tells every sentence, unchanged but for escapes, and none twice',
    (name) => {
      const text = write(name)
        .replaceAll('&lt;', '<')
        .replaceAll('&gt;', '>')
        .replaceAll('&quot;', '"')
        .replaceAll('&#39;', "'")
        .replaceAll('&amp;', '&')
        .replaceAll('\\"', '"');
      for (const { text: said } of answer.sentences) expect(text.split(said)).toHaveLength(2);
      expect(write(name, other)).toContain('Nothing');
    },
  );
});

describe('problem (RFC 9457)', () => {
  // Written from section 3 and figure 1 to 3 of the RFC: members and their types, and the extension
  // `errors`.
  const valid = new Ajv2020({ validateFormats: false }).compile({
    type: 'object',
    required: ['type', 'title', 'status'],
    properties: {
      type: { type: 'string', format: 'uri-reference' },
      title: { type: 'string' },
      detail: { type: 'string' },
      status: { type: 'integer', minimum: 100, maximum: 599 },
      instance: { type: 'string' },
      errors: {
        type: 'array',
        items: {
          type: 'object',
          required: ['detail'],
          properties: { pointer: { type: 'string', pattern: '^#(/.*)?$' } },
        },
      },
    },
  });

  test("the RFC's own example of validation errors can be written", () => {
    const body = problem({
      ...answer,
      type: 'https://example.net/validation-error',
      title: 'Your request is not valid.',
      detail: '',
      instance: undefined,
      sentences: [
        sentence('age', 'type', 'must be a positive integer'),
        sentence('profile.color', 'enum', "must be 'green', 'red' or 'blue'"),
      ],
    });
    expect(body).toMatchObject({
      type: 'https://example.net/validation-error',
      title: 'Your request is not valid.',
      errors: [
        { detail: 'must be a positive integer', pointer: '#/age' },
        { detail: "must be 'green', 'red' or 'blue'", pointer: '#/profile/color' },
      ],
    });
    expect(valid(body)).toBe(true);
  });

  test('what is written is the JSON of the value to the letter, in every shape', () => {
    const inline = answer.sentences.map((one) => ({ ...one, inline: 'odd', written: undefined }));
    const details = answer.sentences.map(({ case: { code } }) => ({ rule: code }));
    for (const one of [
      ...[
        answer,
        other,
        { ...answer, members: { line: 2 } },
        { ...other, members: { title: 'Odd' } },
      ],
      ...[{ ...answer, sentences: inline, more: 3 }, { ...answer, details }, answer],
    ]) {
      for (const { name, value: of } of SHAPES.values())
        if (of) expect(write(name, one)).toBe(JSON.stringify(of(one, DEFAULT_SHAPE_OPTIONS)));
      expect(valid(problem(one))).toBe(true);
    }
  });

  test('parameters and headers have names, not pointers; XML has the same', () => {
    expect((problem(answer).errors as unknown[])[0]).toEqual({
      parameter: 'dryRun',
      code: 'enum',
      detail: 'Dry run: yes or no.',
    });
    const xml = write('problem-xml');
    expect(xml).toMatch(
      /^<\?xml version="1\.0" encoding="UTF-8"\?>\n<problem xmlns="urn:ietf:rfc:7807" xml:lang="en"><type>/,
    );
    expect(xml).toContain(
      '<i><pointer>#/targets/2/name</pointer><code>required</code><detail>Give the &lt;name&gt; &amp; more.</detail></i>',
    );
    expect(write('problem-xml', { ...other, title: 'a\u0000b' })).toContain('<title>ab</title>');
  });
});

test('jsonapi: error objects with a source, by the specification', () => {
  // JSON:API 1.1, Error Objects.
  const valid = new Ajv2020().compile({
    type: 'object',
    required: ['errors'],
    not: { required: ['data'] },
    properties: {
      errors: {
        type: 'array',
        items: {
          type: 'object',
          additionalProperties: false,
          properties: {
            id: { type: 'string' },
            links: { type: 'object' },
            status: { type: 'string', pattern: '^[1-5]\\d\\d$' },
            code: { type: 'string' },
            title: { type: 'string' },
            detail: { type: 'string' },
            meta: { type: 'object' },
            source: {
              type: 'object',
              additionalProperties: false,
              properties: {
                pointer: { type: 'string', pattern: '^(/.*)?$' },
                parameter: { type: 'string' },
                header: { type: 'string' },
              },
            },
          },
        },
      },
    },
  });
  expect(valid(value('jsonapi'))).toBe(true);
  expect(valid(value('jsonapi', other))).toBe(true);
  expect(
    (value('jsonapi', answer, { prefix: '/data' }) as { errors: { source: unknown }[] }).errors.map(
      ({ source }) => source,
    ),
  ).toEqual([
    { parameter: 'dryRun' },
    { pointer: '/data' },
    { pointer: '/data/targets/2' },
    { pointer: '/data/targets/2/name' },
    { pointer: '/data/a~1b~0c' },
  ]);
  const header = { ...answer, sentences: [sentence('["X-Station"]', 'required', 'x', 'header')] };
  expect(value('jsonapi', header)).toMatchObject({ errors: [{ source: { header: 'X-Station' } }] });
});

test('graphql: errors with message and extensions, by the specification', () => {
  // GraphQL, October 2021, section 7.1.2: message, locations, path, extensions and nothing else.
  const valid = new Ajv2020().compile({
    type: 'object',
    required: ['errors'],
    properties: {
      errors: {
        type: 'array',
        minItems: 1,
        items: {
          type: 'object',
          required: ['message'],
          additionalProperties: false,
          properties: { message: { type: 'string' }, extensions: { type: 'object' } },
        },
      },
    },
  });
  expect([valid(value('graphql')), valid(value('graphql', other))]).toEqual([true, true]);
  expect(value('graphql')).toMatchObject({
    errors: [
      { extensions: { input: ['dryRun'], in: 'query' } },
      {},
      { extensions: { input: ['targets', 2, 'name'], code: 'required' } },
      {},
      {},
    ],
  });
});

test('what is not told is counted, in every shape', () => {
  const rest: Answer = { ...answer, more: 23 };
  expect(value('problem', rest)).toMatchObject({ more: 23, errors: { length: 5 } });
  expect(write('problem', rest)).toBe(JSON.stringify(value('problem', rest)));
  expect(write('problem-xml', rest)).toContain('<more>23</more>');
  expect(value('jsonapi', rest)).toMatchObject({ meta: { more: 23 }, errors: { length: 5 } });
  expect(value('graphql', rest)).toMatchObject({ extensions: { more: 23 }, errors: { length: 5 } });
  expect(value('fields', rest)).toMatchObject({ more: 23 });
  expect((value('list', rest) as unknown[]).at(-1)).toEqual({
    field: null,
    code: 'more',
    text: 'Two things.',
    more: 23,
  });
  expect(write('text', rest)).toMatch(/\n- … \(\+23\)$/);
  expect(write('html', rest)).toContain('<li data-more="23">… (+23)</li></ul>');
  for (const shape of ['problem', 'jsonapi', 'graphql', 'fields', 'list']) {
    const read = readReply({
      status: 422,
      mediaType: 'application/json',
      text: write(shape, rest),
    });
    expect([shape, read.kind === 'invalid' && read.more]).toEqual([shape, 23]);
  }
});

test('fields, list, text and html', () => {
  expect(value('fields')).toMatchObject({
    fields: { '': ['An object.'], 'targets[2].name': ['Give the <name> & more.', 'It is "odd".'] },
    parameters: { dryRun: ['Dry run: yes or no.'] },
  });
  expect(value('fields', answer, { texts: 'joined' })).toMatchObject({
    fields: { 'targets[2].name': 'Give the <name> & more. It is "odd".' },
  });
  expect(value('list')).toMatchObject([
    { field: 'dryRun', in: 'query', code: 'enum' },
    { field: '' },
    { field: 'targets[2].name', code: 'required' },
    {},
    {},
  ]);
  expect(value('list', other)).toEqual([{ field: null, code: 'not-found', text: 'Nothing' }]);
  expect(write('text').split('\n')).toEqual([
    'Please correct',
    'Two things.',
    ...answer.sentences.map(({ text }) => `- ${text}`),
  ]);
  const html = { layout: 'paragraphs', element: 'section', class: 'a"b' } as const;
  expect(write('html', answer, { html })).toMatch(
    /^<section lang="en" dir="ltr" class="a&quot;b"><p><strong>/,
  );
  expect(write('html', answer, { html })).toContain(
    '<p data-pointer="#/targets/2/name" data-code="required">Give the &lt;name&gt; &amp; more.</p>',
  );
  expect(write('html', { ...answer, locale: parseLocale('ar') })).toMatch(
    /^<div lang="ar" dir="rtl">.*<ul><li /,
  );
});

describe('a shape of the user’s own', () => {
  test('has places for all that an answer holds, and nodes repeated for each violation or field', () => {
    const shape = templateShape('our-own', 'application/json', {
      ok: false,
      error: {
        no: '<status>',
        what: '<title>',
        why: '<detail>',
        trace: '<request-id>',
        at: '<time>',
        many: '<count>',
      },
      note: '<count> in <fields("; ")>',
      names: '<fields>',
      items: {
        each: 'violation',
        node: { where: '<field>', at: '<pointer>', what: '<code>: <text>', id: '<request-id>' },
      },
      texts: { each: 'field', key: '<field>', node: '<texts>' },
      list: { each: 'field', node: ['<field>', '<text>'] },
    });
    const body = JSON.parse(shape.write(answer, DEFAULT_SHAPE_OPTIONS)) as Record<string, unknown>;
    expect(body).toMatchObject({
      ok: false,
      error: {
        no: 422,
        what: 'Please correct',
        why: 'Two things.',
        trace: 'r-1',
        at: '2027-03-09T21:30:00Z',
        many: 5,
      },
      note: '5 in dryRun; ; targets[2].name; a/b~c',
      names: ['dryRun', '', 'targets[2].name', 'a/b~c'],
      texts: { 'targets[2].name': ['Give the <name> & more.', 'It is "odd".'] },
    });
    expect((body.items as unknown[])[2]).toEqual({
      where: 'targets[2].name',
      at: '/targets/2/name',
      what: 'required: Give the <name> & more.',
      id: 'r-1',
    });
    expect((body.list as unknown[])[3]).toEqual(['a/b~c', "It's Ünï."]);
  });

  test('the reference shows the template of "problem"', () => {
    const page = readFileSync(path.join(__dirname, '../../docs/reference/bodies.md'), 'utf8');
    const [, yaml = ''] = /`problem`, for example:\n\n```yaml\n(.*?)```/s.exec(page) ?? [];
    const { body } = parse(yaml) as { body: unknown };
    expect(body).toEqual(SHAPES.get('problem')?.template);
    expect(() => checkTemplate(body, 'application/json')).not.toThrow();
  });

  test.each<[unknown, string, (string | number)[]]>([
    [{ a: ['<titel>'] }, 'there is no slot <titel> here (did you mean "title"?)', ['a', 0]],
    [{ a: '<codes>' }, 'there is no slot <codes> here', ['a']],
    [
      { a: { each: 'row', node: 1 } },
      '"each" is violation or field or body-field or other-field',
      ['a', 'each'],
    ],
    [{ a: { each: 'field' } }, '"each" goes with "node"', ['a']],
    [{ a: { each: 'field', node: 1, colour: 2 } }, 'not with "colour"', ['a', 'colour']],
    [
      { a: { when: 'detial', node: 1 } },
      'no slot <detial> here (did you mean "detail"?)',
      ['a', 'when'],
    ],
    [{ a: { when: 'beside', node: 1 } }, 'no slot <beside> here', ['a', 'when']],
    [
      { each: 'violation', node: { each: 'field', node: 1 } },
      'is repeated already',
      ['node', 'each'],
    ],
    [
      { a: { each: 'violation', node: { b: '<codes>' } } },
      'there is no slot <codes> here',
      ['a', 'node', 'b'],
    ],
  ])('%j is refused', (template, sentenceSaid, keys) => {
    try {
      checkTemplate(template, 'application/json');
      throw new Error('it was taken');
    } catch (error) {
      expect(error).toBeInstanceOf(TemplateError);
      if (!(error instanceof TemplateError)) return;
      expect(error.message).toContain(sentenceSaid);
      expect(error.keys).toEqual(keys);
    }
  });
});
