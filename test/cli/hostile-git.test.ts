import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  appendFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { git } from '../support/git.js';
import { copyOf, folderWith, textOf, zeitwort } from '../support/program.js';
import { longTest } from '../support/torture.js';

/** All that asks git, each with what git is asked about. */
const ASKING: readonly (readonly string[])[] = [
  ['diff', 'HEAD'],
  ['diff', 'HEAD~1', 'HEAD'],
  ['check', '--no-cache', '--changed', 'HEAD'],
  ['check', '--no-cache', '--changed', 'HEAD~1..HEAD'],
  ['check', '--no-cache', '--staged'],
];

/**
 * A clone of a repository with a workspace and two commits, a change in its work tree, and a place
 * for a mark.
 */
function clone(prepare: (origin: string) => void = () => undefined, below = '') {
  const around = folderWith({});
  const origin = path.join(around, 'origin');
  cpSync(copyOf('observatory'), path.join(origin, below), { recursive: true });
  writeFileSync(
    path.join(origin, '.gitattributes'),
    '*.json filter=a=b diff=theirs\n*.yaml filter=theirs\n',
  );
  git(origin, 'init', '-q');
  git(origin, 'add', '.');
  git(origin, 'commit', '-qm', 'first');
  prepare(origin);
  appendFileSync(path.join(origin, below, 'messages/de.json'), '\n');
  git(origin, 'add', '-f', '.');
  git(origin, 'commit', '-qm', 'second');
  git(around, 'clone', '-q', '--no-local', origin, 'clone');
  const top = path.join(around, 'clone');
  const folder = path.join(top, below);
  const text = textOf(folder, 'messages/de.json');
  writeFileSync(path.join(folder, 'messages/de.json'), text.replace('Titel', 'Überschrift'));
  return { around, top, folder, mark: path.join(around, 'ran') };
}

/** Settings that have git run a program. */
const runs = (mark: string, url: string): string => {
  const program = `sh -c 'touch ${mark}; cat'`;
  return [
    '[core]',
    `  fsmonitor = "${program}"`,
    `  sshCommand = "${program}"`,
    `  hooksPath = hooks`,
    `  pager = "${program}"`,
    '[diff]',
    `  external = "${program}"`,
    '[diff "theirs"]',
    `  command = "${program}"`,
    `  textconv = "${program}"`,
    ...['a=b', 'theirs'].flatMap((name) => [
      `[filter "${name}"]`,
      `  clean = "${program}"`,
      `  smudge = "${program}"`,
      `  process = "${program}"`,
    ]),
    '[extensions]',
    '  partialClone = origin',
    '[remote "origin"]',
    `  url = ${url}`,
    '  promisor = true',
    `  uploadpack = "${program}"`,
    '[protocol "ext"]',
    '  allow = always',
    '',
  ].join('\n');
};

/**
 * Takes the object of a file in the last commit out of a repository, so that git would ask whoever
 * promised it.
 */
function lose(gitDir: string, work: string, file: string): void {
  const pack = path.join(gitDir, 'objects/pack');
  for (const name of existsSync(pack)
    ? readdirSync(pack).filter((one) => one.endsWith('.pack'))
    : []) {
    const aside = path.join(gitDir, name);
    renameSync(path.join(pack, name), aside);
    spawnSync('git', ['--git-dir', gitDir, 'unpack-objects', '-q'], { input: readFileSync(aside) });
    rmSync(aside);
  }
  const id = git(work, '--git-dir', gitDir, 'rev-parse', `HEAD:${file}`).trim();
  rmSync(path.join(gitDir, 'objects', id.slice(0, 2), id.slice(2)), { force: true });
}

/** Runs all that asks git: whatever comes of it, it is one sentence at most, and nothing ran. */
function allOf(folder: string, mark: string): number[] {
  return ASKING.map((args) => {
    const { code, err } = zeitwort(args, folder);
    expect([
      args,
      existsSync(mark),
      err.trim().split('\n').length <= 1,
      err.includes('    at '),
    ]).toEqual([args, false, true, false]);
    return code ?? -1;
  });
}

