// node bench/balanced.mjs [seconds]: two processes behind nginx as the guide sets them up, one of
// them killed every second and begun again by a supervisor, under 64 connections. Wants nginx on
// the path. Counts what clients lost.
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const SECONDS = Number(process.argv[2] ?? 60);
const CONNECTIONS = 64;
const [FRONT, ...BACKS] = [18080, 18081, 18082];
const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const folder = mkdtempSync(path.join(tmpdir(), 'balanced-'));

/** The lines of the guide's server, inside of what nginx needs to run alone in a folder. */
const config = (repeats) => `
pid ${folder}/nginx.pid;
error_log ${folder}/error.log;
worker_processes 1;
events { worker_connections 1024; }
http {
  access_log off;
  client_body_temp_path ${folder}; proxy_temp_path ${folder}; fastcgi_temp_path ${folder}; uwsgi_temp_path ${folder}; scgi_temp_path ${folder};
  upstream zeitwort {
    server 127.0.0.1:${BACKS[0]} max_fails=0;
    server 127.0.0.1:${BACKS[1]} max_fails=0;
    keepalive 32;
  }
  server {
    listen 127.0.0.1:${FRONT};
    location / {
      proxy_pass http://zeitwort;
      proxy_http_version 1.1;
      proxy_set_header Connection "";
      proxy_set_header Host $host;
      ${repeats ? 'proxy_next_upstream error timeout non_idempotent;' : ''}
    }
  }
}`;

/** Keeps a process running, as a unit with Restart=always does. */
function supervised(port) {
  let child;
  let stopped = false;
  const begin = () => {
    const args = [
      'dist/cli.cjs',
      'serve',
      '--port',
      String(port),
      '--workspace',
      'demo/observatory',
      '--log-level',
      'silent',
    ];
    child = spawn(process.execPath, args, { cwd: root, stdio: 'ignore' });
    child.on('exit', () => !stopped && setTimeout(begin, 100));
  };
  begin();
  return {
    kill: () => child.kill('SIGKILL'),
    stop: () => {
      stopped = true;
      child.kill('SIGKILL');
    },
  };
}

const report = JSON.stringify({
  violations: [
    { path: 'guests', rule: 'maximum' },
    { path: 'visitor', rule: 'required' },
  ],
});

function post(agent) {
  return new Promise((resolve) => {
    const headers = {
      'content-type': 'application/json',
      'content-length': report.length,
      'accept-language': 'de',
    };
    const options = {
      port: FRONT,
      host: '127.0.0.1',
      path: '/zeitwort/render/visitor-pass',
      method: 'POST',
      agent,
      headers,
    };
    const request = http.request(options, (response) => {
      let text = '';
      response.on('data', (chunk) => (text += chunk));
      response.on('end', () =>
        resolve(response.statusCode === 422 ? text : `status ${response.statusCode}`),
      );
      response.on('error', (error) => resolve(error.code));
    });
    request.on('error', (error) => resolve(error.code));
    request.end(report);
  });
}

const isReady = (port) =>
  new Promise((resolve) => {
    const asked = http.get(
      { port, host: '127.0.0.1', path: '/zeitwort/ready', agent: false },
      (response) => {
        response.resume();
        resolve(response.statusCode === 200);
      },
    );
    asked.on('error', () => resolve(false));
  });

const ready = async (port) => {
  while (!(await isReady(port))) await new Promise((resolve) => setTimeout(resolve, 50));
};

async function round(name, repeats) {
  writeFileSync(path.join(folder, 'nginx.conf'), config(repeats));
  const services = BACKS.map(supervised);
  await Promise.all(BACKS.map(ready));
  execFileSync('nginx', ['-c', path.join(folder, 'nginx.conf')]);
  const agent = new http.Agent({ keepAlive: true, maxSockets: CONNECTIONS });
  const lost = new Map();
  const bodies = new Set();
  let answered = 0;
  let [killed, isOver] = [0, false];
  // One at a time: the other must be there again, or both are gone and nobody is left to answer.
  const killing = (async () => {
    while (!isOver) {
      await new Promise((resolve) => setTimeout(resolve, 1000));
      if (await isReady(BACKS[(killed + 1) % 2])) services[killed++ % 2].kill();
    }
  })();
  const client = async () => {
    while (!isOver) {
      const said = await post(agent);
      if (said.startsWith('{')) {
        answered++;
        bodies.add(said);
      } else lost.set(said, (lost.get(said) ?? 0) + 1);
    }
  };
  setTimeout(() => (isOver = true), SECONDS * 1000);
  await Promise.all(Array.from({ length: CONNECTIONS }, client));
  await killing;
  agent.destroy();
  execFileSync('nginx', ['-c', path.join(folder, 'nginx.conf'), '-s', 'quit']);
  for (const { stop } of services) stop();
  const all = [...lost].map(([what, count]) => `${count} × ${what}`).join(', ') || 'none';
  console.log(
    `${name}: ${killed} kills in ${SECONDS} s, ${answered} answers (${bodies.size} different), lost: ${all}`,
  );
  await new Promise((resolve) => setTimeout(resolve, 500));
}

try {
  await round('repeated at the other', true);
  await round('as nginx does by itself', false);
} finally {
  rmSync(folder, { recursive: true, force: true });
}
