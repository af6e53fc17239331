import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { folderWith } from '../support/program.js';
import { IN_VAIN, postJson, raw, serve, until, type Serving } from '../support/server.js';

const node = { $ref: '#/components/schemas/node' };
const branch = (kind: string): object => ({
  type: 'object',
  properties: { a: node, kind: { const: kind } },
});
const post = (operationId: string, schema: object): object => ({
  post: { operationId, requestBody: { content: { 'application/json': { schema } } } },
});
const api = {
  openapi: '3.1.0',
  paths: {
    '/tree': post('tree', node),
    '/list': post('list', { type: 'array', items: { $ref: '#/components/schemas/item' } }),
    // Without Unicode's rules this is an expression, with them it is none.
    '/loose': post('loose', {
      type: 'object',
      properties: { loose: { type: 'string', pattern: '^(a|a)*\\-$' } },
    }),
    '/few': post('few', { type: 'array', maxItems: 3, items: { type: 'string', minLength: 9 } }),
  },
  components: {
    schemas: {
      // Both branches lead on under the same name: tried one by one, they double with every level.
      node: { oneOf: [branch('x'), branch('y'), { type: 'integer' }] },
      item: { type: 'object', required: ['x'] },
    },
  },
};
const sheet = String.raw`forms:
  slow:
    request: POST /slow/{token}
    path: { token: { secret: true } }
    fields:
      parts: { pattern: { regex: '^(?:[a-z0-9]{1,20}-?){1,10}$', example: a-b } }
      twice: { pattern: { regex: '^(?<x>a|a)*\k<x>b$', example: ab } }
      'short[*]': { pattern: { regex: '^((((a*)*)*)*)*$', example: a } }
      link: { format: uri }
      'rows[*].x': { required: true }
      codes: { type: array, maxItems: 2 }
      'codes[*]': { type: string, minLength: 3 }
      vault: { type: object, secret: true }
      'vault.*': { type: string }
      seat: { knownIn: { table: seats, column: seat } }
  shifted:
    request: POST /shifted
    fields:
      list: { type: array }
      'list[*].pin': { secret: true, type: string }
      'parts': { type: string }
      vault: { type: object, secret: true }
`;
const files = {
  'zeitwort.yaml':
    'locales: [en]\nrules: [rules/*]\ntables: { seats: data/seats.csv }\nbody: { shape: problem }\n',
  'rules/a.yaml': sheet,
  'rules/api.json': api,
  'data/seats.csv': 'seat\n1A\n',
  'messages/en.json': { locale: 'en', messages: { type: 'At {vault_key}: {value}.' } },
};
const BUDGET = 600;
const folder = folderWith(files);
let serving: Serving;
/** The same with time enough on any machine, for what must be judged and not only stopped. */
let patient: Serving;
beforeAll(async () => {
  serving = await serve(folder, '--validation-timeout', String(BUDGET), '--drain', '0');
  patient = await serve(
    folder,
    '--validation-timeout',
    '15000',
    '--validators',
    '1',
    '--drain',
    '0',
  );
});
afterAll(async () => {
  await serving.stop();
  await patient.stop();
});

const send = (at: string, value: unknown, to = serving): ReturnType<typeof postJson> =>
  postJson(to, at, value);
const live = async (): Promise<unknown> => (await fetch(`${serving.url}/zeitwort/live`)).json();