describe('a repository that somebody else made', () => {
  test('nothing that its configuration names is run, and the changes are told', () => {
    const { top, folder, mark } = clone();
    appendFileSync(path.join(top, '.git/config'), runs(mark, folder));
    mkdirSync(path.join(top, 'hooks'));
    for (const hook of ['post-index-change', 'reference-transaction'])
      writeFileSync(path.join(top, 'hooks', hook), `#!/bin/sh\ntouch ${mark}\n`, { mode: 0o755 });
    expect(allOf(folder, mark)).toEqual([0, 0, 0, 0, 0]);
    expect(zeitwort(['diff', 'HEAD'], folder).out).toContain('Überschrift');
  });

  longTest(
    'more settings than anybody reads hide none',
    () => {
      const { top, folder, mark } = clone();
      const many = Array.from(
        { length: 60_000 },
        (_, at) => `[filter "f${at}"]\n  clean = cat\n`,
      ).join('');
      appendFileSync(path.join(top, '.git/config'), many + runs(mark, folder));
      expect(allOf(folder, mark)).toEqual([0, 0, 0, 0, 0]);
    },
    120_000,
  );

  test.each([
    [
      'a program that sends',
      (mark: string) => `[remote "origin"]\n  uploadpack = "touch ${mark}; false"\n`,
    ],
    [
      'an address that is a program',
      (mark: string) => `[remote "origin"]\n  url = "ext::sh -c touch% ${mark}"\n`,
    ],
  ])('an object that is missing is not fetched: %s', (_, more) => {
    const { around, top, folder, mark } = clone();
    appendFileSync(
      path.join(top, '.git/config'),
      runs(mark, path.join(around, 'origin')) + more(mark),
    );
    lose(path.join(top, '.git'), top, 'messages/en.json');
    const codes = allOf(folder, mark);
    expect(codes.slice(0, 3)).toEqual([2, 2, 0]);
    expect(zeitwort(['diff', 'HEAD'], folder).err).toMatch(
      /^zeitwort: git cannot tell what HEAD holds/,
    );
  });

  test.each([
    ['beside zeitwort.yaml', ''],
    ['as its .git', '.git-theirs'],
  ])('a repository without a work tree among its files is not used: %s', (_, place) => {
    const { around, folder, mark } = clone((origin) => {
      const bare = path.join(origin, 'ws', place);
      git(origin, 'clone', '-q', '--bare', origin, path.join(origin, 'bare'));
      cpSync(path.join(origin, 'bare'), bare, { recursive: true });
      rmSync(path.join(origin, 'bare'), { recursive: true });
      writeFileSync(path.join(bare, 'refs/.keep'), '');
      writeFileSync(path.join(bare, 'objects/.keep'), '');
      appendFileSync(
        path.join(bare, 'config'),
        `[core]\n  bare = false\n  worktree = ..\n${runs(path.join(path.dirname(origin), 'ran'), origin)}`,
      );
      lose(bare, origin, 'ws/messages/en.json');
    }, 'ws');
    if (place !== '') {
      // No clone brings a file called .git; an archive can.
      writeFileSync(path.join(folder, '.git'), `gitdir: ${place}\n`);
      expect(new Set(allOf(folder, mark))).toEqual(new Set([2]));
      expect(zeitwort(['diff', 'HEAD'], folder).err).toMatch(
        /the \.git in .* leads to a repository among its own files; remove it/,
      );
      return;
    }
    expect(existsSync(path.join(around, 'clone/ws/HEAD'))).toBe(true);
    expect(allOf(folder, mark)).toEqual([0, 0, 0, 0, 0]);
  });

  test('a submodule is a repository of its own, whose settings run nothing either', () => {
    const { around, folder: inner } = clone();
    const outer = folderWith({ 'readme.txt': 'x' });
    git(outer, 'init', '-q');
    git(
      outer,
      '-c',
      'protocol.file.allow=always',
      'submodule',
      '--quiet',
      'add',
      path.join(around, 'origin'),
      'sub',
    );
    const mark = path.join(around, 'ran');
    appendFileSync(path.join(outer, '.git/modules/sub/config'), runs(mark, inner));
    const folder = path.join(outer, 'sub');
    writeFileSync(
      path.join(folder, 'messages/de.json'),
      textOf(folder, 'messages/de.json').replace('Titel', 'Überschrift'),
    );
    expect(allOf(folder, mark)).toEqual([0, 0, 0, 0, 0]);
    expect(zeitwort(['diff', 'HEAD'], folder).out).toContain('Überschrift');
  });

  test('names in its trees and links lead nowhere: a revision is read in memory', () => {
    const { around, top, folder } = clone((origin) => {
      writeFileSync(
        path.join(origin, 'ws/zeitwort.yaml'),
        `${textOf(origin, 'ws/zeitwort.yaml').replace(/^texts:.*$/m, "texts: [messages/*.json, '../shared/*.json']")}root: ..\n`,
      );
      symlinkSync('/etc/hostname', path.join(origin, 'ws/messages/zz.json'));
    }, 'ws');
    // A tree with entries called "..", as no command of git makes one.
    const blob = git(top, 'hash-object', '-w', path.join(folder, 'messages/de.json')).trim();
    const raw = (name: string, id: string, mode = '100644'): Buffer =>
      Buffer.concat([Buffer.from(`${mode} ${name}\0`), Buffer.from(id, 'hex')]);
    const tree = (entries: Buffer[]): string =>
      spawnSync('git', ['hash-object', '-t', 'tree', '-w', '--stdin', '--literally'], {
        cwd: top,
        input: Buffer.concat(entries),
      })
        .stdout.toString()
        .trim();
    const up = tree([
      raw('..', tree([raw('..', tree([raw('planted.json', blob)]), '40000')]), '40000'),
    ]);
    const ws = git(top, 'rev-parse', 'HEAD:ws').trim();
    const root = tree([raw('shared', up, '40000'), raw('ws', ws, '40000')]);
    const commit = git(top, 'commit-tree', root, '-m', 'hostile').trim();
    const before = readdirSync(around).sort();
    const told = zeitwort(['diff', commit, 'HEAD'], folder);
    expect([told.code, told.err]).toEqual([0, '']);
    expect(readdirSync(around).sort()).toEqual(before);
    expect(existsSync(path.join(around, 'planted.json'))).toBe(false);
  });
});

