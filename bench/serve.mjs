// Requests a second of the service with ten violations each, beside a bare server that reads the
// same POST and answers a fixed body of the same size. Both run as processes of their own; the load
// comes from this one.
import { spawn } from 'node:child_process';
import http from 'node:http';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const CONNECTIONS = 16;
const ROUND = 1500;
const ROUNDS = 7;

const report = JSON.stringify({
  violations: [
    ...['title', 'abstract', 'lead.name', 'lead.email', 'semester', 'instrument'].map((at) => ({
      path: at,
      rule: 'required',
    })),
    { path: 'nights', rule: 'maximum', params: { max: 14 }, value: 20 },
    { path: 'targets[2].name', rule: 'required' },
    { path: 'targets[2].magnitude', rule: 'maximum', params: { max: 25 }, value: 26.5 },
    {
      path: 'targets[2].exposures[0].seconds',
      rule: 'maximum',
      params: { max: 3600 },
      value: 5400,
    },
  ],
});

const BARE = `
const http = require('node:http');
const body = Buffer.from(process.argv[1]);
const server = http.createServer((request, response) => {
  const chunks = [];
  request.on('data', (chunk) => chunks.push(chunk));
  request.on('end', () => {
    Buffer.concat(chunks);
    response.writeHead(422, { 'content-type': 'application/problem+json', 'content-language': 'en', vary: 'accept-language', 'content-length': body.length });
    response.end(body);
  });
});
server.listen(0, '127.0.0.1', () => console.log('http://127.0.0.1:' + server.address().port));
`;

function start(args, cwd) {
  const child = spawn(process.execPath, args, { cwd, stdio: ['ignore', 'pipe', 'inherit'] });
  return new Promise((resolve) =>
    child.stdout.once('data', (chunk) => resolve({ child, url: chunk.toString().trim() })),
  );
}

function post(url, agent) {
  return new Promise((resolve, reject) => {
    const headers = {
      'content-type': 'application/json',
      'content-length': Buffer.byteLength(report),
    };
    const request = http.request(url, { method: 'POST', agent, headers }, (response) => {
      let text = '';
      response.setEncoding('utf8');
      response.on('data', (chunk) => (text += chunk));
      response.on('end', () =>
        response.statusCode === 422 ? resolve(text) : reject(new Error(text)),
      );
    });
    request.on('error', reject);
    request.end(report);
  });
}

/** Requests a second. */
async function round(url, agent) {
  let left = ROUND;
  const begun = process.hrtime.bigint();
  await Promise.all(
    Array.from({ length: CONNECTIONS }, async () => {
      while (left-- > 0) await post(url, agent);
    }),
  );
  return ROUND / (Number(process.hrtime.bigint() - begun) / 1e9);
}

const median = (numbers) => [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)];

export async function serveBench() {
  const agent = new http.Agent({ keepAlive: true, maxSockets: CONNECTIONS });
  const program = path.join(root, 'dist', 'cli.cjs');
  const ours = await start(
    [program, 'serve', '--port', '0', '--log-level', 'error'],
    path.join(root, 'demo', 'observatory'),
  );
  const address = `${ours.url}/zeitwort/render/observing-proposal`;
  const bare = await start(['-e', BARE, await post(address, agent)], root);
  const speeds = { ours: [], bare: [], ratio: [] };
  await round(address, agent);
  await round(bare.url, agent);
  for (let turn = 0; turn < ROUNDS; turn++) {
    const one = await round(address, agent);
    const other = await round(bare.url, agent);
    speeds.ours.push(one);
    speeds.bare.push(other);
    speeds.ratio.push(one / other);
  }
  ours.child.kill();
  bare.child.kill();
  agent.destroy();
  console.log(
    `serve, ten violations a request\n  zeitwort serve: ${median(speeds.ours).toFixed(0)} a second\n  bare node:http, a fixed body of the same size: ${median(speeds.bare).toFixed(0)} a second\n  speed ${median(speeds.ratio).toFixed(2)} of the other's (at least 0.6)`,
  );
}
