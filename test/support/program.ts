import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  realpathSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll } from '@jest/globals';
import { parse } from 'jsonc-parser';
import { MessageChannel, receiveMessageOnPort, Worker } from 'node:worker_threads';

const root = path.join(__dirname, '..', '..');
export const program = path.join(root, 'dist', 'cli.cjs');

export interface Outcome {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

let home: string | undefined;
/** The user's cache folder for all that a test file runs. */
export const cacheHome = (): string => (home ??= folderWith({}));

/** The file in which the result of a check of a folder is kept. */
export const keptOf = (folder: string): string =>
  path.join(
    cacheHome(),
    'zeitwort',
    `check-${createHash('sha256').update(realpathSync(folder)).digest('hex').slice(0, 32)}.json`,
  );

/** What the program finds in its environment. */
const environment = (): NodeJS.ProcessEnv => ({
  ...process.env,
  NO_COLOR: '1',
  FORCE_COLOR: '0',
  COLUMNS: '120',
  XDG_CACHE_HOME: cacheHome(),
});

/** Runs the built program as a user does, in a process of its own. */
export function started(args: readonly string[], folder: string, input = ''): Outcome {
  const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...args], {
    cwd: folder,
    input,
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
    timeout: 120_000,
    env: environment(),
  });
  return { code: status, out: stdout, err: stderr };
}

let runner: Worker | undefined;
afterAll(() => runner?.terminate());

/** So long a run may take, in milliseconds. */
const LONGEST = 120_000;

/** Runs the built program in this process, so that its start is paid for once. */
export function zeitwort(args: readonly string[], folder: string, stdin = ''): Outcome {
  runner ??= new Worker(path.join(__dirname, 'runner.cjs'), {
    workerData: { command: path.join(root, 'dist', 'command.cjs') },
    env: environment(),
    stdout: true,
  });
  runner.unref();
  const done = new Int32Array(new SharedArrayBuffer(4));
  const { port1, port2 } = new MessageChannel();
  const before = process.cwd();
  process.chdir(folder);
  try {
    runner.postMessage({ words: args, stdin, done, answers: port2 }, [port2]);
    if (Atomics.wait(done, 0, 0, LONGEST) === 'timed-out')
      throw new Error(`"${args.join(' ')}" did not end`);
    return (receiveMessageOnPort(port1) as { message: Outcome }).message;
  } finally {
    process.chdir(before);
    port1.close();
  }
}

const folders: string[] = [];
afterAll(() => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

/** A temporary folder with files in it; objects are written as JSON. */
export function folderWith(files: Readonly<Record<string, unknown>>): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-test-'));
  folders.push(folder);
  for (const [name, content] of Object.entries(files)) {
    const file = path.join(folder, name);
    mkdirSync(path.dirname(file), { recursive: true });
    writeFileSync(
      file,
      typeof content === 'string' || Buffer.isBuffer(content) ? content : JSON.stringify(content),
    );
  }
  return folder;
}

/** A copy of a shipped workspace, with some files in place of its own. */
export function copyOf(
  which: 'observatory' | 'broken' | 'small',
  files: Readonly<Record<string, unknown>> = {},
): string {
  const folder = folderWith({});
  cpSync(path.join(root, 'demo', which), folder, {
    recursive: true,
    filter: (file) => !file.endsWith('.zeitwort'),
  });
  for (const [name, content] of Object.entries(files))
    writeFileSync(
      path.join(folder, name),
      typeof content === 'string' ? content : JSON.stringify(content),
    );
  return folder;
}

/** The text of a file. */
export const textOf = (folder: string, file: string): string =>
  readFileSync(path.join(folder, file), 'utf8');
/** What a file with JSON, perhaps with comments, holds. */
export const jsonOf = (
  folder: string,
  file: string,
): Partial<Record<string, Record<string, unknown>>> =>
  parse(textOf(folder, file)) as Partial<Record<string, Record<string, unknown>>>;
