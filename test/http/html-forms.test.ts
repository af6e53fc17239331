import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { folderWith, zeitwort } from '../support/program.js';
import { raw, serve, type Serving } from '../support/server.js';

/** What observers send with a browser: a plate as files, a note as a query writes it. */
const API = `openapi: 3.1.0
paths:
  /plates:
    post:
      operationId: add-plate
      requestBody:
        required: true
        content:
          multipart/form-data:
            schema:
              type: object
              required: [title, plate]
              additionalProperties: false
              properties:
                title: { type: string, maxLength: 10 }
                exposure: { type: integer, minimum: 1 }
                sealed: { type: boolean }
                plate: { type: string, contentMediaType: image/png }
                sky: {}
                charts: { type: array, maxItems: 2, items: { type: string, format: binary, maxLength: 5 } }
                site: { type: object, required: [name], properties: { name: { type: string }, height: { type: integer } } }
                marks: { type: array, items: { type: object, properties: { x: { type: integer } } } }
                tags: { type: array, items: { type: string, minLength: 2 } }
            example: { title: Dome, plate: '(a picture)', charts: ['(more than five)'] }
            encoding:
              plate: { contentType: 'image/png, image/jpeg' }
              sky: { contentType: image/* }
              charts: { contentType: image/* }
  /notes:
    post:
      operationId: add-note
      requestBody:
        content:
          application/json: { schema: &note { type: object, required: [text], properties: { text: { type: string, minLength: 3 }, night: { type: integer }, filter: { type: object, properties: { from: { type: integer } } }, words: { type: array, items: { type: string, maxLength: 3 } } } } }
          application/x-www-form-urlencoded: { schema: *note, encoding: { words: { style: spaceDelimited, explode: false } } }
  /reports:
    post: { operationId: add-report, requestBody: { content: { text/csv: { schema: { type: string } } } } }
`;

const folder = folderWith({
  'zeitwort.yaml': 'original: en\nlocales: [en]\ntexts: [messages/*.json]\nrules: [api.yaml]\n',
  'messages/en.json': '{ "locale": "en" }',
  'api.yaml': API,
});
let serving: Serving;
beforeAll(async () => {
  serving = await serve(folder, '--log-level', 'silent');
});
afterAll(async () => {
  await serving.stop();
});

type Part = readonly [name: string, value: string | { type: string; text: string; name?: string }];

async function send(at: string, body: FormData | URLSearchParams): Promise<unknown> {
  const response = await fetch(serving.url + at, { method: 'POST', body });
  const told = (await response.json()) as { errors?: { pointer: string; code: string }[] };
  return response.status === 422
    ? told.errors?.map(({ pointer, code }) => `${pointer} ${code}`)
    : told;
}

const multipart = (parts: readonly Part[]): FormData => {
  const form = new FormData();
  for (const [name, value] of parts)
    if (typeof value === 'string') form.append(name, value);
    else form.append(name, new Blob([value.text], { type: value.type }), value.name ?? 'blob');
  return form;
};

const png = (text = 'sky'): Part[1] => ({ type: 'image/png', text, name: 'm31.png' });
const fine: readonly Part[] = [
  ['title', 'Dome'],
  ['plate', png()],
];

const ACCEPTED: readonly (readonly [string, readonly Part[], Record<string, unknown>])[] = [
  [
    'texts that are numbers and booleans',
    [
      ['exposure', '30'],
      ['sealed', 'true'],
    ],
    { exposure: 30, sealed: true },
  ],
  [
    'an object in brackets',
    [
      ['site[name]', 'North'],
      ['site[height]', '12'],
    ],
    { site: { name: 'North', height: 12 } },
  ],
  ['an object as JSON', [['site', '{"name":"North"}']], { site: { name: 'North' } }],
  [
    'JSON as a file',
    [['site', { type: 'application/json', text: '{"name":"North"}' }]],
    { site: { name: 'North' } },
  ],
  ['one element of a list', [['tags', 'moon']], { tags: ['moon'] }],
  [
    'objects in a list',
    [
      ['marks', '{"x":1}'],
      ['marks', '{"x":2}'],
    ],
    { marks: [{ x: 1 }, { x: 2 }] },
  ],
  [
    'one file of a list',
    [['charts', png('abc')]],
    { charts: [{ name: 'm31.png', type: 'image/png', size: 3 }] },
  ],
];
test.each(ACCEPTED)('a form may have %s', async (_, parts, read) => {
  expect(await send('/plates', multipart([...fine, ...parts]))).toEqual({
    title: 'Dome',
    plate: { name: 'm31.png', type: 'image/png', size: 3 },
    ...read,
  });
});

