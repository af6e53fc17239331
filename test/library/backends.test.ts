import { beforeAll, describe, expect, test } from '@jest/globals';
import { createServer, type Server } from 'node:http';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import express from 'express';
import fastify from 'fastify';
import * as z from 'zod';
import { ErrorListError } from '../../src/exchange/violations/foreign.js';
import {
  fromJsonSchemaOutput,
  fromZod,
  openPack,
  openWorkspace,
  type Renderer,
} from '../../src/library.js';
import { expressAnswers } from '../../src/runtime/express.js';
import { fastifyAnswers } from '../../src/runtime/fastify.js';
import { nodeAnswers, readJsonBody, sendRendered, wishesOf } from '../../src/runtime/node.js';
import { copyOf, zeitwort } from '../support/program.js';
import { closing, listening } from '../support/listening.js';

const folder = copyOf('observatory');
const workspace = openWorkspace(folder);
zeitwort(['pack', '--out', 'packs'], folder);
const packed = openPack(
  ...(workspace.locales.map((locale) => path.join(folder, 'packs', `${locale}.json`)) as [
    string,
    ...string[],
  ]),
);

const visitorPass = z.object({ visitor: z.string(), email: z.email(), guests: z.int().max(5) });

/** The code that the guide shows under a heading, as it stands there. */
function snippet(heading: string): string {
  const guide = readFileSync(path.join(__dirname, '../../docs/guide/4-backend.md'), 'utf8');
  return /```js\n([^]*?)```/.exec(guide.slice(guide.indexOf(`## ${heading}\n`)))?.[1] ?? '';
}

/** What is told when nobody expected it. */
const unexpected: unknown[] = [];

/** Runs a snippet of the guide. */
function run(heading: string, given: Record<string, unknown>): unknown {
  const known = {
    z,
    fromZod,
    renderer: packed,
    onUnexpected: (error: unknown) => unexpected.push(error),
    visitorPass,
    ...given,
  };
  // eslint-disable-next-line @typescript-eslint/no-implied-eval -- it is our own guide that is tested
  const code = new Function(
    ...Object.keys(known),
    `${snippet(heading)}; return typeof server === 'undefined' ? undefined : server;`,
  );
  return (code as (...values: unknown[]) => unknown)(...Object.values(known));
}

function plain(renderer: Renderer): Promise<string> {
  return listening(
    run('node:http', {
      renderer,
      createServer,
      nodeAnswers,
      readJsonBody,
      sendRendered,
      wishesOf,
    }) as Server,
  );
}

function withExpress(renderer: Renderer): Promise<string> {
  const app = express();
  app.use((request, response, next) => {
    // Express takes what is not JSON for no body; a backend that wants one says so.
    if (request.method === 'POST' && !request.is('json'))
      next(Object.assign(new Error('no JSON'), { status: 415 }));
    else next();
  });
  app.use(express.json({ limit: 2000 }));
  app.post('/passes', (request, response) => {
    visitorPass.parse(request.body);
    response.status(201).end();
  });
  run('Express', { app, renderer, expressAnswers });
  return listening(createServer(app));
}

async function withFastify(renderer: Renderer): Promise<string> {
  const app = fastify({ bodyLimit: 2000 });
  app.post('/passes', (request, reply) => {
    visitorPass.parse(request.body);
    return reply.code(201).send();
  });
  run('Fastify', { app, renderer, fastifyAnswers });
  const url = await app.listen({ port: 0, host: '127.0.0.1' });
  closing.push(() => app.close());
  return url;
}

describe.each([
  ['node:http', plain],
  ['Express', withExpress],
  ['Fastify', withFastify],
] as const)('%s', (_, start) => {
  let url = '';
  beforeAll(async () => {
    url = await start(packed);
  });
  const post = (body: string, language: string): Promise<Response> =>
    fetch(`${url}/passes`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/json', 'accept-language': language },
    });

  test('answers what Zod found in the language asked for', async () => {
    const response = await post(
      JSON.stringify({ visitor: 'Ilse', guests: 9 }),
      'fr;q=0.9, de-AT;q=0.8, en;q=0.1',
    );
    expect(response.status).toBe(422);
    expect(response.headers.get('content-type')).toBe('application/problem+json');
    expect(response.headers.get('content-language')).toBe('de');
    expect(response.headers.get('vary')?.toLowerCase()).toContain('accept-language');
    expect(await response.json()).toMatchObject({
      errors: [
        { pointer: '#/email', code: 'required' },
        { pointer: '#/guests', code: 'maximum', detail: expect.stringContaining('5') },
      ],
    });
  });

  test('answers what is not JSON, and lets good ones through', async () => {
    const response = await post('{"visitor":', 'pl');
    expect([response.status, response.headers.get('content-language')]).toEqual([400, 'pl']);
    expect(await response.json()).toMatchObject({ title: 'Nie można odczytać treści' });
    expect(
      (
        await post(
          JSON.stringify({ visitor: 'Ilse', email: 'i@harrowfell.example', guests: 1 }),
          'en',
        )
      ).status,
    ).toBe(201);
  });
});

