// The guides for backends in other languages, step by step in a folder of their own: their files,
// their commands, what these print.
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect } from '@jest/globals';
import { folderWith, program } from '../support/program.js';
import { JAVA, MODELS_OF_PYTHON, PHP, testWith } from '../support/tools.js';

const root = path.join(__dirname, '..', '..');
/** Each file of a page, and each block of commands. */
const BLOCKS = /(?:^`([\w./]+)`[^\n]*:\n\n)?^```(\w+)\n(.*?)^```/gms;
const COMMANDS = /^\$ (.+)\n((?:(?!\$ ).*\n)*)/gm;

const GUIDES = [
  {
    guide: '10-python.md',
    tool: MODELS_OF_PYTHON,
    reader: 'python/error_texts',
    as: 'error_texts',
    commands: 12,
  },
  { guide: '11-java.md', tool: JAVA, reader: 'java', as: 'reader', commands: 10 },
  { guide: '12-php.md', tool: PHP, reader: 'php', as: 'reader', commands: 9 },
];

for (const { guide, tool, reader, as, commands } of GUIDES)
  testWith(tool)(
    `what the guide ${guide} has is so`,
    () => {
      const page = readFileSync(path.join(root, 'docs/guide', guide), 'utf8');
      const folder = folderWith({});
      cpSync(path.join(root, 'examples', reader), path.join(folder, as), { recursive: true });
      rmSync(path.join(folder, as, 'IcuSentences.java'), { force: true });
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
      expect(ran).toBe(commands);
    },
    60_000,
  );
