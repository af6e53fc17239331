// The backends of examples/node as somebody would run them, held against the service.
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import {
  appendFileSync,
  cpSync,
  mkdirSync,
  readFileSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { copyOf, zeitwort } from '../support/program.js';
import { serve } from '../support/server.js';

const root = path.join(__dirname, '../..');
const LOCALES = ['en', 'de', 'pl', 'ar', 'ja'];

/** The demo with a shape of its own and a rule that only the backend checks. */
const folder = copyOf('observatory');
appendFileSync(
  path.join(folder, 'zeitwort.yaml'),
  `shapes:
  ours:
    body:
      error: { status: '<status>', what: '<title>', name: '<problem>' }
      items: { each: violation, node: { at: '<pointer>', code: '<code>', text: '<text>' } }
`,
);
const settings = path.join(folder, 'zeitwort.yaml');
writeFileSync(
  settings,
  readFileSync(settings, 'utf8').replace('perField: all', 'perField: first\n  shape: ours'),
);
const sheet = path.join(folder, 'rules/house.yaml');
writeFileSync(
  sheet,
  readFileSync(sheet, 'utf8').replace(
    'day:             { required: true, format: date }',
    'day:             { required: true, format: date, external: { booked: {} } }',
  ),
);
for (const locale of LOCALES)
  writeFileSync(
    path.join(folder, `messages/booked.${locale}.json`),
    JSON.stringify({ locale, messages: { booked: `${locale}: {label}!` } }),
  );
zeitwort(['pack', '--module', '--out', 'packs'], folder);
cpSync(path.join(root, 'examples/node'), folder, { recursive: true });
const modules = path.join(folder, 'node_modules');
mkdirSync(modules);
// As a project has it: the runtime out of its tarball, and the plugins that teams use beside it.
const runtime = path.join(modules, 'zeitwort-runtime');
mkdirSync(runtime);
const made = spawnSync('npm', ['pack', '--silent', '--pack-destination', folder], {
  cwd: path.join(root, 'dist/runtime'),
  encoding: 'utf8',
});
spawnSync(
  'tar',
  ['xzf', made.stdout.trim().split('\n').at(-1) ?? '', '-C', runtime, '--strip-components=1'],
  { cwd: folder },
);
mkdirSync(path.join(modules, '@fastify'));
const PLUGINS = ['@fastify/jwt', '@fastify/multipart', '@fastify/rate-limit', 'express-rate-limit'];
for (const name of ['zod', 'express', 'fastify', ...PLUGINS])
  symlinkSync(path.join(root, 'node_modules', name), path.join(modules, name));

/** Adds to an example, behind a line of it. */
function extend(file: string, line: string, code: string): void {
  const at = path.join(folder, file);
  const text = readFileSync(at, 'utf8');
  expect(text).toContain(line);
  writeFileSync(at, text.replace(line, `${line}\n${code}`));
}
extend(
  'fastify.mjs',
  "app.removeContentTypeParser('text/plain');",
  `for (const [name, options] of [['rate-limit', { max: 1000 }], ['multipart', {}], ['jwt', { secret: 'of the test' }]])
  await app.register((await import('@fastify/' + name)).default, options);
app.get('/mine', (request) => request.jwtVerify());
app.get('/often', { config: { rateLimit: { max: 0 } } }, () => 'never');`,
);
extend(
  'express.mjs',
  'const app = express();',
  `const { rateLimit } = await import('express-rate-limit');
const often = (limit) => rateLimit({ limit, handler: (_request, _response, next) => next(refuse(429)) });
app.use(often(1000));
app.get('/mine', (_request, _response, next) => next(refuse(401)));
app.get('/often', often(0), (_request, response) => response.end());`,
);
// Node has no server for such a module: this is one.
writeFileSync(
  path.join(folder, 'edge-server.mjs'),
  `import { createServer } from 'node:http';
import { Readable } from 'node:stream';
import edge from './edge.mjs';
const server = createServer(async (incoming, response) => {
  const { method, headers, url } = incoming;
  const body = method === 'GET' ? {} : { body: Readable.toWeb(incoming), duplex: 'half' };
  const answer = await edge.fetch(new Request('http://' + headers.host + url, { method, headers, ...body }));
  response.writeHead(answer.status, Object.fromEntries(answer.headers));
  response.end(Buffer.from(await answer.arrayBuffer()));
});
server.listen(0, '127.0.0.1', () => console.log('http://127.0.0.1:' + server.address().port));
`,
);

const json = 'application/json';
const pass = { visitor: 'Ilse Brandt', email: 'ilse@brandt.example', day: '2027-03-09' };
/** Twelve requests, in five languages each: method, path, media type and body. */
const REQUESTS: readonly (readonly [string, string, string, string | undefined])[] = [
  ['POST', '/passes', json, '{}'],
  ['POST', '/passes', json, JSON.stringify({ ...pass, guests: 9 })],
  ['POST', '/passes', json, JSON.stringify({ ...pass, guests: 1.5, email: 'at brandt' })],
  ['POST', '/passes', json, JSON.stringify({ ...pass, visitor: 7, day: '9 March' })],
  ['POST', '/passes', json, JSON.stringify({ ...pass, email: null })],
  ['POST', '/passes', json, '[]'],
  ['POST', '/passes', json, '{"visitor":'],
  ['POST', '/passes', json, JSON.stringify({ ...pass, visitor: 'x'.repeat(3000) })],
  ['POST', '/passes', 'text/plain', 'a pass, please'],
  ['PUT', '/passes', json, '{}'],
  ['GET', '/nothing', json, undefined],
  ['POST', '/nothing?a=b', json, '{}'],
];

const running: ChildProcess[] = [];
afterAll(() => {
  for (const child of running) child.kill();
});

async function started(file: string): Promise<string> {
  const child = spawn(process.execPath, [file], {
    cwd: folder,
    env: { ...process.env, PORT: '0', VIOLATIONS: `${file}.jsonl` },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  running.push(child);
  const [line] = (await once(createInterface(child.stdout), 'line')) as [string];
  return line;
}

describe.each(['node-http.mjs', 'express.mjs', 'fastify.mjs', 'edge-server.mjs'])('%s', (file) => {
  let url = '';
  let service: Awaited<ReturnType<typeof serve>>;
  beforeAll(async () => {
    url = await started(file);
    service = await serve(folder, '--log-level', 'silent', '--no-watch', '--max-body', '2000');
  });
  afterAll(() => service.stop());

  const sent = (
    at: string,
    locale: string,
    [method, where, type, body]: (typeof REQUESTS)[number],
  ): Promise<Response> =>
    fetch(at + where, {
      method,
      headers: { 'accept-language': locale, 'content-type': type },
      ...(body === undefined ? {} : { body }),
    });

  test('answers sixty requests as the service does, and an audit finds nothing', async () => {
    const recorded: string[] = [];
    for (const request of REQUESTS)
      for (const locale of LOCALES) {
        const told = async (at: string): Promise<unknown[]> => {
          const answer = await sent(at, locale, request);
          const names = ['content-type', 'content-language', 'allow'];
          const { status, headers } = answer;
          const body = await answer.text();
          const [method, where, , given] = request;
          const one = { request: `${method} ${where}`, status, body, sent: given };
          if (at === url)
            recorded.push(JSON.stringify({ ...one, headers: Object.fromEntries(headers) }));
          return [status, body, ...names.map((name) => headers.get(name))];
        };
        expect([request, await told(url)]).toEqual([request, await told(service.url)]);
      }
    const lines = path.join(folder, `${file}.answers.jsonl`);
    writeFileSync(lines, recorded.join('\n'));
    const { code, out } = zeitwort(['audit', lines, '--format', 'json'], folder);
    expect([code, JSON.parse(out)]).toEqual([
      0,
      expect.objectContaining({
        summary: { deviating: 0, endpoints: 4, responses: 60 },
      }),
    ]);
  });

  if (/^(?:fastify|express)/.test(file))
    test.each([
      ['/mine', 'not-signed-in', 401],
      ['/often', 'too-many-requests', 429],
    ])(
      'what a plugin refuses at %s is the problem %s in each language',
      async (at, name, status) => {
        for (const locale of LOCALES) {
          const answer = await sent(url, locale, ['GET', at, json, undefined]);
          const seconds = Number(answer.headers.get('retry-after'));
          const params = seconds > 0 ? ['--param', `seconds=${seconds}`] : [];
          const { out } = zeitwort(
            ['render', '--problem', name, '--locale', locale, ...params],
            folder,
          );
          expect([answer.status, await answer.json()]).toEqual([status, JSON.parse(out)]);
        }
      },
    );

  test('tells a unique constraint as a rule, and logs what check --observed reads', async () => {
    const request = ['POST', '/passes', json, JSON.stringify(pass)] as const;
    expect((await sent(url, 'de', request)).status).toBe(201);
    const again = await sent(url, 'de', request);
    expect([again.status, await again.json()]).toEqual([
      422,
      expect.objectContaining({
        items: [{ at: '/day', code: 'booked', text: expect.stringMatching(/^de: /) }],
      }),
    ]);
    const { code, out } = zeitwort(['check', '--observed', `${file}.jsonl`], folder);
    expect([code, out]).toEqual([0, expect.stringMatching(/1 +visitor-pass +day +booked/)]);
  });
});
