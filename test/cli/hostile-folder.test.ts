import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  chownSync,
  cpSync,
  existsSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  renameSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { openWorkspace } from '../../src/library.js';
import { git } from '../support/git.js';
import { journalStep as step, SET_ANY as SET, sha, withJournal } from '../support/journal.js';
import { copyOf, folderWith, textOf, zeitwort } from '../support/program.js';
import { IN_VAIN } from '../support/server.js';

describe('a journal that came with the folder', () => {
  const staged = { '.zeitwort-new-1-0': 'theirs' };
  const hostile: [string, Parameters<typeof withJournal>[0], string][] = [
    [
      'of the old form, with an absolute target',
      ({ victim }) => [{ from: '', to: victim }],
      'is not a journal of this version',
    ],
    [
      'with an absolute target',
      ({ victim }) => step(victim),
      'is not a file that an edit here may write',
    ],
    ['that leads out', () => step('../victim.txt'), 'is not a file that an edit here may write'],
    [
      'that takes a file away',
      () => step('../victim.txt', { staged: '', after: '' }),
      'is not a file that an edit here may write',
    ],
    [
      'into the repository',
      () => step('.git/hooks/pre-commit', { before: '' }),
      'is not a file that an edit here may write',
    ],
    [
      'with a staged name that is none',
      () => step('messages/de.json', { staged: '../victim.txt' }),
      'is not a journal of this version',
    ],
    [
      'of a file that is another now',
      () => step('messages/de.json'),
      'messages/de.json was changed since',
    ],
    ['that is broken', () => '{', 'is not a journal of this version'],
  ];
  test.each(hostile)(
    '%s: reading leaves it alone, editing says how to go on, dropping it helps',
    (_, journal, why) => {
      const { around, folder } = withJournal(journal, staged);
      const before = textOf(folder, '.zeitwort/edit.json');
      const text = textOf(folder, 'messages/de.json');
      expect(zeitwort(['check', '--no-cache'], folder).code).toBe(0);
      expect(zeitwort(['rules'], path.join(folder, 'messages')).code).toBe(0);
      openWorkspace(folder);
      expect([textOf(around, 'victim.txt'), textOf(folder, '.zeitwort/edit.json')]).toEqual([
        'mine',
        before,
      ]);
      const { code, err } = zeitwort(SET, folder);
      expect([code, err.trim().split('\n').length, err]).toEqual([
        2,
        1,
        expect.stringContaining(why),
      ]);
      expect(err).toContain('zeitwort fix --recover drop');
      expect([textOf(around, 'victim.txt'), textOf(folder, 'messages/de.json')]).toEqual([
        'mine',
        text,
      ]);
      expect(zeitwort(['fix', '--recover', 'drop'], folder).code).toBe(0);
      expect(zeitwort(SET, folder).code).toBe(0);
      expect(textOf(around, 'victim.txt')).toBe('mine');
    },
  );

  test('of an edit that was killed is finished by who edits, after a word, and by nobody else; a moved folder too', () => {
    const { around, folder } = withJournal(() => '');
    const now = textOf(folder, 'messages/de.json');
    const next = now.replace('Titel', 'Überschrift');
    writeFileSync(path.join(folder, 'messages/.zeitwort-new-1-0'), next);
    writeFileSync(
      path.join(folder, '.zeitwort/edit.json'),
      JSON.stringify(step('messages/de.json', { before: sha(now), after: sha(next) })),
    );
    const moved = path.join(around, 'moved');
    renameSync(folder, moved);
    const check = zeitwort(['check', '--no-cache'], moved);
    expect([check.code, check.err]).toEqual([
      0,
      expect.stringContaining('an edit was interrupted here'),
    ]);
    expect(textOf(moved, 'messages/de.json')).toBe(now);
    const { code, err } = zeitwort(SET, moved);
    expect([code, err]).toEqual([
      0,
      'zeitwort: finishing an edit that was interrupted: messages/de.json.\n',
    ]);
    expect(textOf(moved, 'messages/de.json')).toContain('Überschrift');
    expect(readdirSync(path.join(moved, '.zeitwort'))).toEqual(['.gitignore']);
    expect(existsSync(path.join(moved, 'messages/.zeitwort-new-1-0'))).toBe(false);
  });

  test('is not taken out of a revision, and what a repository would have git run is not run', () => {
    const { around, folder } = withJournal(({ victim }) => [{ from: '', to: victim }]);
    git(folder, 'init', '-q');
    git(folder, 'add', '-f', '.');
    git(folder, 'commit', '-qm', 'all');
    writeFileSync(
      path.join(folder, 'messages/de.json'),
      textOf(folder, 'messages/de.json').replace('Titel', 'Überschrift'),
    );
    writeFileSync(path.join(folder, '.gitattributes'), '*.json filter=theirs diff=theirs\n');
    const mark = path.join(around, 'ran');
    const theirs = `touch ${mark}; cat`;
    for (const key of [
      'core.fsmonitor',
      'filter.theirs.clean',
      'diff.theirs.textconv',
      'diff.theirs.command',
      'diff.external',
    ])
      git(folder, 'config', key, theirs);
    expect(zeitwort(['diff', 'HEAD'], folder).out).toContain('Überschrift');
    expect(zeitwort(['check', '--no-cache', '--changed', 'HEAD'], folder).code).toBe(0);
    expect([textOf(around, 'victim.txt'), existsSync(mark)]).toEqual(['mine', false]);
  });
});

