// The guides that build a backend, step by step in a folder of their own: their files, their
// commands, what these print.
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { expect } from '@jest/globals';
import { folderWith, program } from '../support/program.js';
import { CURL, JAVA, MODELS_OF_PYTHON, PHP, testWith } from '../support/tools.js';

const root = path.join(__dirname, '..', '..');
/** Each file of a page, and each block of commands. */
const BLOCKS = /(?:^`([\w./-]+)`[^\n]*[:.]\n\n)?^```(\w+)\n(.*?)^```/gms;
const COMMANDS = /^\$ (.+)\n((?:(?!\$ ).*\n)*)/gm;

const GUIDES = [
  { guide: 'story.md', tool: CURL, reader: '', as: '', commands: 36 },
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

const env = {
  ...process.env,
  PYTHONDONTWRITEBYTECODE: '1',
  'BASH_FUNC_zeitwort%%': `() { ${process.execPath} ${program} "$@"; }`,
  'BASH_FUNC_python3%%': '() { /usr/bin/python3 "$@"; }',
};

/** Starts a command that goes on, and returns it once it has printed something. */
async function started(command: string, folder: string, printed: string): Promise<ChildProcess> {
  const child = spawn('bash', ['-c', command], { cwd: folder, env, detached: true });
  let said = '';
  await new Promise<void>((resolve, reject) => {
    const take = (chunk: Buffer): void => {
      said += chunk.toString('utf8');
      if (said.includes(printed)) resolve();
    };
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    child.once('exit', () => {
      reject(new Error(said));
    });
  });
  return child;
}

/** Ends a command and all that it started, and waits for that. */
async function ended(child: ChildProcess): Promise<void> {
  const closed = new Promise<void>((resolve) => {
    child.once('close', () => {
      resolve();
    });
  });
  process.kill(-(child.pid ?? 0), 'SIGTERM');
  await closed;
}

/** What a page shows of an output, in which a line with `…` stands for any lines. */
const shown = (output: string): RegExp =>
  new RegExp(
    `^${output
      .trimEnd()
      .split('\n')
      .map((line) => (line === '…' ? '[^]*' : line.replace(/[$()*+.?[\\\]^{|}]/g, '\\$&')))
      .join('\n')}$`,
  );

for (const { guide, tool, reader, as, commands } of GUIDES)
  testWith(tool)(
    `what the guide ${guide} has is so`,
    async () => {
      const page = readFileSync(path.join(root, 'docs/guide', guide), 'utf8');
      const folder = folderWith({});
      if (as !== '')
        cpSync(path.join(root, 'examples', reader), path.join(folder, as), { recursive: true });
      rmSync(path.join(folder, as, 'IcuSentences.java'), { force: true });
      mkdirSync(path.join(folder, 'node_modules'));
      symlinkSync(path.join(root, 'node_modules/zod'), path.join(folder, 'node_modules/zod'));
      symlinkSync(
        path.join(root, 'dist/runtime'),
        path.join(folder, 'node_modules/zeitwort-runtime'),
      );
      let ran = 0;
      let running: ChildProcess | undefined;
      const run = async (command: string, output: string): Promise<void> => {
        if (command === 'kill %1') {
          if (running) await ended(running);
          running = undefined;
        } else if (command.endsWith(' &')) {
          running = await started(command.slice(0, -2), folder, output.trimEnd());
        } else {
          const made = spawnSync('bash', ['-c', command], { cwd: folder, encoding: 'utf8', env });
          const printed = (made.stdout + made.stderr).trimEnd();
          if (!shown(output).test(printed)) expect([command, printed]).toEqual([command, output]);
        }
      };
      try {
        for (const [, file, kind, text = ''] of page.matchAll(BLOCKS)) {
          if (file !== undefined && kind !== 'console') {
            mkdirSync(path.dirname(path.join(folder, file)), { recursive: true });
            writeFileSync(path.join(folder, file), text);
          }
          if (kind !== 'console') continue;
          for (const [, command = '', output = ''] of text.matchAll(COMMANDS)) {
            await run(command, output);
            ran += 1;
          }
        }
      } finally {
        if (running) await ended(running);
      }
      expect(ran).toBe(commands);
    },
    120_000,
  );
