import { describe, expect, test } from '@jest/globals';
import { createServer, type RequestListener, type Server } from 'node:http';
import { appendFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Readable } from 'node:stream';
import jwt from '@fastify/jwt';
import multipart from '@fastify/multipart';
import rateLimit from '@fastify/rate-limit';
import express from 'express';
import { rateLimit as rateLimitOfExpress } from 'express-rate-limit';
import express4 from 'express4';
import fastify, { type FastifyInstance, type FastifyServerOptions } from 'fastify';
import fastify4 from 'fastify4';
import createError from 'http-errors';
import { openPack, openWorkspace } from '../../src/library.js';
import { expressAnswers } from '../../src/runtime/express.js';
import { fetchAnswers, readJsonBody } from '../../src/runtime/fetch.js';
import { fastifyAnswers, type ErrorAnswerOptions } from '../../src/runtime/fastify.js';
import { nodeAnswers } from '../../src/runtime/node.js';
import { copyOf, zeitwort } from '../support/program.js';
import { listening } from '../support/listening.js';
import { oneOf, randomFrom, ROUNDS, SEED } from '../support/torture.js';

const workspace = openWorkspace(copyOf('observatory'));

const told: unknown[] = [];
const how: ErrorAnswerOptions = { onUnexpected: (error) => told.push(error) };

/** What the next request is answered with. */
let thrown: unknown;

/** An application of Express, of either version. */
function expressApp(make: typeof express): RequestListener {
  const app = make();
  const { noRoute, failure } = expressAnswers(workspace, how);
  app.get('/throws', () => {
    throw thrown;
  });
  app.get('/users/:id', (_request, response) => void response.end());
  app.use(noRoute);
  app.use(failure);
  return app;
}

/** The same of Fastify. */
type MakeFastify = (options: FastifyServerOptions) => FastifyInstance;

async function fastifyServer(make: MakeFastify): Promise<Server> {
  const { noRoute, failure } = fastifyAnswers(workspace, how);
  const app = make({ frameworkErrors: failure });
  app.get('/throws', () => {
    throw thrown;
  });
  app.get('/users/:id', () => '');
  app.post('/places', { schema: { body: PLACE } }, () => '');
  app.setNotFoundHandler(noRoute);
  app.setErrorHandler(failure);
  await app.ready();
  return app.server;
}

const PLACE = {
  type: 'object',
  required: ['street'],
  properties: { street: { type: 'string' }, rooms: { type: 'integer', minimum: 1 } },
};

/** A server around a function that makes a `Response` of a `Request`, as at the edge. */
function fetchServer(handle: (request: Request) => Promise<Response>): Server {
  return createServer((incoming, response) => {
    const { method = 'GET', headers, url = '/' } = incoming;
    const body = method === 'POST' ? { body: Readable.toWeb(incoming), duplex: 'half' } : {};
    const request = new Request(`http://${headers.host ?? ''}${url}`, {
      method,
      headers: headers as Record<string, string>,
      ...(body as RequestInit),
    });
    void handle(request).then(async (answer) => {
      response.writeHead(answer.status, Object.fromEntries(answer.headers));
      response.end(Buffer.from(await answer.arrayBuffer()));
    });
  });
}

async function started(): Promise<readonly string[]> {
  const edge = fetchAnswers(workspace, how);
  const atEdge = fetchServer(async (request) => {
    const { pathname } = new URL(request.url);
    if (pathname === '/throws') return edge.failure(thrown, request);
    if (request.method !== 'POST') return edge.noRoute(request);
    try {
      return Response.json(await readJsonBody(request, 20));
    } catch (error) {
      return edge.failure(error, request);
    }
  });
  const plain = nodeAnswers(workspace, how);
  const bare = createServer((request, response) => {
    if (request.url === '/throws') plain.failure(thrown, request, response);
    else plain.noRoute(request, response);
  });
  const servers = [
    createServer(expressApp(express)),
    createServer(expressApp(express4)),
    // Both versions are asked for the same.
    await fastifyServer((options) => fastify(options)),
    await fastifyServer(fastify4 as unknown as MakeFastify),
    bare,
    atEdge,
  ];
  return Promise.all(servers.map(listening));
}

type Body = { readonly type: string; readonly status: number; readonly title: string };