describe('one budget a request', () => {
  test.each<[string, object, string?]>([
    ['an expression with bounds that analysis calls harmless', { parts: `${'a'.repeat(40)}!` }],
    ['one with a reference back', { twice: 'a'.repeat(40) }],
    ['one that is none with the rules of Unicode', { loose: 'a'.repeat(40) }, '/loose'],
    [
      'three hundred short texts',
      { short: Array.from({ length: 300 }, (_, at) => `${'a'.repeat(9)}${at}!`) },
    ],
  ])('%s: told to be late, while all else is answered', async (_, body, at = '/slow/t') => {
    let answered = false;
    const answer = send(at, body).finally(() => (answered = true));
    await new Promise((resume) => setTimeout(resume, 50));
    await live();
    expect(answered).toBe(false);
    const { status, ms, body: told } = await answer;
    expect([status, told.title, ms < BUDGET + 5000]).toEqual([503, 'Not checked in time', true]);
    // Nobody is harmed but whoever sent it.
    expect((await send('/slow/t', { parts: 'a-b' })).status).toBe(201);
  });

  test('an expression that ran out costs little from then on, and judges texts of any length that it is quick with', async () => {
    await send('/slow/t', { twice: 'a'.repeat(44) });
    const again = await send('/slow/t', { twice: 'a'.repeat(45) });
    expect([again.status, again.ms < BUDGET]).toEqual([503, true]);
    for (const twice of ['aab', `${'a'.repeat(44)}b`, `${'a'.repeat(2000)}b`])
      expect((await send('/slow/t', { twice })).status).toBe(201);
    expect((await send('/slow/t', { twice: `b${'a'.repeat(44)}` })).status).toBe(422);
  });

  test.each([
    [
      'quotation marks without an end',
      'schema-output',
      { error: '“'.repeat(300_000), keywordLocation: '/required' },
    ],
    ['choices inside of each other', 'schema-errors', undefined],
    ['our own, by the thousand', 'violations', undefined],
  ])(
    'a large report is read aside, and every other request is answered meanwhile: %s',
    async (_, reader, unit) => {
      const report =
        reader === 'schema-output'
          ? { valid: false, errors: [{ valid: false, instanceLocation: '', ...unit }] }
          : reader === 'violations'
            ? {
                violations: Array.from({ length: 20_000 }, (_one, at) => ({
                  path: `rows[${at}].x`,
                  rule: 'required',
                })),
              }
            : Array.from({ length: 8_000 }, (_one, at) => ({
                keyword: 'anyOf',
                instancePath: `/rows/${at}`,
                params: {},
                schemaPath: `#${'/anyOf/0'.repeat((8_000 - at) % 12)}/anyOf`,
              }));
      let slowest = 0;
      const state = { done: false };
      const watch = (async () => {
        while (!state.done) {
          const since = Date.now();
          await live();
          slowest = Math.max(slowest, Date.now() - since);
        }
      })();
      const { status, body } = await send(
        `/zeitwort/render/slow?reader=${reader}`,
        report,
        patient,
      );
      const { status: impatient } = await send(`/zeitwort/render/slow?reader=${reader}`, report);
      state.done = true;
      await watch;
      expect([status, [422, 503].includes(impatient), slowest < IN_VAIN]).toEqual([
        422,
        true,
        true,
      ]);
      expect((body.errors as unknown[]).length).toBeLessThanOrEqual(100);
      if (reader === 'violations') expect(body.more).toBe(19_900);
    },
  );

  test.each<[string, string, string, number, number]>([
    [
      'a schema that doubles with every level',
      '/tree',
      `${'{"a":'.repeat(113)}"s"${'}'.repeat(113)}`,
      422,
      0,
    ],
    ['a megabyte of zeros', '/list', `[${'0,'.repeat(450_000)}0]`, 422, 449_901],
    [
      'more elements than there may be are not looked at',
      '/few',
      `[${'0,'.repeat(450_000)}0]`,
      422,
      0,
    ],
    ['the same in a sheet', '/slow/t', `{"codes":[${'0,'.repeat(450_000)}0]}`, 422, 0],
    ['what is missing in every row', '/slow/t', `{"rows":[${'{},'.repeat(20_000)}{}]}`, 422, 9900],
    ['a long link', '/slow/t', JSON.stringify({ link: `a:${'%00'.repeat(21_000)}^` }), 422, 0],
    ['brackets without end', '/list', '['.repeat(400_000), 413, 0],
  ])('%s', async (_, at, text, status, more) => {
    const { status: got, body } = await send(at, text, patient);
    expect([got, body.more ?? 0]).toEqual([status, more]);
    const { errors = [] } = body as { errors?: unknown[] };
    expect(errors.length).toBe(status === 413 ? 0 : more > 0 ? 100 : 1);
  });
});

describe('what is secret', () => {
  test('stays so below it, in the names of its members, and in the log', async () => {
    const secrets = { vault: { 'name-nobody-knows': 41 }, twice: 'x' };
    const { body } = await send('/slow/my-own-token', secrets, patient);
    const text = JSON.stringify(body);
    expect(text).toContain('At •••: •••.');
    expect(text).not.toMatch(/name-nobody-knows|41/);
    await until(() => patient.log().includes('/slow/•••'));
    expect(patient.log()).not.toMatch(/my-own-token|name-nobody-knows/);
  });
});

