// npm run stress: many requests of every kind over many connections against the built service,
// which is reloaded and then stopped meanwhile. It fails where an answer is missing, or of a kind
// that was not meant. [--requests N] [--connections N]
import { spawn } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const option = (name, otherwise) => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? otherwise : Number(process.argv[at + 1]);
};
const requests = option('requests', 10_000);
const connections = option('connections', 64);

const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-stress-'));
cpSync(path.join(root, 'demo', 'observatory'), folder, { recursive: true });
const read = (file) => readFileSync(path.join(folder, file), 'utf8');
const [good, bad] = [read('payloads/good-proposal.json'), read('payloads/bad-proposal.json')];

const child = spawn(
  process.execPath,
  [
    path.join(root, 'dist', 'cli.cjs'),
    'serve',
    '--port',
    '0',
    '--log-level',
    'error',
    '--max-body',
    '100000',
    '--request-timeout',
    '3000',
  ],
  {
    cwd: folder,
    stdio: ['ignore', 'pipe', 'inherit'],
  },
);
const ended = new Promise((resolve) => child.once('exit', resolve));
const url = await new Promise((resolve) =>
  child.stdout.once('data', (chunk) => resolve(chunk.toString().trim())),
);
const agent = new http.Agent({ keepAlive: true, maxSockets: connections });
const memory = () =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

function ask(
  at,
  body,
  { type = 'application/json', slow = 0, abort = false, language = 'en' } = {},
) {
  return new Promise((resolve) => {
    const request = http.request(
      url + at,
      {
        method: 'POST',
        agent,
        headers: {
          'content-type': type,
          'accept-language': language,
          'content-length': Buffer.byteLength(body),
        },
      },
      (response) => {
        let text = '';
        response.on('data', (chunk) => (text += chunk));
        response.on('end', () => resolve({ status: response.statusCode, text }));
        response.on('error', () => resolve({ status: 0 }));
      },
    );
    request.on('error', () => resolve({ status: 0 }));
    if (abort) {
      request.write(body.slice(0, 10));
      setTimeout(() => request.destroy(), 5);
    } else if (slow) {
      request.write(body.slice(0, 10));
      setTimeout(() => request.end(body.slice(10)), slow);
    } else request.end(body);
  });
}

// Each kind with the answers that it may get; what was aborted by us may get none.
const kinds = [
  ['good', [201], () => ask('/proposals', good)],
  ['bad', [422], () => ask('/proposals', bad, { language: 'pl' })],
  [
    'violations',
    [422],
    () =>
      ask('/zeitwort/render/observing-proposal', read('violations/worse-proposal.json'), {
        language: 'ar',
      }),
  ],
  ['malformed', [400], () => ask('/proposals', '{"title": [1,')],
  ['empty', [400], () => ask('/proposals', '')],
  ['no JSON', [415], () => ask('/proposals', 'a=b', { type: 'text/plain' })],
  ['huge', [413, 0], () => ask('/proposals', JSON.stringify({ title: 'x'.repeat(150_000) }))],
  ['deep', [413], () => ask('/proposals', '['.repeat(40_000) + ']'.repeat(40_000))],
  ['nowhere', [404], () => ask('/nowhere', '{}')],
  ['slow', [422], () => ask('/proposals', bad, { slow: 30 })],
  ['aborted', [0, 400], () => ask('/proposals', bad, { abort: true })],
];

let state = 41;
const random = (below) => (state = (state * 48_271) % 2_147_483_647) % below;
const counts = new Map();
const wrong = [];
let sent = 0;
let peak = 0;
let early = 0;
const catalog = read('messages/en.json');

async function worker() {
  while (sent < requests) {
    sent += 1;
    if (sent % 1000 === 0) {
      // A reload in the middle of it, half of them broken.
      writeFileSync(
        path.join(folder, 'messages/en.json'),
        sent % 2000 === 0 ? catalog.slice(0, 100) : catalog,
      );
      peak = Math.max(peak, memory());
      if (sent === 2000 || (early === 0 && sent >= requests / 4)) early = memory();
    }
    const [name, allowed, work] = kinds[random(kinds.length)];
    const { status, text } = await work();
    counts.set(`${name} ${status}`, (counts.get(`${name} ${status}`) ?? 0) + 1);
    if (!allowed.includes(status)) wrong.push([name, status, text?.slice(0, 200)]);
  }
}

const start = Date.now();
await Promise.all(Array.from({ length: connections }, worker));
const seconds = (Date.now() - start) / 1000;
const late = memory();

// A graceful stop with requests under way: each of them is answered.
const last = Array.from({ length: connections }, () => ask('/proposals', bad, { slow: 150 }));
await new Promise((resume) => setTimeout(resume, 60));
child.kill('SIGTERM');
const lost = (await Promise.all(last)).filter(({ status }) => status !== 422).length;
const code = await ended;

console.log(`${requests} requests over ${connections} connections in ${seconds.toFixed(1)} s`);
for (const [name, count] of [...counts].sort()) console.log(`  ${name}: ${count}`);
console.log(
  `memory: ${early.toFixed(0)} MB after a quarter, ${late.toFixed(0)} MB at the end, ${Math.max(peak, late).toFixed(0)} MB at most`,
);
console.log(`lost in the stop: ${lost} of ${connections}; exit code ${code}`);
for (const one of wrong.slice(0, 10)) console.log('not meant:', ...one);
if (wrong.length > 0 || lost > 0 || code !== 0) process.exitCode = 1;
agent.destroy();
