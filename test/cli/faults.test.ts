import { describe, expect, test } from '@jest/globals';
import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, cpSync, existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Edits } from '../../src/workspace/edit/edits.js';
import { Workspace } from '../../src/workspace/workspace.js';
import { copyOf, folderWith, jsonOf, program, textOf, zeitwort } from '../support/program.js';

describe('nothing is lost', () => {
  const run = (folder: string, ...args: string[]): Promise<number | null> =>
    new Promise((resolve) => {
      spawn(process.execPath, [program, ...args], { cwd: folder, stdio: 'ignore' }).on('close', resolve);
    });

  test('ten at once all land', async () => {
    const folder = copyOf('observatory');
    const codes = await Promise.all(
      Array.from({ length: 10 }, (_, at) => run(folder, 'set', '--locale', 'de', '--rule', `own-${at}`, `Text ${at}.`)),
    );
    expect(codes).toEqual(codes.map(() => 0));
    const { messages = {} } = jsonOf(folder, 'messages/de.json');
    expect(Array.from({ length: 10 }, (_, at) => messages[`own-${at}`])).toEqual(
      Array.from({ length: 10 }, (_, at) => `Text ${at}.`),
    );
  });

  test('what somebody else saved meanwhile is noticed, and not written over', () => {
    const folder = copyOf('observatory');
    const edits = new Edits(Workspace.open(folder));
    edits.change('messages/de.json', (text) => text.replace('Titel', 'Überschrift'));
    edits.change('messages/en.json', (text) => text.replace('title', 'headline'));
    const theirs = textOf(folder, 'messages/en.json').replace('title', 'heading');
    writeFileSync(path.join(folder, 'messages/en.json'), theirs);
    const before = textOf(folder, 'messages/de.json');
    expect(() => {
      edits.commit();
    }).toThrow('messages/en.json: somebody else changed this file meanwhile; nothing was written, run the command again');
    expect([textOf(folder, 'messages/de.json'), textOf(folder, 'messages/en.json')]).toEqual([before, theirs]);
  });

  test('a lock of a run that was killed does not block the next; a journal is finished by it', () => {
    const folder = copyOf('observatory');
    const scratch = path.join(folder, '.zeitwort');
    mkdirSync(scratch);
    const { pid } = spawnSync(process.execPath, ['-e', '0']);
    writeFileSync(path.join(scratch, 'lock'), `${pid} ${spawnSync('hostname', { encoding: 'utf8' }).stdout.trim()}`);
    writeFileSync(path.join(scratch, 'new-1-0'), textOf(folder, 'messages/de.json').replace('Titel', 'Überschrift'));
    writeFileSync(
      path.join(scratch, 'journal.json'),
      JSON.stringify([{ from: 'new-1-0', to: path.join(folder, 'messages/de.json') }]),
    );
    expect(zeitwort(['check', '--no-cache'], folder).code).toBe(0);
    expect(textOf(folder, 'messages/de.json')).toContain('Überschrift');
    expect(readdirSync(scratch).sort()).toEqual(['.gitignore']);
  });

  // A disk of a few kilobytes, where this machine lets us make one.
  const disk = folderWith({});
  const mount = (): boolean => spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=256k', 'tmpfs', disk]).status === 0;
  const unmount = (): void => void spawnSync('umount', [disk]);
  const canMount = mount();
  unmount();
  (canMount ? test : test.skip)('a full disk ends in one sentence, with nothing lost and nothing left behind', () => {
    mount();
    try {
      fillUp();
    } finally {
      unmount();
    }
  });
  const fillUp = (): void => {
    cpSync(copyOf('observatory'), disk, { recursive: true });
    zeitwort(['check', '--no-cache'], disk);
    const before = textOf(disk, 'messages/de.json');
    let filled = 0;
    try {
      for (; filled < 1000; filled++) writeFileSync(path.join(disk, `fill-${filled}`), Buffer.alloc(4096, 1));
    } catch {
      // It is full now.
    }
    expect(filled).toBeGreaterThan(0);
    for (const args of [
      ['set', '--locale', 'de', '--rule', 'required', 'x'],
      ['rename', 'field', 'targets', 'objects'],
      ['fill', '--locale', 'fr'],
    ]) {
      const { code, err } = zeitwort(args, disk);
      expect([code, err.trim().split('\n').length, err]).toEqual([2, 1, expect.stringMatching(/cannot be written \(ENOSPC\)/)]);
    }
    expect(textOf(disk, 'messages/de.json')).toBe(before);
    expect(zeitwort(['check'], disk).code).toBe(0);
    rmSync(path.join(disk, 'fill-0'));
    rmSync(path.join(disk, 'fill-1'));
    rmSync(path.join(disk, 'fill-2'));
    rmSync(path.join(disk, 'fill-3'));
    expect(zeitwort(['set', '--locale', 'de', '--rule', 'required', 'x'], disk).code).toBe(0);
  };

  test('a folder that cannot be written to ends in one sentence', () => {
    const folder = copyOf('observatory');
    rmSync(path.join(folder, '.zeitwort'), { recursive: true, force: true });
    writeFileSync(path.join(folder, '.zeitwort'), 'a file where the folder should be');
    const before = textOf(folder, 'messages/de.json');
    const { code, err } = zeitwort(['set', '--locale', 'de', '--rule', 'required', 'x'], folder);
    expect([code, err.split('\n').length]).toEqual([2, 2]);
    expect(err).toContain('cannot be written');
    expect([textOf(folder, 'messages/de.json'), zeitwort(['check'], folder).code]).toEqual([before, 0]);
    chmodSync(folder, 0o755);
    expect(existsSync(path.join(folder, 'messages/de.json'))).toBe(true);
  });
});
