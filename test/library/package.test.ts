// The package as others take it: by require() and import, with their types, and put into one file
// by a bundler.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { buildSync } from 'esbuild';
import { longTest } from '../support/torture.js';

const root = path.join(__dirname, '..', '..');
const small = path.join(root, 'demo', 'small');

/** A project that has installed the package. */
function project(files: Readonly<Record<string, string>>): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-package-'));
  mkdirSync(path.join(folder, 'node_modules'));
  symlinkSync(root, path.join(folder, 'node_modules', 'zeitwort'));
  for (const [name, text] of Object.entries(files)) writeFileSync(path.join(folder, name), text);
  return folder;
}

const use = `const workspace = openWorkspace(${JSON.stringify(small)});
const body = workspace.render({ form: 'visitor-pass', violations: [{ path: 'day', rule: 'uniqueItems', params: { first: 1, second: 2 } }] }).body;
workspace.violations('visitor-pass', { body: {} }).then((found) => console.log(JSON.parse(body).errors[0].detail, found.length));`;
const files = {
  'use.cjs': `const { openWorkspace } = require('zeitwort');\nif (!require('zeitwort/client').readReply) throw 1;\n${use}`,
  'use.mjs': `import { openWorkspace } from 'zeitwort';\n${use}`,
};
const folder = project(files);

/** Runs a command as a function, in another folder and with its output collected. */
const COMMAND = `import { run } from 'zeitwort/command';
import { Writable } from 'node:stream';
let out = '';
const stdout = new Writable({ write(chunk, _, done) { out += chunk; done(); } });
const before = process.cwd();
const codes = [await run(['try', '-', '--form', 'visitor-pass', '--locale', 'en'], { cwd: ${JSON.stringify(small)}, stdin: '{}', stdout })];
codes.push(await run(['rules', '--nope'], { stderr: new Writable({ write(_, __, done) { done(); } }) }));
console.log(codes.join(), JSON.parse(out).errors.length, process.cwd() === before, process.exitCode);`;

/** What a program says, run where none of our files are. */
function said(file: string): string {
  const { stdout, stderr } = spawnSync(process.execPath, [file], {
    encoding: 'utf8',
    cwd: tmpdir(),
  });
  return stdout.trim() || stderr;
}

// The sentence is a starter's: the small workspace has none for this rule.
const SAID = /^.*1.*2.* 2$/;

describe('the package', () => {
  test.each(Object.keys(files))('works by %s', (file) => {
    expect(said(path.join(folder, file))).toMatch(SAID);
  });

  test('runs commands as functions, and leaves the process as it was', () => {
    expect(said(path.join(project({ 'run.mjs': COMMAND }), 'run.mjs'))).toMatch(
      /^1,2 [1-9] true undefined$/,
    );
  });

  test.each([
    ['use.mjs', 'esm'],
    ['use.mjs', 'cjs'],
    ['use.cjs', 'cjs'],
  ] as const)('works in one file with what uses it: %s as %s', (file, format) => {
    const outfile = path.join(
      mkdtempSync(path.join(tmpdir(), 'zeitwort-bundle-')),
      format === 'esm' ? 'out.mjs' : 'out.cjs',
    );
    buildSync({
      entryPoints: [path.join(folder, file)],
      bundle: true,
      platform: 'node',
      format,
      outfile,
      logLevel: 'silent',
    });
    expect(said(outfile)).toMatch(SAID);
  });

  longTest('has types for both', () => {
    const typed = `import { openWorkspace } from 'zeitwort';
import { readReply } from 'zeitwort/client';
export const status: number = openWorkspace('.').render({ form: 'x', violations: [] }).status;
export { readReply };`;
    const there = project({ 'a.cts': typed, 'b.mts': typed });
    const tsc = [
      path.join(root, 'node_modules/typescript/bin/tsc'),
      '--noEmit',
      '--strict',
      '--module',
      'node16',
      '--target',
      'es2022',
    ];
    const types = ['--types', 'node', '--typeRoots', path.join(root, 'node_modules/@types')];
    const { stdout } = spawnSync(process.execPath, [...tsc, ...types, 'a.cts', 'b.mts'], {
      cwd: there,
      encoding: 'utf8',
    });
    expect(stdout).toBe('');
  });
});
