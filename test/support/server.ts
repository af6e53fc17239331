import { spawn, type ChildProcess } from 'node:child_process';
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
    log: () => log,
    stop: () => {
      child.kill('SIGTERM');
      return ended;
    },
  };
}

/** Waits until something holds, looking again and again. */
export async function until(holds: () => boolean | Promise<boolean>, within = 10_000): Promise<void> {
  const end = Date.now() + within;
  while (!(await holds())) {
    if (Date.now() > end) throw new Error('waited in vain');
    await new Promise((resume) => setTimeout(resume, 30));
  }
}
