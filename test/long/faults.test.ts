import { describe, expect, test } from '@jest/globals';
import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, cpSync, existsSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Edits } from '../../src/workspace/editing/edits.js';
import { Workspace } from '../../src/workspace/reading/workspace.js';
import { copyOf, folderWith, jsonOf, program, textOf, zeitwort } from '../support/program.js';

describe('nothing is lost', () => {
  const run = (folder: string, ...args: string[]): Promise<number | null> =>
    new Promise((resolve) => {
      spawn(process.execPath, [program, ...args], { cwd: folder, stdio: 'ignore' }).on(
        'close',
        resolve,
      );
    });

  test('ten at once all land', async () => {
    const folder = copyOf('observatory');
    const codes = await Promise.all(
      Array.from({ length: 10 }, (_, at) =>
        run(folder, 'set', '--locale', 'de', '--rule', `own-${at}`, '--force', `Text ${at}.`),
      ),
    );
    expect(codes).toEqual(codes.map(() => 0));
    const { messages = {} } = jsonOf(folder, 'messages/de.json');
    expect(Array.from({ length: 10 }, (_, at) => messages[`own-${at}`])).toEqual(
      Array.from({ length: 10 }, (_, at) => `Text ${at}.`),
    );
    // Ten processes, each behind the others: long on a machine that does other things too.
  }, 120_000);

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
    }).toThrow(
      'messages/en.json: somebody else changed this file meanwhile; nothing was written, run the command again',
    );
    expect([textOf(folder, 'messages/de.json'), textOf(folder, 'messages/en.json')]).toEqual([
      before,
      theirs,
    ]);
  });

  // A disk of a few kilobytes, where this machine lets us make one.
  const disk = folderWith({});
  const mount = (): boolean =>
    spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=256k', 'tmpfs', disk]).status === 0;
  const unmount = (): void => void spawnSync('umount', [disk]);
  const canMount = mount();
  unmount();
  (canMount ? test : test.skip)(
    'a full disk ends in one sentence, with nothing lost and nothing left behind',
    () => {
      mount();
      try {
        fillUp();
      } finally {
        unmount();
      }
    },
  );
  const fillUp = (): void => {
    cpSync(copyOf('observatory'), disk, { recursive: true });
    zeitwort(['check', '--no-cache'], disk);
    const before = textOf(disk, 'messages/de.json');
    let filled = 0;
    try {
      for (; filled < 1000; filled++)
        writeFileSync(path.join(disk, `fill-${filled}`), Buffer.alloc(4096, 1));
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
      expect([code, err.trim().split('\n').length, err]).toEqual([
        2,
        1,
        expect.stringMatching(/cannot be written \(ENOSPC\)/),
      ]);
    }
    expect(textOf(disk, 'messages/de.json')).toBe(before);
    expect(zeitwort(['check'], disk).code).toBe(0);
    for (let freed = 0; freed < 6; freed++) rmSync(path.join(disk, `fill-${freed}`));
    expect(zeitwort(['set', '--locale', 'de', '--rule', 'required', 'x'], disk).code).toBe(0);
  };

  (canMount ? test : test.skip)(
    'a disk that may only be read ends in one sentence; reading goes on',
    () => {
      mount();
      try {
        cpSync(copyOf('observatory'), disk, { recursive: true });
        expect(spawnSync('mount', ['-o', 'remount,ro', disk]).status).toBe(0);
        const { code, err } = zeitwort(['set', '--locale', 'de', '--rule', 'required', 'x'], disk);
        expect([code, err.trim().split('\n').length, err]).toEqual([
          2,
          1,
          expect.stringMatching(/cannot be written \(EROFS\)/),
        ]);
        expect(zeitwort(['check'], disk).code).toBe(0);
      } finally {
        unmount();
      }
    },
  );

  (canMount ? test : test.skip)('a folder on another disk is written to as any other', () => {
    const folder = copyOf('observatory');
    const messages = path.join(folder, 'messages');
    const kept = folderWith({});
    cpSync(messages, kept, { recursive: true });
    expect(spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=256k', 'tmpfs', messages]).status).toBe(
      0,
    );
    try {
      cpSync(kept, messages, { recursive: true });
      expect(zeitwort(['rename', 'field', 'targets', 'objects'], folder).code).toBe(0);
      expect([
        textOf(folder, 'messages/de.json'),
        textOf(folder, 'rules/observing-proposal.yaml'),
      ]).toEqual([expect.stringContaining('objects[*]'), expect.stringContaining('objects[*]')]);
    } finally {
      spawnSync('umount', [messages]);
    }
  });

  test('a folder that cannot be written to ends in one sentence', () => {
    const folder = copyOf('observatory');
    rmSync(path.join(folder, '.zeitwort'), { recursive: true, force: true });
    writeFileSync(path.join(folder, '.zeitwort'), 'a file where the folder should be');
    const before = textOf(folder, 'messages/de.json');
    const { code, err } = zeitwort(['set', '--locale', 'de', '--rule', 'required', 'x'], folder);
    expect([code, err.split('\n').length]).toEqual([2, 2]);
    expect(err).toContain('.zeitwort is not used, because it is not a folder; remove it');
    expect([textOf(folder, 'messages/de.json'), zeitwort(['check'], folder).code]).toEqual([
      before,
      0,
    ]);
    chmodSync(folder, 0o755);
    expect(existsSync(path.join(folder, 'messages/de.json'))).toBe(true);
  });
});
