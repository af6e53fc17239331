import { expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  mkdirSync,
  readdirSync,
  rmSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { watchFolders } from '../../src/workspace/disk/watched-folders.js';
import { git } from '../support/git.js';
import { journalStep as step, SET_ANY as SET, sha, withJournal } from '../support/journal.js';
import { copyOf, folderWith, keptOf, program, textOf, zeitwort } from '../support/program.js';

test('settings that are a link to another file are not read, and nothing of it is told', () => {
  const around = folderWith({ 'secret.txt': 'password: hunter2: x\n  - y', 'ws/readme.txt': 'x' });
  symlinkSync('../secret.txt', path.join(around, 'ws/zeitwort.yaml'));
  const { code, out, err } = zeitwort(['check'], path.join(around, 'ws'));
  expect([code, out, err]).toEqual([
    2,
    '',
    expect.stringMatching(/^zeitwort: zeitwort\.yaml is a link that leads out/),
  ]);
});

test('a journal takes nothing away outside, where settings share texts with it', () => {
  const { around, folder } = withJournal(() =>
    step('../shared/known.json', { staged: '', before: sha('{"locale":"en"}'), after: '' }),
  );
  mkdirSync(path.join(around, 'shared'));
  writeFileSync(path.join(around, 'shared/known.json'), '{"locale":"en"}');
  const settings = textOf(folder, 'zeitwort.yaml').replace(
    /^texts:.*$/m,
    "texts: [messages/*.json, '../shared/*.json']",
  );
  writeFileSync(path.join(folder, 'zeitwort.yaml'), `${settings}root: ..\n`);
  expect(zeitwort(SET, folder)).toMatchObject({
    code: 2,
    err: expect.stringContaining('is not a file that an edit here may write'),
  });
  expect(textOf(around, 'shared/known.json')).toBe('{"locale":"en"}');
});

test('what is called like a file in the making disturbs no edit, and what was left of one is cleared away', () => {
  const folder = copyOf('observatory');
  const long = new Date(Date.now() - 3_600_000);
  for (const place of ['.zeitwort', 'packs']) {
    mkdirSync(path.join(folder, place, '.zeitwort-12-0123456789ab.tmp/inner'), { recursive: true });
    writeFileSync(path.join(folder, place, '.zeitwort-12-aaaaaaaaaaaa.tmp'), 'half');
    writeFileSync(path.join(folder, place, '.zeitwort-12-bbbbbbbbbbbb.tmp'), 'in the making');
    for (const name of ['0123456789ab', 'aaaaaaaaaaaa'])
      utimesSync(path.join(folder, place, `.zeitwort-12-${name}.tmp`), long, long);
  }
  expect(zeitwort(SET, folder).code).toBe(0);
  expect(zeitwort(['pack', '--locale', 'de', '--out', 'packs'], folder).code).toBe(0);
  for (const place of ['.zeitwort', 'packs'])
    expect(readdirSync(path.join(folder, place)).filter((name) => name.endsWith('.tmp'))).toEqual([
      '.zeitwort-12-0123456789ab.tmp',
      '.zeitwort-12-bbbbbbbbbbbb.tmp',
    ]);
});

test('a glob that would walk the disk is told, and packages are no texts', () => {
  const deep = folderWith({
    'a/b/zeitwort.yaml':
      "locales: [en]\nroot: ../../../..\ntexts: ['../../../../**/zz-nothing-*.json']\n",
    'c/zeitwort.yaml': "locales: [en]\ntexts: ['**/*.json']\nrules: []\n",
    'c/m.json': { locale: 'en' },
    'c/node_modules/p/package.json': { name: 'p' },
  });
  const since = Date.now();
  const { code, err } = zeitwort(['check', '--no-cache'], path.join(deep, 'a/b'));
  expect([
    code !== 2 || err.includes('searches more than 200000 files'),
    Date.now() - since < 60_000,
  ]).toEqual([true, true]);
  expect(zeitwort(['check', '--no-cache'], path.join(deep, 'c'))).toMatchObject({
    code: 0,
    err: '',
  });
});

test('watching follows links inside of the workspace only, and only so many files', async () => {
  const around = folderWith({
    'elsewhere/x.json': '{}',
    'ws/kept/a.json': '{}',
    'ws/more/.keep': '',
  });
  const folder = path.join(around, 'ws');
  symlinkSync('../../elsewhere', path.join(folder, 'more/out'));
  symlinkSync('/', path.join(folder, 'more/root'));
  symlinkSync('../kept', path.join(folder, 'more/in'));
  const told: string[] = [];
  const watcher = watchFolders([folder], (sentence) => told.push(sentence), 30);
  await new Promise<void>((resolve) => watcher.once('ready', resolve));
  const watched = Object.keys(watcher.getWatched());
  expect(watched.some((place) => place.includes('elsewhere') || place.includes('/etc'))).toBe(
    false,
  );
  expect(watched).toContain(path.join(folder, 'more/in'));
  expect(told).toEqual([]);
  await watcher.close();
  for (let at = 0; at < 50; at++) writeFileSync(path.join(folder, `kept/${at}.json`), '{}');
  const again = watchFolders([folder], (sentence) => told.push(sentence), 30);
  await new Promise<void>((resolve) => again.once('ready', resolve));
  expect(told).toEqual([expect.stringMatching(/^more than 30 files lie in /)]);
  await again.close();
});

test('a kept result in the folder is none: the result is kept where a repository cannot reach it', () => {
  const folder = copyOf('broken');
  const first = zeitwort(['check', '--no-cache'], folder);
  expect(first.code).toBe(1);
  expect(zeitwort(['check'], folder)).toEqual(first);
  const kept = textOf(path.dirname(keptOf(folder)), path.basename(keptOf(folder)));
  const forged = kept.replace(/"findings":\[.*\]/s, '"findings":[]');
  rmSync(keptOf(folder));
  mkdirSync(path.join(folder, '.zeitwort'));
  writeFileSync(path.join(folder, '.zeitwort/check.json'), forged);
  expect(zeitwort(['check'], folder)).toEqual(first);
  // A cache folder inside of the repository is not used, nor one that others may write to.
  git(folder, 'init', '-q');
  for (const home of [path.join(folder, 'cache'), folderWith({})]) {
    mkdirSync(path.join(home, 'zeitwort'), { recursive: true });
    chmodSync(path.join(home, 'zeitwort'), home.startsWith(folder) ? 0o700 : 0o777);
    spawnSync(process.execPath, [program, 'check'], {
      cwd: folder,
      env: { ...process.env, XDG_CACHE_HOME: home },
    });
    expect(readdirSync(path.join(home, 'zeitwort'))).toEqual([]);
  }
});
