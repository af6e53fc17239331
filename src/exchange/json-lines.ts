import { createReadStream } from 'node:fs';
import { decodeText } from './decode.js';
import { streams } from './streams.js';

/** A part of a file, in bytes: from a line's begin, and so far as the line before `end` goes. */
export interface ByteRange {
  readonly start: number;
  readonly end: number;
}

/** Lines of a file that were read together, and the number of the first, from 1. */
export interface Lines {
  readonly first: number;
  readonly lines: readonly string[];
}

/** So many bytes are read at once, and so many lines handed on together at most. */
const CHUNK = 1 << 18;

const LINE_FEED = 0x0a;

/** The text of whole lines; invalid UTF-8 is marked, and reported where the line is read. */
function textOf(parts: readonly Buffer[]): string {
  const bytes = parts.length === 1 && parts[0] ? parts[0] : Buffer.concat(parts);
  return decodeText(bytes) ?? bytes.toString('utf8');
}

/**
 * Reads lines, as many at a time as a chunk has, so that a file of any size is gone through quickly
 * and in little memory. Lines end at line feeds alone: in JSON Lines nothing else ends one, while a
 * text in them may hold what ends lines elsewhere.
 * @param file its path, or `-` for standard input
 */
export async function* linesOf(file: string, range?: ByteRange): AsyncGenerator<Lines> {
  const input =
    file === '-'
      ? streams().input()
      : createReadStream(file, {
          highWaterMark: CHUNK,
          ...(range ? { start: range.start, end: range.end - 1 } : {}),
        });
  let first = 1;
  let rest: Buffer[] = [];
  for await (const chunk of input as AsyncIterable<Buffer>) {
    const end = chunk.lastIndexOf(LINE_FEED);
    if (end < 0) {
      rest.push(chunk);
      continue;
    }
    const lines = textOf([...rest, chunk.subarray(0, end)]).split('\n');
    rest = [chunk.subarray(end + 1)];
    yield { first, lines };
    first += lines.length;
  }
  const last = textOf(rest);
  if (last !== '') yield { first, lines: [last] };
}
