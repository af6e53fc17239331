import { spawn, type ChildProcess } from 'node:child_process';
import { connect } from 'node:net';
import path from 'node:path';
import { afterAll } from '@jest/globals';

const program = path.join(__dirname, '..', '..', 'dist', 'cli.cjs');
const running = new Set<ChildProcess>();
afterAll(() => {
  for (const child of running) child.kill('SIGKILL');
});

export interface Serving {
  readonly url: string;
  readonly port: number;
  readonly pid: number | undefined;
  /** What it logged so far. */
  readonly log: () => string;
  /** Asks it to end, and waits for it: the exit code. */
  readonly stop: () => Promise<number | null>;
}

/** Starts the built program's service on a free port. */
export async function serve(folder: string, ...args: string[]): Promise<Serving> {
  const child = spawn(process.execPath, [program, 'serve', '--port', '0', ...args], {
    cwd: folder,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  running.add(child);
  let log = '';
  child.stderr.on('data', (chunk: Buffer) => {
    log += chunk.toString();
  });
  const ended = new Promise<number | null>((resolve) => child.once('exit', resolve));
  const url = await new Promise<string>((resolve, reject) => {
    child.stdout.once('data', (chunk: Buffer) => {
      resolve(chunk.toString().trim());
    });
    child.once('exit', () => {
      reject(new Error(log));
    });
  });
  return {
    url,
    port: Number(new URL(url).port),
    pid: child.pid,
    log: () => log,
    stop: () => {
      child.kill('SIGTERM');
      return ended;
    },
  };
}

/**
 * How long somebody waits in vain, in milliseconds. Tests measure no speed: what takes a second on
 * a quiet machine takes several on a busy one, but what hangs takes longer than this.
 */
export const IN_VAIN = 15_000;

/** Waits until something holds, looking again and again. */
export async function until(
  holds: () => boolean | Promise<boolean>,
  within = IN_VAIN,
): Promise<void> {
  const end = Date.now() + within;
  while (!(await holds())) {
    if (Date.now() > end) throw new Error('waited in vain');
    await new Promise((resume) => setTimeout(resume, 30));
  }
}

/** Sends bytes over a socket as they are, and gives what comes back until the other side ends. */
export function raw(port: number, text: string, wait = 0): Promise<string> {
  return new Promise((resolve, reject) => {
    const socket = connect(port, '127.0.0.1');
    let got = '';
    socket.on('data', (chunk) => (got += chunk.toString()));
    socket.on('close', () => {
      resolve(got);
    });
    socket.on('error', reject);
    socket.write(text);
    if (wait > 0) setTimeout(() => socket.end(), wait);
  });
}

/**
 * Sends JSON to a service: the status, how long it took in milliseconds, and the body of the
 * answer.
 */
export async function postJson(
  { url }: Serving,
  at: string,
  value: unknown,
): Promise<{ status: number; ms: number; body: Record<string, unknown> }> {
  const start = Date.now();
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  const response = await fetch(url + at, {
    method: 'POST',
    body: text,
    headers: { 'content-type': 'application/json' },
  });
  return {
    status: response.status,
    ms: Date.now() - start,
    body: (await response.json()) as Record<string, unknown>,
  };
}
