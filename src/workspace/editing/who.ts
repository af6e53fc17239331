import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { hostname } from 'node:os';
import { codeOf } from '../disk/system-error.js';

/**
 * A process told apart from all others: a number alone is used again, by a later process or on
 * another machine.
 */
export interface Who {
  readonly pid: number;
  readonly host: string;
  /** Of the running system, where it tells: another after every start. */
  readonly boot: string;
  /** When the process began, in the words of the system; empty where it does not tell. */
  readonly started: string;
}

function readOr(file: string): string {
  try {
    return readFileSync(file, 'utf8').trim();
  } catch {
    return '';
  }
}

const bootId = (): string =>
  process.platform === 'linux' ? readOr('/proc/sys/kernel/random/boot_id') : '';

/** When a process began; empty where there is none, or nobody tells. */
export function startOf(pid: number): string {
  if (process.platform === 'linux') {
    // Field 22 of proc(5), counted behind the name, which may hold anything.
    const stat = readOr(`/proc/${pid}/stat`);
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
  }
  if (process.platform === 'win32') return '';
  try {
    return execFileSync('ps', ['-o', 'lstart=', '-p', String(pid)], {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    }).trim();
  } catch {
    return '';
  }
}

/** This process. */
export const ourselves = (): Who => ({
  pid: process.pid,
  host: hostname(),
  boot: bootId(),
  started: startOf(process.pid),
});

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return codeOf(error) === 'EPERM';
  }
}

/**
 * Whether a process still runs; nothing where it is one of another machine, which cannot be asked.
 */
export function isRunning(who: Who): boolean | undefined {
  if (who.host !== hostname()) return undefined;
  const boot = bootId();
  if (who.boot !== '' && boot !== '' && who.boot !== boot) return false;
  if (!isAlive(who.pid)) return false;
  const started = startOf(who.pid);
  return who.started === '' || started === '' || who.started === started;
}
