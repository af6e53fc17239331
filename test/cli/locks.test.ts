import { afterAll, describe, expect, test } from '@jest/globals';
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, utimesSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import { ourselves } from '../../src/workspace/editing/who.js';
import { copyOf, program } from '../support/program.js';

const SET = ['set', '--locale', 'de', '--rule', 'own', '--anyway', 'x'];

describe('a lock', () => {
  const gone = spawnSync(process.execPath, ['-e', '0']).pid;
  const me = ourselves();
  const alive = spawn('sleep', ['60']);
  afterAll(() => void alive.kill('SIGKILL'));
  const ahead = new Date(Date.now() + 86_400_000);
  test.each([
    ['of a process that is gone', JSON.stringify({ ...me, pid: gone }), undefined, 0],
    [
      'of a number that another process has now',
      JSON.stringify({ ...me, pid: alive.pid, started: '1' }),
      undefined,
      0,
    ],
    [
      'of another start of the machine',
      JSON.stringify({ ...me, pid: alive.pid, boot: 'before' }),
      undefined,
      0,
    ],
    ['of an older version, or cut off', `${gone} ${hostname()}`, undefined, 0],
    ['that is empty and dated ahead', '', ahead, 0],
    [
      'of another machine, left long ago',
      JSON.stringify({ ...me, host: 'elsewhere' }),
      new Date(Date.now() - 3_600_000),
      0,
    ],
    [
      'of another machine, dated ahead',
      JSON.stringify({ ...me, pid: 77, host: 'elsewhere' }),
      ahead,
      'process 77 on elsewhere',
    ],
    [
      'of a process that runs',
      JSON.stringify({ ...me, pid: alive.pid, started: '' }),
      undefined,
      `process ${alive.pid} on ${hostname()}`,
    ],
  ])('%s', async (_, text, time, outcome) => {
    const folder = copyOf('observatory');
    mkdirSync(path.join(folder, '.zeitwort'));
    const lock = path.join(folder, '.zeitwort/lock');
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
        new RegExp(`waiting for ${String(outcome)} \\(since .*remove .*lock if it is gone`),
      );
    expect(Date.now() - start).toBeLessThan(8000);
  });
});
