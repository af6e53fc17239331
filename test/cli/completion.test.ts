// What shells complete: asked as their scripts ask, and by a real bash.
import { spawnSync } from 'node:child_process';
import { chmodSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from '@jest/globals';
import { copyOf, folderWith, program, zeitwort } from '../support/program.js';

const folder = copyOf('observatory');
const after = (...line: string[]): string[] =>
  zeitwort(['complete', '--', ...line], folder)
    .out.split('\n')
    .slice(0, -1);

test.each<[string[], string[]]>([
  [['ch'], ['check']],
  [['check', '--kin'], ['--kind']],
  [['check', '--kind', 'misspelt'], ['misspelt-key']],
  [
    ['check', '--format', ''],
    ['text', 'json', 'sarif', 'junit', 'markdown'],
  ],
  [
    ['check', '--locale', ''],
    ['en', 'de', 'pl', 'ar', 'ja'],
  ],
  [['try', '--form', 'v'], ['visitor-pass']],
  [['try', '--form', 'visitor-pass', '--field', 'g'], ['guests']],
  [['set', '--field', 'targets[*].m'], ['targets[*].magnitude']],
  [
    ['why', 'observing-proposal', 'targets[*].magnitude', ''],
    ['type', 'maximum', 'too-faint'],
  ],
  [['render', '--shape', 'json'], ['jsonapi']],
  [
    ['completion', ''],
    ['bash', 'zsh', 'fish'],
  ],
  // Where a shell knows better, or nothing can be read, it is left alone.
  [['render', ''], []],
  [['nonsense', ''], []],
  [['try', '--workspace', '/nowhere', '--form', ''], []],
])('%j', (line, wanted) => {
  expect(after(...line)).toEqual(wanted);
});

test('bash completes with it, and what was quoted already is read', () => {
  const bin = folderWith({ zeitwort: `#!/bin/sh\nexec '${process.execPath}' '${program}' "$@"\n` });
  chmodSync(path.join(bin, 'zeitwort'), 0o755);
  const script = `eval "$(zeitwort completion bash)"
ask() { COMP_WORDS=("$@"); COMP_CWORD=$(($# - 1)); _zeitwort; printf '%s\\n' "\${COMPREPLY[@]}"; }
ask zeitwort try --form observing-proposal --field 'targets\\[\\*\\].m'
complete -p zeitwort`;
  const env = { ...process.env, PATH: `${bin}:${process.env.PATH ?? ''}` };
  const { stdout } = spawnSync('bash', ['--norc', '-c', script], {
    cwd: folder,
    encoding: 'utf8',
    env,
  });
  expect(stdout).toBe(
    'targets\\[\\*\\].magnitude\ncomplete -o default -o nosort -F _zeitwort zeitwort\n',
  );
  for (const shell of ['zsh', 'fish'])
    expect(zeitwort(['completion', shell], folder).out).toContain('zeitwort complete -- ');
  expect(zeitwort(['completion', 'csh'], folder).code).toBe(2);
});