describe('what lies in a folder', () => {
  test('a scratch folder that is a link is not used to read or write, and named by who edits', () => {
    const elsewhere = folderWith({ 'check.json': 'theirs', 'journal.json': '[]' });
    const folder = copyOf('observatory');
    symlinkSync(elsewhere, path.join(folder, '.zeitwort'));
    expect(zeitwort(['check'], folder).code).toBe(0);
    const { code, err } = zeitwort(SET, folder);
    expect([code, err]).toEqual([
      2,
      expect.stringMatching(/\.zeitwort is not used, because it is a link; remove it/),
    ]);
    expect([readdirSync(elsewhere).sort(), textOf(elsewhere, 'check.json')]).toEqual([
      ['check.json', 'journal.json'],
      'theirs',
    ]);
  });

  const texts = (glob: string): string => `locales: [en]\ntexts: ['${glob}']\nrules: []\n`;
  const catalog = JSON.stringify({ locale: 'en', messages: { own: 'Own.' } });
  test.each([
    [
      'a link to a catalog inside is read',
      (folder: string) => {
        symlinkSync('../kept/en.json', path.join(folder, 'messages/en.json'));
      },
      'messages/*.json',
      0,
      'own',
    ],
    [
      'a folder that is a link inside is read',
      (folder: string) => {
        symlinkSync('../kept', path.join(folder, 'messages/linked'));
      },
      'messages/**/*.json',
      0,
      'own',
    ],
    [
      'a link to elsewhere is told of',
      (folder: string) => {
        symlinkSync('../../out.json', path.join(folder, 'messages/en.json'));
      },
      'messages/*.json',
      2,
      'messages/en.json is a link that leads out of the workspace',
    ],
    [
      'a link that leads nowhere is told of',
      (folder: string) => {
        symlinkSync('nowhere', path.join(folder, 'messages/en.json'));
      },
      'messages/*.json',
      2,
      'messages/en.json does not exist',
    ],
    [
      'a link to itself is told of',
      (folder: string) => {
        symlinkSync('en.json', path.join(folder, 'messages/en.json'));
      },
      'messages/*.json',
      2,
      'messages/en.json',
    ],
    [
      'a pipe is told of',
      (folder: string) => {
        spawnSync('mkfifo', [path.join(folder, 'messages/en.json')]);
      },
      'messages/*.json',
      2,
      'messages/en.json is not a regular file',
    ],
    [
      'braces lead nowhere else',
      () => undefined,
      '..{,}/*.json',
      2,
      'this is outside of the workspace',
    ],
    [
      'many stars are refused',
      () => undefined,
      'messages/*a*a*a*a*a*a*b.json',
      2,
      'zeitwort.yaml:2:9: entry 1 of "texts": this can be read in too many ways',
    ],
  ])('%s', (_, prepare, glob, code, said) => {
    const around = folderWith({
      'out.json': catalog,
      'ws/zeitwort.yaml': texts(glob),
      'ws/kept/en.json': catalog,
      'ws/messages/.keep': '',
      'ws/messages/x/.keep': '',
    });
    const folder = path.join(around, 'ws');
    prepare(folder);
    const start = Date.now();
    const shown = zeitwort(['show', '--format', 'json'], folder);
    expect([shown.code, shown.out + shown.err, Date.now() - start < IN_VAIN]).toEqual([
      code,
      expect.stringContaining(said),
      true,
    ]);
  });

  test('what is written beside the texts is not led elsewhere by a link', () => {
    const outside = folderWith({ 'victim.json': 'mine' });
    const folder = copyOf('observatory');
    mkdirSync(path.join(folder, 'packs'));
    symlinkSync(path.join(outside, 'victim.json'), path.join(folder, 'packs/de.json'));
    symlinkSync(outside, path.join(folder, 'out'));
    for (const args of [
      ['pack', '--locale', 'de'],
      ['pack', '--locale', 'de', '--out', 'out'],
      ['report', '--out', 'out/victim.json'],
    ])
      expect(zeitwort(args, folder)).toMatchObject({
        code: 2,
        err: expect.stringMatching(
          /leads to another folder through a link; name the file that is meant/,
        ),
      });
    expect([readdirSync(outside), textOf(outside, 'victim.json')]).toEqual([
      ['victim.json'],
      'mine',
    ]);
    expect(zeitwort(['pack', '--locale', 'de', '--out', outside], folder).code).toBe(0);
  });

  test('an edit follows links inside the workspace only, and keeps whose a file is', () => {
    const around = folderWith({ 'de.json': JSON.stringify({ locale: 'de' }) });
    const folder = path.join(around, 'ws');
    cpSync(copyOf('observatory'), folder, { recursive: true });
    symlinkSync(around, path.join(folder, 'out'));
    const refused = zeitwort([...SET, '--into', 'out/de.json'], folder);
    expect([refused.code, textOf(around, 'de.json')]).toEqual([2, '{"locale":"de"}']);
    renameSync(path.join(folder, 'messages/de.json'), path.join(folder, 'real.json'));
    symlinkSync('../real.json', path.join(folder, 'messages/de.json'));
    const mine = process.getuid?.() === 0;
    if (mine) chownSync(path.join(folder, 'real.json'), 1234, 1235);
    expect(zeitwort(SET, folder).code).toBe(0);
    const { uid, gid } = statSync(path.join(folder, 'real.json'));
    if (mine) expect([uid, gid]).toEqual([1234, 1235]);
    expect([
      lstatSync(path.join(folder, 'messages/de.json')).isSymbolicLink(),
      textOf(folder, 'real.json'),
    ]).toEqual([true, expect.stringContaining('"own"')]);
  });
});

