import { describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import { finishing } from '../../src/workspace/editing/journal.js';
import { endLeft } from '../../src/workspace/editing/turn.js';
import { GONE } from '../support/journal.js';
import { copyOf, folderWith, program, started, zeitwort } from '../support/program.js';
import { IS_LONG, ROUNDS, sampled } from '../support/torture.js';

/** So many runs of each command are killed, at moments spread over what a run takes. */
const RUNS = 4 + 4 * ROUNDS;

const COMMANDS = [
  ['set', '--locale', 'de', '--rule', 'required', 'Bitte {label_accusative} angeben, danke.'],
  ['import', 'back.csv', '--locale', 'pl'],
  ['rename', 'field', 'targets', 'objects'],
  ['fill', '--locale', 'fr'],
  ['unset', '--locale', 'de', '--rule', 'required'],
  ['move', '--field', 'targets', '--to', 'messages/targets-LOCALE.json'],
  ['review', '--locale', 'pl', '--mark', 'reviewed'],
] as const;

/**
 * Catalogs and sheets of a workspace, by name; what was only staged among them where it is asked
 * for.
 */
function filesOf(folder: string, staged = false): Record<string, string> {
  const names = ['messages', 'rules'].flatMap((part) =>
    readdirSync(path.join(folder, part))
      .filter((name) => staged || !name.startsWith('.'))
      .map((name) => `${part}/${name}`),
  );
  return Object.fromEntries(
    [...names, 'zeitwort.yaml'].map((name) => [
      name,
      readFileSync(path.join(folder, name), 'utf8'),
    ]),
  );
}

function killedAfter(folder: string, args: readonly string[], delay: number): Promise<void> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [program, ...args], { cwd: folder, stdio: 'ignore' });
    const timer = setTimeout(() => child.kill('SIGKILL'), delay);
    child.on('close', () => {
      clearTimeout(timer);
      resolve();
    });
  });
}

describe('killed at any moment', () => {
  const clean = copyOf('observatory');
  const exported = zeitwort(
    ['export', '--format', 'csv', '--locale', 'pl', '--out', '-'],
    clean,
  ).out;
  writeFileSync(
    path.join(clean, 'back.csv'),
    exported.replace('Proszę podać', 'Prosimy podać').replace('cele', 'cele nieba'),
  );

  test.each(sampled(COMMANDS, 3))(
    '%s leaves every file as before or as after, and the next run goes on',
    async (...args) => {
      const before = filesOf(clean);
      const done = folderWith({});
      cpSync(clean, done, { recursive: true });
      const start = Date.now();
      expect(started(args, done).code).toBe(0);
      const whole = Date.now() - start;
      const after = filesOf(done);
      expect(after).not.toEqual(before);
      const lane = async (first: number): Promise<void> => {
        const folder = folderWith({});
        for (let run = first; run < RUNS; run += 2) {
          rmSync(folder, { recursive: true, force: true });
          cpSync(clean, folder, { recursive: true });
          // The writing is done late in a run, so most are killed then.
          const delay = whole * (run % 4 === 0 ? Math.random() : 0.55 + 0.7 * Math.random());
          await killedAfter(folder, args, delay);
          for (const [name, text] of Object.entries(filesOf(folder)))
            expect([before[name], after[name]]).toContain(text);
          // What was begun is finished, or was never begun, once the next run starts; this is the
          // first that each of them does.
          endLeft(
            folder,
            finishing(() => undefined),
            () => undefined,
          );
          const settled = filesOf(folder, true);
          expect([before, after]).toContainEqual(settled);
          // And no lock stands in the way.
          if (run % 8 === first)
            expect(
              zeitwort(['set', '--locale', 'ja', '--rule', 'after', '--force', 'x'], folder).code,
            ).toBe(0);
        }
      };
      await Promise.all([lane(0), lane(1)]);
    },
    600_000,
  );

  test('also while it recovers: the next goes on from wherever it was', async () => {
    const before = filesOf(clean);
    const done = folderWith({});
    cpSync(clean, done, { recursive: true });
    expect(zeitwort(COMMANDS[2], done).code).toBe(0);
    const after = filesOf(done);
    // A journal whose edit was killed in the middle: all is staged, one file is written.
    const begun = folderWith({});
    cpSync(clean, begun, { recursive: true });
    const changed = Object.keys(after).filter((name) => after[name] !== before[name]);
    const sha = (text = ''): string => createHash('sha256').update(text).digest('hex');
    const steps = changed.map((to, at) => {
      const staged = `.zeitwort-new-1-${at}`;
      writeFileSync(path.join(begun, path.dirname(to), staged), after[to] ?? '');
      return { to, staged, before: sha(before[to]), after: sha(after[to]) };
    });
    mkdirSync(path.join(begun, '.zeitwort'), { recursive: true });
    writeFileSync(
      path.join(begun, '.zeitwort/edit.json'),
      JSON.stringify({ version: 3, pid: GONE, host: hostname(), state: 'writing', steps }),
    );
    for (let run = 0; run < (IS_LONG ? RUNS : 3); run++) {
      const folder = folderWith({});
      cpSync(begun, folder, { recursive: true });
      for (let times = 0; times < 3; times++)
        await killedAfter(folder, ['fix', '--recover', 'finish'], 120 + 200 * Math.random());
      for (const [name, text] of Object.entries(filesOf(folder)))
        expect([before[name], after[name]]).toContain(text);
      expect(zeitwort(['fix', '--recover', 'finish'], folder).code).toBe(0);
      expect(filesOf(folder, true)).toEqual(after);
    }
  }, 600_000);
});
