import { fork } from 'node:child_process';
import path from 'node:path';
import { cleaned, shortened } from '../../core/text/value.js';
import { complaint, type Complaint } from '../disk/complaint.js';
import { installedFile } from '../disk/installed.js';
import type { ModuleMessage } from './module-message.js';

/** The result of a module's process: its answer, or none, and its output. */
export interface ModuleRun {
  readonly answer: ModuleMessage | undefined;
  readonly printed: string;
  readonly late: boolean;
  readonly code: number | null;
}

/** So much of what a module prints is kept. */
const MOST_PRINTED = 2000;

/**
 * Runs a module in a process of its own.
 * @param file an absolute path
 * @param ms after which it is stopped
 */
export function runModule(file: string, ms: number): Promise<ModuleRun> {
  return new Promise((resolve) => {
    const child = fork(installedFile('deriving-worker.cjs'), [], {
      cwd: path.dirname(file),
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      execArgv: [],
      serialization: 'json',
    });
    let printed = '';
    let answer: ModuleMessage | undefined;
    let late = false;
    const keep = (chunk: Buffer): void => {
      if (printed.length < MOST_PRINTED) printed += chunk.toString('utf8').slice(0, MOST_PRINTED);
    };
    child.stdout?.on('data', keep);
    child.stderr?.on('data', keep);
    child.once('message', (message) => {
      answer = message as ModuleMessage;
    });
    const timer = setTimeout(() => {
      late = true;
      child.kill('SIGKILL');
    }, ms);
    child.once('error', () => {
      clearTimeout(timer);
      resolve({ answer, printed, late, code: 1 });
    });
    child.once('close', (code) => {
      clearTimeout(timer);
      resolve({ answer, printed, late: late && answer === undefined, code });
    });
    child.send(file);
  });
}

const MISSING_PACKAGE = /Cannot find (?:package|module) '([^']+)'/;

const quoted = (text: string): string => shortened(cleaned(text.trim()), 120);

/**
 * Returns the fault of a module as a whole, in one sentence; nothing where it listed its exports.
 */
export function moduleTrouble(
  file: string,
  { answer, late, code, printed }: ModuleRun,
  ms: number,
): Complaint | undefined {
  const at = { file };
  const refuse = (sentence: string): Complaint => complaint('wrong-content', [sentence], at);
  if (late)
    return refuse(
      `this module did not come to an end within ${ms} ms; export schemas, and start nothing`,
    );
  if (!answer) {
    const said = printed.trim() === '' ? '' : ` (it printed: ${quoted(printed)})`;
    return refuse(
      `this module ended its process itself, with code ${code ?? 'none'}${said}; export schemas, and nothing else`,
    );
  }
  if ('failed' in answer) {
    const { name, code: reason, message } = answer.failed;
    const missing = MISSING_PACKAGE.exec(message)?.[1];
    if (
      (reason === 'ERR_MODULE_NOT_FOUND' || reason === 'MODULE_NOT_FOUND') &&
      missing !== undefined
    )
      return refuse(
        `this module needs ${quoted(missing)}, which is not there; install it, or correct the import`,
      );
    if (reason === 'ERR_UNKNOWN_FILE_EXTENSION')
      return refuse('this is not a JavaScript; compile it first, and name what comes out');
    return refuse(`this module fails while it is loaded: ${name}: ${quoted(message)}`);
  }
  if (answer.exports.length === 0)
    return refuse(
      'this module exports nothing that implements Standard JSON Schema ("~standard.jsonSchema")',
    );
  return undefined;
}

/** Returns a notice about the output of a module while it was loaded. */
export const noticePrinted = (file: string, { printed }: ModuleRun): string | undefined =>
  printed.trim() === '' ? undefined : `${file} prints while it is loaded: ${quoted(printed)}`;
