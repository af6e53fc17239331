import { readFileSync } from 'node:fs';
import { Readable, type Writable } from 'node:stream';

/** A stream that a run writes to: a terminal, a pipe, or what a caller collects. */
export type Output = Writable & { readonly isTTY?: boolean; readonly columns?: number };

/** The standard streams of a run. */
export interface Streams {
  readonly stdout: Output;
  readonly stderr: Output;
  /** Whether somebody types what is read. */
  readonly isTyped: boolean;
  readonly input: () => Readable;
  /** Reads all of the standard input at once. */
  readonly inputBytes: () => Buffer;
}

const ofProcess: Streams = {
  // Both are made when they are first asked for.
  get stdout() {
    return process.stdout;
  },
  get stderr() {
    return process.stderr;
  },
  get isTyped() {
    return process.stdin.isTTY;
  },
  input: () => process.stdin,
  inputBytes: () => readFileSync(0),
};

let current = ofProcess;

/** The streams of the run at hand. */
export const streams = (): Streams => current;

/**
 * Replaces some of the process's streams while work runs.
 * @param stdin the whole of the standard input
 */
export async function withStreams<T>(
  {
    stdin,
    stdout,
    stderr,
  }: { readonly stdin?: string; readonly stdout?: Output; readonly stderr?: Output },
  work: () => Promise<T>,
): Promise<T> {
  const before = current;
  current = {
    stdout: stdout ?? before.stdout,
    stderr: stderr ?? before.stderr,
    isTyped: stdin === undefined && before.isTyped,
    input: () => (stdin === undefined ? before.input() : Readable.from([Buffer.from(stdin)])),
    inputBytes: () => (stdin === undefined ? before.inputBytes() : Buffer.from(stdin)),
  };
  try {
    return await work();
  } finally {
    current = before;
  }
}
