import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { folderWith } from '../support/program.js';
import { raw, serve, until, type Serving } from '../support/server.js';

const node = { $ref: '#/components/schemas/node' };
const branch = (kind: string): object => ({ type: 'object', properties: { a: node, kind: { const: kind } } });
const post = (operationId: string, schema: object): object => ({
  post: { operationId, requestBody: { content: { 'application/json': { schema } } } },
});
const api = {
  openapi: '3.1.0',
  paths: {
    '/tree': post('tree', node),
    '/list': post('list', { type: 'array', items: { $ref: '#/components/schemas/item' } }),
    // Without Unicode's rules this is an expression, with them it is none.
    '/loose': post('loose', { type: 'object', properties: { loose: { type: 'string', pattern: '^(a|a)*\\-$' } } }),
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
`;
const files = {
  'zeitwort.yaml': 'languages: [en]\nrules: [rules/*]\ntables: { seats: data/seats.csv }\nbody: { shape: problem }\n',
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
  serving = await serve(folder, '--max-judging', String(BUDGET), '--drain', '0');
  patient = await serve(folder, '--max-judging', '15000', '--judges', '1', '--drain', '0');
});
afterAll(async () => {
  await serving.stop();
  await patient.stop();
});

const send = async (
  at: string,
  value: unknown,
  to = serving,
): Promise<{ status: number; ms: number; body: Record<string, unknown> }> => {
  const start = Date.now();
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  const response = await fetch(to.url + at, { method: 'POST', body: text, headers: { 'content-type': 'application/json' } });
  const told = (await response.json()) as Record<string, unknown>;
  return { status: response.status, ms: Date.now() - start, body: told };
};
const live = async (): Promise<unknown> => (await fetch(`${serving.url}/zeitwort/live`)).json();

describe('one budget a request', () => {
  test.each<[string, object, string?]>([
    ['an expression with bounds that analysis calls harmless', { parts: `${'a'.repeat(40)}!` }],
    ['one with a reference back', { twice: 'a'.repeat(40) }],
    ['one that is none with the rules of Unicode', { loose: 'a'.repeat(40) }, '/loose'],
    ['three hundred short texts', { short: Array.from({ length: 300 }, (_, at) => `${'a'.repeat(9)}${at}!`) }],
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

  test('an expression that ran out is not tried at that length again', async () => {
    await send('/slow/t', { twice: 'a'.repeat(44) });
    const again = await send('/slow/t', { twice: 'a'.repeat(45) });
    expect(again.status).toBe(503);
    expect((await send('/slow/t', { twice: 'aab' })).status).toBe(201);
  });

  test.each<[string, string, string, number, number]>([
    ['a schema that doubles with every level', '/tree', `${'{"a":'.repeat(113)}"s"${'}'.repeat(113)}`, 422, 0],
    ['a megabyte of zeros', '/list', `[${'0,'.repeat(450_000)}0]`, 422, 449_901],
    ['more elements than there may be are not looked at', '/few', `[${'0,'.repeat(450_000)}0]`, 422, 0],
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
    const { body } = await send('/slow/my-own-token', { vault: { 'name-nobody-knows': 41 }, twice: 'x' });
    const text = JSON.stringify(body);
    expect(text).toContain('At •••: •••.');
    expect(text).not.toMatch(/name-nobody-knows|41/);
    await until(() => serving.log().includes('/slow/•••'));
    expect(serving.log()).not.toMatch(/my-own-token|name-nobody-knows/);
  });
});

describe('what the network may send', () => {
  test.each([
    ['an escape that is none', 'GET /zeitwort/packs/%zz HTTP/1.1\r\nHost: localhost\r\n', 404],
    ['the same in a form', 'POST /slow/%E0%A4%A HTTP/1.1\r\nHost: localhost\r\nContent-Length: 0\r\n', 404],
    [
      'a long name of a form',
      `POST /zeitwort/render/${'x'.repeat(500)} HTTP/1.1\r\nHost: localhost\r\nContent-Length: 0\r\n`,
      404,
    ],
    ['another host, as of a page that had its name lead here', 'GET /zeitwort/live HTTP/1.1\r\nHost: evil.example\r\n', 403],
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
    const ready = async (): Promise<string> => JSON.stringify(await (await fetch(`${there.url}/zeitwort/ready`)).json());
    expect((await send('/slow/t', { seat: '9Z' }, there)).status).toBe(422);
    rmSync(path.join(own, 'data/seats.csv'));
    await until(async () => (await ready()).includes('data/seats.csv is not there'));
    expect((await send('/slow/t', { seat: '9Z' }, there)).status).toBe(422);
    mkdirSync(path.join(own, 'data'), { recursive: true });
    writeFileSync(path.join(own, 'data/seats.csv'), 'seat\n9Z\n');
    await until(async () => (await send('/slow/t', { seat: '9Z' }, there)).status === 201);
    const catalog = { locale: 'en', problems: { unexpected: { title: '{max, number, ::.0000000000000000000000}' } } };
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
        if (stopping && (await fetch(`${there.url}/zeitwort/ready`, { headers: { connection: 'close' } })).status === 503) {
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