describe.each([
  ['Express', withExpress],
  ['Fastify', withFastify],
] as const)('what %s refuses itself', (_, start) => {
  test('comes in the same body', async () => {
    const url = await start(packed);
    const ask = async (at: string, body: string, type = 'application/json'): Promise<unknown[]> => {
      const response = await fetch(url + at, {
        method: 'POST',
        body,
        headers: { 'content-type': type, 'accept-language': 'de' },
      });
      const { title } = (await response.json()) as { title?: string };
      return [response.status, response.headers.get('content-type'), title];
    };
    const problem = 'application/problem+json';
    expect(await ask('/passes', `"${'x'.repeat(3000)}"`)).toEqual([
      413,
      problem,
      'Der Inhalt ist zu groß',
    ]);
    expect(await ask('/passes', 'a=b', 'application/x-www-form-urlencoded')).toEqual([
      415,
      problem,
      'Dieser Medientyp wird nicht unterstützt',
    ]);
    expect(await ask('/passes', '{')).toEqual([400, problem, 'Der Inhalt ist nicht lesbar']);
    expect(await ask('/nothing', '{}')).toEqual([404, problem, 'Nichts gefunden']);
  });
});

describe('packs', () => {
  test('say what the workspace says, for every report and problem, in every language', () => {
    const reports = ['worse-proposal', 'bad-proposal', 'bad-pass'].map(
      (name) =>
        JSON.parse(
          readFileSync(path.join(folder, 'violations', `${name}.json`), 'utf8'),
        ) as Parameters<Renderer['render']>[0],
    );
    // A rule that the form does not declare falls to the general messages.
    reports.push({
      form: 'visitor-pass',
      violations: [{ path: 'visitor', rule: 'uniqueItems', params: { first: 1, second: 2 } }],
    });
    for (const locale of workspace.locales) {
      for (const report of reports)
        expect(packed.render(report, { locale })).toEqual(workspace.render(report, { locale }));
      for (const problem of ['not-found', 'telescope-closed', 'malformed-body'])
        expect(packed.renderProblem(problem, { locale })).toEqual(
          workspace.renderProblem(problem, { locale }),
        );
    }
  });

  test('a text that fell back stays in its own language, with labels of that language', () => {
    const bare = copyOf('small', {
      'messages/de.json': { locale: 'de', fields: { visitor: { label: 'Gast' } } },
    });
    const source = openWorkspace(bare);
    zeitwort(['pack', '--out', 'packs', '--locale', 'de'], bare);
    const report = {
      form: 'visitor-pass',
      violations: [
        { path: 'visitor', rule: 'required' },
        { path: 'guests[1].name', rule: 'required' },
      ],
    };
    expect(openPack(path.join(bare, 'packs/de.json')).render(report, { locale: 'de' })).toEqual(
      source.render(report, { locale: 'de' }),
    );
  });
});

describe('the library', () => {
  test('runs payloads, reads output of JSON Schema, and refuses what it does not know', async () => {
    expect(
      (
        await workspace.violations('visitor-pass', { body: { visitor: 'x', day: '2027-03-09' } })
      ).map(({ path: at }) => at),
    ).toEqual(['email']);
    const unit = { keywordLocation: '/properties/day/format', instanceLocation: '/day' };
    expect(fromJsonSchemaOutput({ valid: false, errors: [unit] })).toEqual([
      { path: 'day', rule: 'format' },
    ]);
    expect(() => fromZod('x')).toThrow(ErrorListError);
    expect(() => workspace.renderProblem('not-fuond')).toThrow(
      'there is no problem "not-fuond" (did you mean "not-found"?)',
    );
    expect(() => workspace.form('visitor')).toThrow('there is no form "visitor"');
    expect(() => openPack(path.join(folder, 'zeitwort.yaml'))).toThrow('invalid JSON');
  });

  test.each<[string | undefined, string]>([
    [undefined, 'en'],
    ['', 'en'],
    ['pl', 'pl'],
    ['DE-at', 'de'],
    ['fr, ar;q=0.5', 'ar'],
    ['fr', 'en'],
    ['*', 'en'],
    ['en;q=0, *', 'de'],
    ['en;q=0', 'de'],
    ['en;q=0, de;q=0, pl;q=0.001', 'pl'],
    ['*;q=0', 'en'],
    ['ja-*, de', 'ja'],
    ['not a range;;q=x, pl', 'pl'],
    ['xx-nonsense-0', 'en'],
    ['de;q=0.2, pl;q=0.9', 'pl'],
  ])('Accept-Language %j is answered in %s', (acceptLanguage, expected) => {
    expect(
      workspace.renderProblem('not-found', { acceptLanguage }).headers['content-language'],
    ).toBe(expected);
  });
});