describe('what the network may send', () => {
  test.each([
    'de-x-yes',
    'de-a-yes',
    'de-t-en-x-yes',
    'de-t-en-m0-true',
    'en-a-bb-x-yes',
    'zh-yue',
    'i-klingon',
    '*-CH',
    'x-yes',
    'de-x',
    '-',
    'de--x',
  ])('Accept-Language: %s', async (language) => {
    for (const at of ['/slow/t', '/zeitwort/problem/not-found', '/zeitwort/render/slow'])
      expect(
        (
          await fetch(serving.url + at, {
            method: 'POST',
            headers: { 'accept-language': language },
          })
        ).status,
      ).toBeLessThan(500);
  });

  test.each<[string, unknown]>([
    ['a rule', { rule: 'format', params: { format: { toString: 1 } } }],
    ['a type', { rule: 'type', params: { expected: [{ toString: 1, valueOf: 1 }] } }],
    ['a limit', { rule: 'earliest', params: { limit: { toString: null } } }],
    ['a size', { rule: 'maxBytes', params: { max: { valueOf: 1 } } }],
    ['a number', { rule: 'maxLength', params: { max: { toString: 1, valueOf: 1 }, __proto__: 1 } }],
    ['another field', { rule: 'repeats', params: { counterpart: { toString: 1 } } }],
    ['choices', { rule: 'enum', params: { choices: [{ toString: 1 }, [[[]]], null] } }],
  ])('%s that is an object with members of all objects', async (_, violation) => {
    const text = JSON.stringify({ violations: [{ path: 'parts', ...(violation as object) }] });
    expect((await send('/zeitwort/render/slow', text)).status).toBe(422);
    for (const reader of ['zod', 'schema-errors', 'schema-output']) {
      const hostile =
        JSON.parse(`{"code":"invalid_type","path":[],"expected":{"toString":1},"origin":"constructor","format":"__proto__",
        "keyword":"constructor","instancePath":"","params":{"type":{"toString":1},"missingProperty":{"toString":1}},"validationContext":"__proto__"}`) as object;
      const report =
        reader === 'schema-output'
          ? {
              valid: false,
              errors: [
                { error: { toString: 1 }, keywordLocation: '/constructor', instanceLocation: '' },
              ],
            }
          : [hostile];
      expect((await send(`/zeitwort/render/slow?reader=${reader}`, report)).status).toBeLessThan(
        500,
      );
    }
  });

  test.each([
    ['an escape that is none', 'GET /zeitwort/packs/%zz HTTP/1.1\r\nHost: localhost\r\n', 404],
    [
      'the same in a form',
      'POST /slow/%E0%A4%A HTTP/1.1\r\nHost: localhost\r\nContent-Length: 0\r\n',
      404,
    ],
    [
      'a long name of a form',
      `POST /zeitwort/render/${'x'.repeat(500)} HTTP/1.1\r\nHost: localhost\r\nContent-Length: 0\r\n`,
      404,
    ],
    [
      'another host, as of a page that had its name lead here',
      'GET /zeitwort/live HTTP/1.1\r\nHost: evil.example\r\n',
      403,
    ],
    ['this host by another name', `GET /zeitwort/live HTTP/1.1\r\nHost: [::1]:99\r\n`, 200],
  ])('%s is answered in our shape', async (_, head, status) => {
    const got = await raw(serving.port, `${head}Connection: close\r\n\r\n`);
    expect(got).toMatch(new RegExp(`^HTTP/1\\.1 ${status} `));
    expect(got).toMatch(/x-content-type-options: nosniff/i);
    if (status !== 200) expect(got).toMatch(/content-type: application\/problem\+json/i);
  });
});

describe('a service in production', () => {
  test('keeps its last good reading while a table is gone or a text cannot be said', async () => {
    const own = folderWith(files);
    const there = await serve(own, '--drain', '0');
    const ready = async (): Promise<string> =>
      JSON.stringify(await (await fetch(`${there.url}/zeitwort/ready`)).json());
    expect((await send('/slow/t', { seat: '9Z' }, there)).status).toBe(422);
    rmSync(path.join(own, 'data/seats.csv'));
    await until(async () => (await ready()).includes('data/seats.csv does not exist'));
    expect((await send('/slow/t', { seat: '9Z' }, there)).status).toBe(422);
    mkdirSync(path.join(own, 'data'), { recursive: true });
    writeFileSync(path.join(own, 'data/seats.csv'), 'seat\n9Z\n');
    await until(async () => (await send('/slow/t', { seat: '9Z' }, there)).status === 201);
    const catalog = {
      locale: 'en',
      problems: { unexpected: { title: '{max, number, ::.0000000000000000000000}' } },
    };
    writeFileSync(path.join(own, 'messages/en.json'), JSON.stringify(catalog));
    await until(async () => (await ready()).includes('cannot be written'));
    expect((await send('/slow/t', { seat: 'x' }, there)).status).toBe(422);
    expect(await there.stop()).toBe(0);
  });

  test('asked to end, it says that it is not ready, still answers, and loses nothing', async () => {
    const there = await serve(folder, '--drain', '1500');
    let stopping = false;
    let lost = 0;
    let unready = 0;
    let after = 0;
    const client = async (): Promise<void> => {
      for (let done = false; !done;) {
        // Each on a connection of its own; a balancer stops sending once it was told.
        if (
          stopping &&
          (await fetch(`${there.url}/zeitwort/ready`, { headers: { connection: 'close' } }))
            .status === 503
        ) {
          unready += 1;
          done = true;
        }
        try {
          const response = await fetch(`${there.url}/slow/t`, {
            method: 'POST',
            body: '{"parts":"a-b"}',
            headers: { 'content-type': 'application/json', connection: 'close' },
          });
          await response.text();
          if (response.status !== 201) lost += 1;
          if (stopping) after += 1;
        } catch {
          lost += 1;
        }
      }
    };
    const clients = Array.from({ length: 10 }, client);
    await new Promise((resume) => setTimeout(resume, 300));
    stopping = true;
    const stopped = there.stop();
    await Promise.all(clients);
    expect([lost, unready, after > 0, await stopped]).toEqual([0, 10, true, 0]);
  });
});