describe('gates', () => {
  test('a folder that is called like a branch is not a revision', () => {
    const { top, folder } = clone();
    // As it is in the work tree, so that a comparison with it finds nothing.
    for (const name of ['main', 'HEAD'])
      for (const part of ['zeitwort.yaml', 'messages', 'rules'])
        cpSync(path.join(folder, part), path.join(folder, name, part), { recursive: true });
    expect(zeitwort(['diff', 'main', '--fail'], folder)).toMatchObject({
      code: 1,
      out: expect.stringContaining('Überschrift'),
    });
    expect(zeitwort(['diff', 'HEAD', '--fail'], folder).code).toBe(1);
    expect(zeitwort(['diff', './main', '--fail'], folder).code).toBe(0);
    git(top, 'checkout', '-q', '-b', 'other');
    git(top, 'branch', '-q', '-D', 'main');
    expect(zeitwort(['diff', 'main'], folder)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/there is no revision "main".*the folder is meant by \.\/main/),
    });
  });

  test.each([
    ['as they are', ''],
    ['said to be binary', '*.json binary -diff\n'],
    ['with line ends of another system', '*.json text eol=crlf\n'],
  ])('what changed is found whatever a repository says of its files: %s', (_, attributes) => {
    const folder = copyOf('observatory');
    const file = (name: string): string => path.join(folder, 'messages', name);
    const add = (name: string, text: string): void => {
      writeFileSync(file(name), JSON.stringify({ locale: 'de', messages: { [name]: text } }));
    };
    add('größe.json', 'a.');
    git(folder, 'init', '-q');
    writeFileSync(path.join(folder, '.gitattributes'), attributes);
    writeFileSync(path.join(folder, '.gitignore'), 'ignored.json\n');
    git(folder, 'config', 'diff.noprefix', 'true');
    git(folder, 'add', '.');
    git(folder, 'commit', '-qm', 'all');
    const changed = (): string[] => {
      const { out } = zeitwort(
        [
          'check',
          '--no-cache',
          '--changed',
          'HEAD',
          '--kind',
          'unused-message',
          '--format',
          'json',
        ],
        folder,
      );
      return (JSON.parse(out) as { findings: { file: string }[] }).findings
        .map((one) => path.basename(one.file))
        .sort();
    };
    expect(changed()).toEqual([]);
    git(folder, 'update-index', '--assume-unchanged', 'messages/größe.json');
    add('größe.json', 'b.');
    add('ignored.json', 'c.');
    add('new.json', 'd.');
    expect(changed()).toEqual(['größe.json', 'ignored.json', 'new.json']);
    // Other line ends are no change.
    writeFileSync(file('größe.json'), textOf(folder, 'messages/größe.json').replace('b.', 'a.'));
    const en = textOf(folder, 'messages/en.json');
    writeFileSync(
      file('en.json'),
      en.replaceAll('\r\n', '\n').replaceAll('\n', '\r\n').replace('{', '{\r\n  "$schema": "x",'),
    );
    expect(changed()).toEqual(['ignored.json', 'new.json']);
  });
});
