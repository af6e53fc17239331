import { describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { cpSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { recover } from '../../src/workspace/edit/journal.js';
import { copyOf, folderWith, program, zeitwort } from '../support/program.js';

/** So many runs are killed, at moments spread over what a run takes. */
const RUNS = 208;

const COMMANDS = [
  ['set', '--locale', 'de', '--rule', 'required', 'Bitte {label_accusative} angeben, danke.'],
  ['import', 'back.csv', '--locale', 'pl'],
  ['rename', 'field', 'targets', 'objects'],
  ['fill', '--locale', 'fr'],
] as const;

/** Catalogs and sheets of a workspace, by name. */
function filesOf(folder: string): Record<string, string> {
  const names = ['messages', 'rules'].flatMap((part) => readdirSync(path.join(folder, part)).map((name) => `${part}/${name}`));
  return Object.fromEntries([...names, 'zeitwort.yaml'].map((name) => [name, readFileSync(path.join(folder, name), 'utf8')]));
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
  const exported = zeitwort(['export', '--as', 'csv', '--locale', 'pl', '--out', '-'], clean).out;
  writeFileSync(path.join(clean, 'back.csv'), exported.replace('Proszę podać', 'Proszę, podaj').replace('cele', 'obiekty'));

  test.each(COMMANDS)(
    '%s leaves every file as before or as after, and the next run goes on',
    async (...args) => {
      const before = filesOf(clean);
      const done = folderWith({});
      cpSync(clean, done, { recursive: true });
      const start = Date.now();
      expect(zeitwort(args, done).code).toBe(0);
      const whole = Date.now() - start;
      const after = filesOf(done);
      expect(after).not.toEqual(before);
      const lane = async (first: number): Promise<void> => {
        const folder = folderWith({});
        for (let run = first; run < RUNS / COMMANDS.length; run += 2) {
          rmSync(folder, { recursive: true, force: true });
          cpSync(clean, folder, { recursive: true });
          // The writing is done late in a run, so most are killed then.
          const delay = whole * (run % 4 === 0 ? Math.random() : 0.55 + 0.7 * Math.random());
          await killedAfter(folder, args, delay);
          for (const [name, text] of Object.entries(filesOf(folder))) expect([before[name], after[name]]).toContain(text);
          // What was begun is finished, or was never begun, once the next run starts; this is the first that each of them does.
          recover(folder);
          const settled = filesOf(folder);
          expect([before, after]).toContainEqual(settled);
          // And no lock stands in the way.
          if (run % 8 === first) expect(zeitwort(['set', '--locale', 'ja', '--rule', 'after', 'x'], folder).code).toBe(0);
        }
      };
      await Promise.all([lane(0), lane(1)]);
    },
    600_000,
  );
});