describe('errors that frameworks and plugins throw', () => {
  const rate = Object.assign(new Error('Rate limit exceeded'), {
    statusCode: 429,
    headers: { 'Retry-After': 30, 'Set-Cookie': 'a=b' },
  });
  const token = Object.assign(new Error('No Authorization was found'), {
    code: 'FST_JWT_NO_AUTHORIZATION_IN_HEADER',
    statusCode: 401,
    headers: { 'www-authenticate': 'Bearer realm="x"' },
  });
  const boomed = Object.assign(new Error('x'), {
    output: { statusCode: 405, headers: { Allow: 'GET, HEAD' } },
  });
  const file = Object.assign(new Error('File too large'), { code: 'LIMIT_FILE_SIZE' });
  const CASES: readonly [unknown, number, string, Readonly<Record<string, string | null>>?][] = [
    [rate, 429, 'too-many-requests', { 'retry-after': '30' }],
    // RFC 9110 section 10.2.3: whole seconds, or a date.
    ...(
      [
        ['2.5', '3'],
        [0, '0'],
        ['Wed, 21 Oct 2026 07:28:00 GMT', 'Wed, 21 Oct 2026 07:28:00 GMT'],
        ['soon', null],
        [-1, null],
        [1e12, null],
      ] as const
    ).map(([said, sent]): (typeof CASES)[number] => [
      Object.assign(new Error('x'), { status: 503, headers: { 'retry-after': said } }),
      503,
      'unavailable',
      { 'retry-after': sent },
    ]),
    [token, 401, 'not-signed-in', { 'www-authenticate': 'Bearer realm="x"' }],
    [boomed, 405, 'wrong-method', { allow: 'GET, HEAD' }],
    [file, 413, 'too-large'],
    [createError(418, 'secret detail'), 418, 'refused'],
    [createError(402), 402, 'refused'],
    [createError(400, 'Failed to decode param'), 400, 'refused'],
    [createError(507), 507, 'failed'],
    [createError(503), 503, 'unavailable'],
    [createError(410), 410, 'gone'],
    [new Error('outside', { cause: createError(409) }), 409, 'conflict'],
    [Object.assign(new Error('x'), { status: 299 }), 500, 'unexpected'],
    [
      Object.assign(new Error('x'), { type: 'entity.parse.failed', status: 400 }),
      400,
      'malformed-body',
    ],
    [new Error('secret'), 500, 'unexpected'],
    ['a text', 500, 'unexpected'],
  ];
  test('keep their status, in the language of the client, and nothing internal', async () => {
    for (const at of await started())
      for (const [error, status, problem, headers = {}] of CASES) {
        thrown = error;
        const response = await fetch(`${at}/throws`, { headers: { 'accept-language': 'de' } });
        const text = await response.text();
        const body = JSON.parse(text) as Body;
        expect([response.status, body.status, body.type.split('/').at(-1)]).toEqual([
          status,
          status,
          problem,
        ]);
        expect(response.headers.get('content-language')).toBe('de');
        expect(text).not.toMatch(/secret|Rate limit|set-cookie| at /);
        expect(response.headers.get('set-cookie')).toBeNull();
        for (const [name, value] of Object.entries(headers))
          expect(response.headers.get(name)).toBe(value);
        if (problem === 'too-many-requests') expect(text).toContain('30');
        expect((await fetch(`${at}/nothing`)).status).toBe(404);
      }
  });

  test('an address that cannot be decoded is refused, and is not a body that is malformed', async () => {
    for (const at of (await started()).slice(0, 4)) {
      const response = await fetch(`${at}/users/%zz`);
      const { type } = (await response.json()) as Body;
      expect([response.status, type.split('/').at(-1)]).toEqual([400, 'refused']);
    }
  });

  test('a route without a form says which fields are wrong', async () => {
    for (const at of (await started()).slice(2, 4)) {
      const response = await fetch(`${at}/places`, {
        method: 'POST',
        body: '{"rooms":0}',
        headers: { 'content-type': 'application/json', 'accept-language': 'de' },
      });
      expect(response.status).toBe(422);
      expect(await response.json()).toMatchObject({
        errors: [{ pointer: '#/street', code: 'required', detail: 'Bitte street angeben.' }],
      });
    }
  });

  test('a body at the edge is read, or refused', async () => {
    const at = (await started()).at(-1) ?? '';
    const sent = async (body: string, type = 'application/json'): Promise<unknown> => {
      const headers = { 'content-type': type };
      const answer = await fetch(at, { method: 'POST', body, headers });
      const told = (await answer.json()) as { readonly type?: string };
      return told.type?.split('/').at(-1) ?? told;
    };
    expect([
      await sent('{"a":1}'),
      await sent(''),
      await sent('{'),
      await sent('{}', 'text/plain'),
      await sent(JSON.stringify('x'.repeat(30))),
    ]).toEqual([{ a: 1 }, 'empty-body', 'malformed-body', 'wrong-media-type', 'too-large']);
  });
});

