import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll } from '@jest/globals';
import { parse } from 'jsonc-parser';

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

/** Runs the built program as a user does. */
export function zeitwort(args: readonly string[], folder: string, input = ''): Outcome {
  const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...args], {
    cwd: folder,
    input,
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
    timeout: 120_000,
    env: { ...process.env, NO_COLOR: '1', FORCE_COLOR: '0', COLUMNS: '120', XDG_CACHE_HOME: cacheHome() },
  });
  return { code: status, out: stdout, err: stderr };
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
    writeFileSync(file, typeof content === 'string' || Buffer.isBuffer(content) ? content : JSON.stringify(content));
  }
  return folder;
}

/** A copy of a shipped workspace, with some files in place of its own. */
export function copyOf(which: 'observatory' | 'broken' | 'small', files: Readonly<Record<string, unknown>> = {}): string {
  const folder = folderWith({});
  cpSync(path.join(root, 'demo', which), folder, { recursive: true, filter: (file) => !file.endsWith('.zeitwort') });
  for (const [name, content] of Object.entries(files))
    writeFileSync(path.join(folder, name), typeof content === 'string' ? content : JSON.stringify(content));
  return folder;
}

/** The text of a file. */
export const textOf = (folder: string, file: string): string => readFileSync(path.join(folder, file), 'utf8');
/** What a file with JSON, perhaps with comments, holds. */
export const jsonOf = (folder: string, file: string): Partial<Record<string, Record<string, unknown>>> =>
  parse(textOf(folder, file)) as Partial<Record<string, Record<string, unknown>>>;
