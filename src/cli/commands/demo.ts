import { createRequire } from 'node:module';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Command } from 'commander';
import { applyEdits, modify } from 'jsonc-parser';
import { copyShipped } from '../../workspace/disk/copy.js';
import { Workspace } from '../../workspace/reading/workspace.js';
import type { Run } from '../../command.js';
import { streams } from '../../exchange/streams.js';
import { installedFile } from '../../workspace/disk/installed.js';
import { paint, print } from '../print/out.js';

const REMOVED = { file: 'messages/pl.json', keys: ['messages', 'fits-the-night'] };

/** A word as one types it in a shell. */
const quoted = (word: string): string => (/^[\w./:-]+$/.test(word) ? word : `'${word}'`);

/** Runs the program itself in a folder, its words said first. */
async function step(folder: string, words: readonly string[], expected: number): Promise<void> {
  print(`\n${paint.bold(`$ zeitwort ${words.map(quoted).join(' ')}`)}`);
  const { run } = createRequire(import.meta.url)(installedFile('command.cjs')) as {
    readonly run: Run;
  };
  const { stdout, stderr } = streams();
  const code = await run(words, { cwd: folder, stdin: '', stdout, stderr });
  if (code !== 0) print(paint.dim(`(exit code ${code})`));
  if (code !== expected) throw new Error(`this step should have ended with exit code ${expected}`);
}

function removeText(folder: string): void {
  const file = path.join(folder, REMOVED.file);
  const text = readFileSync(file, 'utf8');
  writeFileSync(file, applyEdits(text, modify(text, REMOVED.keys, undefined, {})));
}

async function demo(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'zeitwort-demo-'));
  copyShipped('observatory', folder);
  print(
    `Harrowfell Observatory takes proposals over an API. A copy of its workspace is in\n${folder}`,
  );
  print('\nFirst: has every rule a text in every language?');
  await step(folder, ['check'], 0);
  print('\nA bad proposal came in. What a client gets, in each language:');
  for (const locale of Workspace.open(folder).config.locales)
    await step(
      folder,
      ['render', 'violations/bad-proposal.json', '--locale', locale, '--with-headers'],
      0,
    );
  print('\nThe same form takes a payload, so that one can see what it breaks:');
  await step(
    folder,
    ['try', 'payloads/bad-proposal.json', '--form', 'observing-proposal', '--locale', 'en'],
    1,
  );
  await step(folder, ['try', 'payloads/good-proposal.json', '--form', 'observing-proposal'], 0);
  print('\nWhere does the sentence about target 3 come from?');
  await step(folder, ['why', 'observing-proposal', 'targets[2].name', 'required'], 0);
  print(
    `\nSomebody removes "${REMOVED.keys.join(' > ')}" from ${REMOVED.file}. The check notices:`,
  );
  removeText(folder);
  await step(folder, ['check', '--locale', 'pl'], 1);
  print(`\nThat was the demo. Look around in ${folder}, or start your own with "zeitwort init".`);
}

export function define(command: Command): void {
  command.action(demo);
}