test('plugins of Fastify and middlewares of Express are answered in one body', async () => {
  const app = fastify();
  const { noRoute, failure } = fastifyAnswers(workspace, how);
  app.setNotFoundHandler(noRoute);
  app.setErrorHandler(failure);
  await app.register(jwt, { secret: 'of the test' });
  await app.register(multipart, { limits: { fileSize: 10 } });
  await app.register(rateLimit, { max: 2, timeWindow: 60_000, global: false });
  app.get('/mine', async (request) => request.jwtVerify());
  app.post('/files', async (request) => (await request.file())?.toBuffer());
  app.get('/often', { config: { rateLimit: { max: 1 } } }, () => 'fine');
  await app.ready();
  const at = await listening(app.server);
  const told = async (response: Response): Promise<unknown[]> => {
    const { type, status } = (await response.json()) as Body;
    return [response.status, status, type.split('/').at(-1)];
  };
  expect(await told(await fetch(`${at}/mine`))).toEqual([401, 401, 'not-signed-in']);
  const bad = { headers: { authorization: 'Bearer a.b.c' } };
  expect(await told(await fetch(`${at}/mine`, bad))).toEqual([401, 401, 'not-signed-in']);
  const body = new FormData();
  body.set('plate', new Blob(['more than ten bytes']), 'plate.txt');
  const file = await fetch(`${at}/files`, { method: 'POST', body });
  expect(await told(file)).toEqual([413, 413, 'too-large']);
  const text = { method: 'POST', body: 'x', headers: { 'content-type': 'text/plain' } };
  expect(await told(await fetch(`${at}/files`, text))).toEqual([406, 406, 'not-acceptable']);
  expect((await fetch(`${at}/often`)).status).toBe(200);
  const often = await fetch(`${at}/often`);
  expect(often.headers.get('retry-after')).toBe('60');
  expect(await told(often)).toEqual([429, 429, 'too-many-requests']);
  const other = express();
  const answers = expressAnswers(workspace, how);
  other.use(
    rateLimitOfExpress({
      windowMs: 60_000,
      limit: 1,
      handler: (_request, _response, next) => {
        next(createError(429));
      },
    }),
  );
  other.use(express.json());
  other.post('/', (_request, response) => {
    response.end();
  });
  other.use(answers.noRoute);
  other.use(answers.failure);
  const there = await listening(createServer(other));
  const json = { method: 'POST', body: '{', headers: { 'content-type': 'application/json' } };
  expect(await told(await fetch(there, json))).toEqual([400, 400, 'malformed-body']);
  expect(await told(await fetch(there))).toEqual([429, 429, 'too-many-requests']);
});

