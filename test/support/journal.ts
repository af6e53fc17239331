import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, mkdirSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import { copyOf, folderWith } from './program.js';

/** The number of a process that has ended. */
export const GONE = spawnSync(process.execPath, ['-e', '0']).pid;

export const sha = (text: string): string => createHash('sha256').update(text).digest('hex');
/** An edit of any kind. */
export const SET_ANY = ['set', '--locale', 'de', '--rule', 'own', '--force', 'x'];

/** A workspace with a journal in it, and a file of the user beside it. */
export function withJournal(
  journal: (place: { folder: string; victim: string }) => unknown,
  files: Record<string, string> = {},
) {
  const around = folderWith({ 'victim.txt': 'mine' });
  const folder = path.join(around, 'ws');
  cpSync(copyOf('observatory'), folder, { recursive: true });
  mkdirSync(path.join(folder, '.zeitwort'));
  for (const [name, text] of Object.entries(files)) writeFileSync(path.join(folder, name), text);
  const content = journal({ folder, victim: path.join(around, 'victim.txt') });
  writeFileSync(
    path.join(folder, '.zeitwort/edit.json'),
    typeof content === 'string' ? content : JSON.stringify(content),
  );
  return { around, folder };
}

/** A journal with one step, as a hostile folder may bring it. */
export const journalStep = (to: string, more: object = {}): object => ({
  version: 3,
  pid: GONE,
  host: hostname(),
  state: 'writing',
  steps: [{ to, staged: '.zeitwort-new-1-0', before: sha('mine'), after: sha('theirs'), ...more }],
});
