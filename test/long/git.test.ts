import { expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  appendFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import { git } from '../support/git.js';
import { copyOf, folderWith, textOf, zeitwort } from '../support/program.js';
import { oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

/** Settings of a repository that may have git run or fetch something, or look somewhere else. */
const settings = (random: Random, mark: string): string => {
  const program = `touch ${mark}; cat`;
  const name = oneOf(random, ['a', 'a=b', 'a b', '=', 'x.y', 'ü', '"', '\\\\']).replace(
    /["\\]/g,
    '\\$&',
  );
  return oneOf(random, [
    `[core]\n  fsmonitor = "${program}"\n`,
    `[core]\n  fsmonitor = true\n  untrackedCache = true\n`,
    `[core]\n  hooksPath = hooks\n`,
    `[core]\n  worktree = ${oneOf(random, ['/tmp', '..', '.', '../..'])}\n`,
    `[core]\n  bare = ${oneOf(random, ['true', 'false', '1'])}\n`,
    `[core]\n  alternateRefsCommand = "${program}"\n  sshCommand = "${program}"\n  askPass = "${program}"\n`,
    `[core]\n  attributesFile = attributes\n  excludesFile = excludes\n`,
    `[filter "${name}"]\n  clean = "${program}"\n  smudge = "${program}"\n  process = "${program}"\n  required = true\n`,
    `[diff "${name}"]\n  command = "${program}"\n  textconv = "${program}"\n`,
    `[diff]\n  external = "${program}"\n  noprefix = true\n`,
    `[pager]\n  ls-files = "${program}"\n  rev-parse = "${program}"\n`,
    `[alias]\n  rev-parse = "!${program}"\n  cat-file = "!${program}"\n`,
    `[extensions]\n  partialClone = origin\n[remote "origin"]\n  promisor = true\n  url = "ext::sh -c touch% ${mark}"\n  uploadpack = "${program}"\n`,
    `[remote "origin"]\n  promisor = true\n  url = /nowhere\n  uploadpack = "${program}"\n[protocol]\n  allow = always\n`,
    `[include]\n  path = ${oneOf(random, ['../config-of-theirs', '/dev/zero', '/etc/passwd', 'config'])}\n`,
    `[gpg]\n  program = "${program}"\n[log]\n  showSignature = true\n`,
    `[credential]\n  helper = "!${program}"\n`,
    `[submodule "x"]\n  update = "!${program}"\n  url = ../x\n`,
    `[safe]\n  bareRepository = all\n  directory = *\n`,
    `[index]\n  sparse = true\n[core]\n  sparseCheckout = true\n`,
    `[trace2]\n  normalTarget = ${mark}\n`,
    `[broken\n`,
    '\0',
  ]);
};

/** Changes a repository in one way that a stranger could have. */
function disturb(folder: string, random: Random, mark: string): void {
  const inGit = (...parts: string[]): string => path.join(folder, '.git', ...parts);
  switch (random(8)) {
    case 0:
    case 1:
    case 2:
    case 3:
      appendFileSync(inGit('config'), settings(random, mark));
      break;
    case 4:
      // An object is gone.
      for (const place of readdirSync(inGit('objects')).filter(
        (name) => name.length === 2 && random(4) === 0,
      ))
        rmSync(inGit('objects', place), { recursive: true });
      break;
    case 5:
      mkdirSync(path.join(folder, 'hooks'), { recursive: true });
      for (const hook of [
        'post-index-change',
        'reference-transaction',
        'fsmonitor-watchman',
        'query-watchman',
      ])
        for (const place of [path.join(folder, 'hooks', hook), inGit('hooks', hook)])
          writeFileSync(place, `#!/bin/sh\ntouch ${mark}\n`, { mode: 0o755 });
      break;
    case 6: {
      const bare = path.join(folder, oneOf(random, ['.', 'messages', 'rules']));
      for (const part of ['HEAD', 'config', 'objects', 'refs'])
        cpSync(inGit(part), path.join(bare, part), { recursive: true });
      appendFileSync(path.join(bare, 'config'), settings(random, mark));
      break;
    }
    default:
      writeFileSync(
        path.join(folder, '.gitattributes'),
        `* filter=${oneOf(random, ['a', 'a=b', 'x.y'])} diff=a working-tree-encoding=UTF-16\n`,
      );
  }
}

test(
  'no repository has anything run, written or told but a sentence',
  () => {
    const random = randomFrom(SEED);
    const around = folderWith({});
    const model = path.join(around, 'model');
    cpSync(copyOf('small'), model, { recursive: true });
    git(model, 'init', '-q');
    git(model, 'add', '.');
    git(model, 'commit', '-qm', 'one');
    for (let run = 0; run < 4 * ROUNDS; run++) {
      const folder = path.join(around, `run-${run}`);
      const mark = path.join(around, `ran-${run}`);
      cpSync(model, folder, { recursive: true });
      for (let times = 1 + random(5); times > 0; times--) disturb(folder, random, mark);
      appendFileSync(path.join(folder, 'messages/en.json'), '\n');
      const before = readdirSync(around).length;
      const args = oneOf(random, [
        ['diff', 'HEAD'],
        ['diff', 'HEAD', 'HEAD'],
        ['check', '--changed', 'HEAD'],
        ['check', '--staged'],
      ]);
      const { code, err } = zeitwort([...args], folder);
      const told = JSON.stringify({
        seed: SEED,
        run,
        args,
        code,
        err,
        config: textOf(folder, '.git/config').slice(0, 2000),
      });
      if (existsSync(mark) || readdirSync(around).length !== before)
        throw new Error(`something ran or was written: ${told}`);
      if (
        ![0, 1, 2].includes(code ?? -1) ||
        err.trim().split('\n').length > 1 ||
        err.includes('    at ')
      )
        throw new Error(told);
      rmSync(folder, { recursive: true });
    }
    expect(spawnSync('git', ['--version']).status).toBe(0);
  },
  60_000 + ROUNDS * 20_000,
);
