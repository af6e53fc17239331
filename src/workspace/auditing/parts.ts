import { closeSync, openSync, readSync, statSync } from 'node:fs';
import type { ByteRange } from '../../exchange/json-lines.js';

/** The unit of an audit process: a file, or a part of one that has a response on each line. */
export interface Part {
  readonly file: string;
  readonly range?: ByteRange;
}

/**
 * So large is a part at most, in bytes: much longer to go through than a process takes to start.
 */
export const PART = 64 * 1024 * 1024;
const LOOK = 1 << 16;

/** Where the next line begins after a place in a file; its size where none does. */
function nextLine(handle: number, from: number, size: number): number {
  const bytes = Buffer.alloc(LOOK);
  for (let at = from; at < size;) {
    const read = readSync(handle, bytes, 0, LOOK, at);
    if (read === 0) break;
    const end = bytes.subarray(0, read).indexOf(0x0a);
    if (end >= 0) return at + end + 1;
    at += read;
  }
  return size;
}

/**
 * The parts of a file of lines, each of whole lines, in order, and about as large as each other.
 */
function partsOf(file: string, size: number, most: number): Part[] {
  const part = Math.ceil(size / Math.ceil(size / most));
  const handle = openSync(file, 'r');
  try {
    const parts: Part[] = [];
    for (let start = 0; start < size;) {
      const end = size - start <= part ? size : nextLine(handle, start + part - 1, size);
      parts.push({ file, range: { start, end } });
      start = end;
    }
    return parts;
  } finally {
    closeSync(handle);
  }
}

/** Takes files apart into what can be audited on its own. */
export function parts(files: readonly string[], most: number = PART): Part[] {
  return files.flatMap((file): Part[] => {
    const stats = file === '-' ? undefined : statSync(file, { throwIfNoEntry: false });
    const isLines = stats?.isFile() === true && !/\.har$/i.test(file);
    return isLines && stats.size > most ? partsOf(file, stats.size, most) : [{ file }];
  });
}