test('a report that does not say where a value stood is read by what the form has: body, query, path, headers', () => {
  const made = copyOf('small', {
    'zeitwort.yaml': 'locales: [en]\nrules: [rules/*.yaml]\n',
    'rules/visitor-pass.yaml': `forms:
  visit:
    fields: { note: { type: string, trim: true, maxLength: 3 } }
    query: { page: { type: integer } }
    path: { id: { type: integer } }
    header: { X-Gate: { type: integer } }
`,
  });
  const renderer = openWorkspace(made);
  const shape = z.object({ note: z.string(), page: z.int(), id: z.int(), 'x-gate': z.int() });
  const { error } = shape.safeParse({ note: 1, page: 'a', id: 'b', 'x-gate': 'c' });
  const violations = fromZod(error, { form: renderer.form('visit') });
  const { errors } = JSON.parse(renderer.render({ form: 'visit', violations }).body) as {
    errors: object[];
  };
  expect(errors.map((one) => Object.entries(one)[0])).toEqual([
    ['pointer', '#/note'],
    ['parameter', 'page'],
    ['parameter', 'id'],
    ['header', 'X-Gate'],
  ]);
});

describe('packs of a workspace that answers in its own way', () => {
  const settings = (body: string, more = ''): string =>
    `original: en\nlocales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/*.yaml]\nbody: ${body}\n${more}`;
  const own =
    'shapes: { ours: { body: { what: "<title>", items: { each: violation, node: { at: "<field>", text: "<text>" } } } } }\n';
  test.each([
    ['{ shape: jsonapi, prefix: /input }', ''],
    ['{ shape: fields, texts: joined, inline: alone }', ''],
    ['{ shape: html, html: { layout: paragraphs, element: section } }', ''],
    ['{ shape: list, perField: first, maxViolations: 2 }', ''],
    ['{ shape: ours }', own],
  ])('%s: answers as it does', (body, more) => {
    const folder = copyOf('small', { 'zeitwort.yaml': settings(body, more) });
    const opened = openWorkspace(folder);
    expect(zeitwort(['pack', '--out', 'packs'], folder).code).toBe(0);
    const files = ['packs/en.json', 'packs/de.json'].map((file) => path.join(folder, file));
    const packs = openPack(...(files as [string, string]));
    const broken = {
      form: 'visitor-pass',
      violations: [
        { path: 'day', rule: 'format', value: 'x' },
        { path: 'visitor', rule: 'required' },
        { path: 'guests[1].name', rule: 'required' },
      ],
    };
    for (const locale of ['en', 'de']) {
      const time = '2027-01-01T00:00:00Z';
      expect(packs.render(broken, { locale, time })).toEqual(
        opened.render(broken, { locale, time }),
      );
      expect(packs.renderProblem('not-found', { locale })).toEqual(
        opened.renderProblem('not-found', { locale }),
      );
    }
    const [plain] = files;
    const other = openPack(plain ?? '', { shape: 'problem' });
    expect(other.render(broken).headers).toMatchObject({
      'content-type': 'application/problem+json',
    });
  });

  test('are refused where their settings differ', () => {
    const [one, other] = ['problem', 'list'].map((shape) => {
      const folder = copyOf('small', { 'zeitwort.yaml': settings(`{ shape: ${shape} }`) });
      zeitwort(['pack', '--out', 'packs'], folder);
      return path.join(folder, 'packs', shape === 'list' ? 'de.json' : 'en.json');
    });
    expect(() => openPack(one ?? '', other ?? '')).toThrow(
      'the packs of en and de differ in settings; run "zeitwort pack" for both',
    );
  });
});
