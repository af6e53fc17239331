// The guide for Python, step by step in a folder of its own: its files, its commands, what these
// print.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect } from '@jest/globals';
import { folderWith, program } from '../support/program.js';
import { MODELS_OF_PYTHON, testWith } from '../support/tools.js';

const root = path.join(__dirname, '..', '..');
const page = readFileSync(path.join(root, 'docs/guide/10-python.md'), 'utf8');
/** Each file of the page, and each block of commands. */
const BLOCKS = /(?:^`([\w./]+)`[^\n]*:\n\n)?^```(\w+)\n(.*?)^```/gms;
const COMMANDS = /^\$ (.+)\n((?:(?!\$ ).*\n)*)/gm;

testWith(MODELS_OF_PYTHON)(
  'what the guide for Python has is so',
  () => {
    const folder = folderWith({});
    cpSync(path.join(root, 'examples/python/error_texts'), path.join(folder, 'error_texts'), {
      recursive: true,
    });
    let ran = 0;
    for (const [, file, kind, text = ''] of page.matchAll(BLOCKS)) {
      if (file !== undefined) {
        mkdirSync(path.dirname(path.join(folder, file)), { recursive: true });
        writeFileSync(path.join(folder, file), text);
      }
      if (kind !== 'console') continue;
      for (const [, command = '', output = ''] of text.matchAll(COMMANDS)) {
        const { stdout, stderr } = spawnSync('bash', ['-c', command], {
          cwd: folder,
          encoding: 'utf8',
          env: {
            ...process.env,
            PYTHONDONTWRITEBYTECODE: '1',
            'BASH_FUNC_zeitwort%%': `() { ${process.execPath} ${program} "$@"; }`,
            'BASH_FUNC_python3%%': '() { /usr/bin/python3 "$@"; }',
          },
        });
        expect([command, (stdout + stderr).trimEnd()]).toEqual([command, output.trimEnd()]);
        ran += 1;
      }
    }
    expect(ran).toBe(12);
  },
  60_000,
);