describe('hooks', () => {
  const request = { headers: { 'accept-language': 'pl', cookie: 'lang=de' } };
  const answer = (more: ErrorAnswerOptions): { status: number; body: string; headers: object } => {
    const sent = { status: 0, body: '', headers: {} };
    interface Reply {
      code: (status: number) => Reply;
      headers: (headers: object) => Reply;
      send: (body: Uint8Array) => Reply;
    }
    const reply: Reply = {
      code: (status) => (Object.assign(sent, { status }), reply),
      headers: (headers) => (Object.assign(sent, { headers }), reply),
      send: (body) => (Object.assign(sent, { body: new TextDecoder().decode(body) }), reply),
    };
    fastifyAnswers(workspace, { ...how, ...more }).failure(new Error('x'), request, reply);
    return sent;
  };

  test('decide the language, and say what caches may keep', () => {
    expect(answer({ locale: () => 'de' }).headers).toMatchObject({
      'content-language': 'de',
      'cache-control': 'private',
    });
    expect(answer({ locale: () => ({ locale: 'ja', vary: 'Cookie' }) }).headers).toMatchObject({
      'content-language': 'ja',
      vary: 'Cookie',
    });
    expect(answer({ locale: () => undefined }).headers).toMatchObject({ vary: 'accept-language' });
  });

  test('name problems with parameters, headers and members, and are told of answers', () => {
    const given: unknown[] = [];
    const { status, headers, body } = answer({
      problem: () => ({
        problem: 'too-many-requests',
        params: { seconds: 5 },
        members: { quota: 10 },
        headers: { 'x-quota': '10' },
      }),
      instance: () => '/errors/7',
      onAnswer: (_request, one) => given.push(one),
    });
    expect([status, headers, JSON.parse(body)]).toEqual([
      429,
      expect.objectContaining({ 'x-quota': '10', 'retry-after': '5' }),
      expect.objectContaining({ quota: 10, instance: '/errors/7' }),
    ]);
    answer({
      read: () => ({
        form: 'visitor-pass',
        violations: [{ path: 'visitor', rule: 'required', value: 'secret' }],
      }),
      onAnswer: (_request, one) => given.push(one),
    });
    expect(given).toEqual([
      { status: 429, locale: 'pl', problem: 'too-many-requests' },
      {
        status: 422,
        locale: 'pl',
        problem: 'invalid-fields',
        form: 'visitor-pass',
        violations: [{ path: 'visitor', rule: 'required' }],
      },
    ]);
  });

  test.each<[string, ErrorAnswerOptions, RegExp]>([
    ['a form', { read: () => ({ form: 'visitor-pas', violations: [] }) }, /no violation is given/],
    [
      'a form that is misspelt',
      { read: () => ({ form: 'visitor-pas', violations: [{ path: 'a', rule: 'b' }] }) },
      /did you mean "visitor-pass"/,
    ],
    ['a problem', { problem: () => 'not-fuond' }, /did you mean "not-found"/],
    ['a language', { locale: () => 'no tag' }, /language tag/],
    [
      'a path',
      { read: () => ({ form: 'visitor-pass', violations: [{ path: 'a[', rule: 'b' }] }) },
      /a\[|path|bracket/i,
    ],
    [
      'a hook that throws',
      {
        read: () => {
          throw new Error('of the hook');
        },
      },
      /of the hook/,
    ],
    [
      'an observer that throws',
      {
        onAnswer: () => {
          throw new Error('of the observer');
        },
      },
      /of the observer/,
    ],
  ])('that name %s wrong answer 500 in the language, and the backend is told', (_, more, why) => {
    told.length = 0;
    const { status, body } = answer(more);
    expect([status, (JSON.parse(body) as Body).title]).toEqual([500, 'Coś poszło nie tak']);
    expect(told.map(String).join('\n')).toMatch(why);
    expect(() => answer({ ...more, strict: true })).toThrow(why);
  });

  test('never throw, whatever they return', () => {
    const random = randomFrom(SEED);
    const odd = [undefined, null, 0, '', 'x', [], {}, Symbol('s'), () => 1, NaN, 'targets[', 12n];
    const any = (): never =>
      oneOf(random, [
        ...odd,
        { form: 'visitor-pass', violations: odd },
        {
          form: 'visitor-pass',
          violations: [{ path: oneOf(random, odd), rule: oneOf(random, odd) }],
        },
        {
          problem: oneOf(random, odd),
          params: oneOf(random, odd),
          status: oneOf(random, [...odd, 400]),
        },
        new Proxy(
          {},
          {
            get: () => {
              throw new Error('secret');
            },
          },
        ),
      ]) as never;
    const maybe = (): never => (random(2) === 0 ? (undefined as never) : any());
    for (let round = 0; round < (ROUNDS > 1 ? 50_000 : 500); round++) {
      const { status, body } = answer({
        read: () => maybe(),
        problem: () => maybe(),
        locale: () => maybe(),
        instance: () => maybe(),
        onUnexpected: () => {
          throw new Error('as well');
        },
      });
      expect(status).toBeGreaterThanOrEqual(400);
      expect(body).not.toMatch(/secret|visitor-pass| at \//);
    }
  });
});

test('a shape of one’s own holds the time, the address and the ids of a request', async () => {
  const folder = copyOf('observatory');
  appendFileSync(
    path.join(folder, 'zeitwort.yaml'),
    'shapes:\n  ours: { body: { what: "<title>", at: "<time>", where: "<address>", id: "<request-id>", trace: "<trace-id>", of: "<instance>" } }\n',
  );
  expect(zeitwort(['pack', '--out', 'packs', '--locale', 'en'], folder).code).toBe(0);
  const pack = path.join(folder, 'packs/en.json');
  const renderer = openPack(pack, { shape: 'ours' });
  const app = fastify({ genReqId: () => 'r-7' });
  const { noRoute } = fastifyAnswers(renderer);
  app.setNotFoundHandler(noRoute);
  await app.ready();
  const at = await listening(app.server);
  const traceparent = `00-${'a'.repeat(32)}-${'b'.repeat(16)}-01`;
  const asked = async (headers = {}): Promise<unknown> =>
    (await fetch(`${at}/nothing?token=x`, { headers })).json();
  const time = expect.stringMatching(/^20\d\d-/) as unknown;
  const body = { what: 'Nothing found', at: time, where: '/nothing', id: 'r-7' };
  expect(await asked({ traceparent })).toEqual({ ...body, trace: 'a'.repeat(32) });
  expect(await asked()).toEqual(body);
  // Packs change while the process runs; one that cannot be opened changes nothing.
  const { hashes } = renderer;
  expect(() => {
    renderer.replacePacks(pack, { pack: 2 });
  }).toThrow(/not a pack of version 1/);
  expect(await asked()).toEqual(body);
  const catalog = path.join(folder, 'messages/more.en.json');
  writeFileSync(
    catalog,
    JSON.stringify({ locale: 'en', problems: { 'not-found': { title: 'Nothing!' } } }),
  );
  expect(zeitwort(['pack', '--out', 'packs', '--locale', 'en'], folder).code).toBe(0);
  renderer.replacePacks(pack);
  expect(await asked()).toEqual({ ...body, what: 'Nothing!' });
  expect(renderer.hashes).not.toEqual(hashes);
});