describe('an edit that fails', () => {
  // Nothing can be renamed over a file that is mounted on itself; so an edit fails in its middle,
  // whoever runs it.
  const sealed = (file: string): boolean => spawnSync('mount', ['--bind', file, file]).status === 0;
  const open = (file: string): void => void spawnSync('umount', [file]);
  const probe = path.join(folderWith({ f: '' }), 'f');
  const canSeal = sealed(probe);
  open(probe);
  (canSeal ? test : test.skip)('is taken back at once, and leaves nothing begun', () => {
    const folder = copyOf('observatory');
    const all = (): string[][] =>
      ['', 'messages', 'rules'].map((part) => {
        const names = readdirSync(path.join(folder, part)).filter(
          (name) => name.includes('.') && name !== '.zeitwort',
        );
        return names.map((name) => `${name} ${textOf(folder, path.join(part, name))}`);
      });
    const before = all();
    const last = path.join(folder, 'rules/observing-proposal.yaml');
    expect(sealed(last)).toBe(true);
    try {
      const { code, err } = zeitwort(['rename', 'field', 'targets', 'objects'], folder);
      expect([code, err]).toEqual([
        2,
        'zeitwort: rules/observing-proposal.yaml cannot be written (EBUSY); check the folder.\n',
      ]);
      expect([all(), readdirSync(path.join(folder, '.zeitwort'))]).toEqual([
        before,
        ['.gitignore'],
      ]);
    } finally {
      open(last);
    }
    expect(zeitwort(['check'], folder).code).toBe(0);
    expect(all()).toEqual(before);
  });
});