const REFUSED: readonly (readonly [string, readonly Part[], readonly string[]])[] = [
  ['nothing', [], ['#/title required', '#/plate required']],
  [
    'a text for a file',
    [
      ['title', 'Dome'],
      ['plate', 'sky'],
    ],
    ['#/plate type'],
  ],
  [
    'a file for a text',
    [
      ['title', png()],
      ['plate', png()],
    ],
    ['#/title type'],
  ],
  [
    'another media type',
    [...fine.slice(0, 1), ['plate', { type: 'image/gif', text: 'x' }]],
    ['#/plate mediaType'],
  ],
  [
    'large files, too many',
    [...fine, ['charts', png('abcdef')], ['charts', png('a')], ['charts', png()]],
    ['#/charts maxItems'],
  ],
  [
    'a large file',
    [...fine, ['charts', png('abcdef')], ['charts', png('a')]],
    ['#/charts/0 maxBytes'],
  ],
  [
    'a file of a type that only its encoding names',
    [...fine, ['sky', { type: 'text/plain', text: 'x' }]],
    ['#/sky mediaType'],
  ],
  ['what nobody declares', [...fine, ['else', 'x']], ['#/else additionalProperties']],
  [
    'wrong kinds inside',
    [...fine, ['site', '{"height":"x"}'], ['marks', '{"x":"y"}'], ['tags', 'a']],
    ['#/site/name required', '#/site/height type', '#/marks/0/x type', '#/tags/0 minLength'],
  ],
  ['no number', [...fine, ['exposure', '']], ['#/exposure type']],
];
test.each(REFUSED)('a form with %s is refused field by field', async (_, parts, told) => {
  expect(await send('/plates', multipart(parts))).toEqual(told);
});

test('what is written like a query is read as the encoding says, and JSON beside it', async () => {
  expect(
    await send(
      '/notes',
      new URLSearchParams('text=abc&night=7&filter[from]=3&words=abc%20ab&more=1'),
    ),
  ).toEqual({ text: 'abc', night: 7, filter: { from: 3 }, words: ['abc', 'ab'], more: '1' });
  const body = 'text=a&night=7.5&filter[from]=x&words=abcd%20ab';
  expect(await send('/notes', new URLSearchParams(body))).toEqual([
    '#/text minLength',
    '#/night type',
    '#/filter/from type',
    '#/words/0 maxLength',
  ]);
  const headers = { 'content-type': 'application/json' };
  const response = await fetch(`${serving.url}/notes`, {
    method: 'POST',
    headers,
    body: '{"text":"abc","night":"7"}',
  });
  expect([response.status, await response.text()]).toEqual([
    422,
    expect.stringContaining('#/night'),
  ]);
});

test('a payload that is JSON may claim any size of a file, and costs nothing', async () => {
  for (const [size, told] of [
    [3, '201'],
    [-1, '201'],
    [1e15, '422 #/charts/0 maxBytes'],
    ['big', '422 #/charts/0 type'],
    [undefined, '422 #/charts/0 type'],
  ] as const) {
    const chart = { name: 'sky.png', type: 'image/png', size };
    const plate = { ...chart, size: 3 };
    const response = await fetch(`${serving.url}/plates`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ title: 'Dome', plate, charts: [chart] }),
    });
    const { errors = [] } = (await response.json()) as {
      errors?: { pointer: string; code: string }[];
    };
    const found = errors.map(({ pointer, code }) => `${pointer} ${code}`);
    expect([size, [response.status, ...found].join(' ')]).toEqual([size, told]);
  }
});

test('a form that cannot be read, and one that is not asked for, are told as such', async () => {
  const ask = (at: string, type: string, body: string): Promise<string> =>
    raw(
      serving.port,
      `POST ${at} HTTP/1.1\r\nHost: localhost\r\nContent-Type: ${type}\r\nContent-Length: ${body.length}\r\nConnection: close\r\n\r\n${body}`,
    );
  expect(await ask('/plates', 'multipart/form-data; boundary=x', 'rubbish')).toMatch(
    / 400 [^]*refused/,
  );
  expect(await ask('/plates', 'multipart/form-data', 'rubbish')).toMatch(/ 400 [^]*refused/);
  expect(await ask('/plates', 'multipart/form-data; boundary=x', '')).toMatch(
    / 400 [^]*empty|no body/,
  );
  const other = await ask('/plates', 'application/x-www-form-urlencoded', 'title=Dome');
  expect(other).toMatch(/ 415 [^]*\naccept: application\/json, multipart\/form-data\r\n/i);
});

test('commands know what is a form, and what nobody reads', () => {
  const check = zeitwort(['check', '--format', 'json', '--fail-on', 'info'], folder).out;
  expect(check).not.toContain('wrong-example');
  const rules = zeitwort(['rules'], folder).out;
  expect(rules).toMatch(/plate +required[^]*mediaType \["image\/png","image\/jpeg"\]/);
  expect(rules).toContain('POST /reports takes text/csv');
  const contract = JSON.parse(zeitwort(['contract', '--format', 'openapi'], folder).out) as {
    paths: Record<string, { post: { requestBody: { content: object } } }>;
  };
  const taken = Object.entries(contract.paths).map(([at, { post }]) => [
    at,
    ...Object.keys(post.requestBody.content),
  ]);
  expect(taken).toEqual([
    ['/plates', 'multipart/form-data'],
    ['/notes', 'application/json', 'application/x-www-form-urlencoded'],
  ]);
});
