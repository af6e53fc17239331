import type { Output } from './exchange/streams.js';

/** Replaces the process's own arguments, folder and streams in a run. */
export interface RunOptions {
  /** The folder that the program works in. */
  readonly cwd?: string;
  readonly env?: Readonly<Record<string, string | undefined>>;
  /** All of the standard input. */
  readonly stdin?: string;
  readonly stdout?: Output;
  readonly stderr?: Output;
}

/**
 * Runs the program. The current folder, the environment and the exit code are the process's own,
 * which a run borrows: so there is one at a time. What answers until it is stopped (`serve`, `lsp`,
 * `--watch`) wants a process of its own.
 * @param words what stands behind the program's name
 * @returns the exit code: 0, or 1 where the command says so, or 2 for wrong use and unreadable
 * input
 */
export type Run = (words: readonly string[], options?: RunOptions) => Promise<number>;

export declare const run: Run;
