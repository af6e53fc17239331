import { afterAll, describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { mkdirSync, utimesSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import { GONE } from '../support/journal.js';
import { copyOf, program } from '../support/program.js';
import { IN_VAIN } from '../support/server.js';

const SET = ['set', '--locale', 'de', '--rule', 'own', '--force', 'x'];

describe('an edit', () => {
  const alive = spawn('sleep', ['60']);
  afterAll(() => void alive.kill('SIGKILL'));
  const ahead = new Date(Date.now() + 86_400_000);
  const ago = new Date(Date.now() - 3_600_000);
  const of = (who: object): string =>
    JSON.stringify({ version: 3, host: hostname(), state: 'reading', steps: [], ...who });
  test.each([
    ['of a process that is gone', of({ pid: GONE }), undefined, 0],
    ['of a number that another process has by now', of({ pid: alive.pid }), ago, 0],
    ['that says nothing yet, and is dated ahead', '', ahead, 0],
    ['of another machine, left long ago', of({ pid: 77, host: 'elsewhere' }), ago, 0],
    [
      'of another machine, dated ahead',
      of({ pid: 77, host: 'elsewhere' }),
      ahead,
      'process 77 on elsewhere',
    ],
    [
      'of a process that runs',
      of({ pid: alive.pid }),
      undefined,
      `process ${alive.pid} on ${hostname()}`,
    ],
  ])('%s', async (_, text, time, outcome) => {
    const folder = copyOf('observatory');
    mkdirSync(path.join(folder, '.zeitwort'));
    const lock = path.join(folder, '.zeitwort/edit.json');
    writeFileSync(lock, text);
    if (time) utimesSync(lock, time, time);
    const start = Date.now();
    const child = spawn(process.execPath, [program, ...SET], {
      cwd: folder,
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    const said = await new Promise<string>((resolve) => {
      child.stderr.once('data', (chunk: Buffer) => {
        resolve(chunk.toString());
      });
      child.once('exit', (code) => {
        resolve(String(code));
      });
    });
    child.kill('SIGKILL');
    if (outcome === 0) expect(said).toBe('0');
    else
      expect(said).toMatch(
        new RegExp(`waiting for ${String(outcome)} \\(since .*remove .*edit\\.json if it is gone`),
      );
    expect(Date.now() - start).toBeLessThan(IN_VAIN);
  });
});
