import { readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import type { Recorded } from '../../core/audit/recording.js';
import type { ByteRange } from '../../exchange/json-lines.js';
import { readHar } from '../../exchange/recordings/har.js';
import { readLines, RecordingError } from '../../exchange/recordings/lines.js';
import { complaint } from '../disk/complaint.js';
import { readingFailed, readText } from '../disk/files.js';

function* bodiesIn(folder: string, named: string): Generator<Recorded> {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath, entry.name))
    .sort();
  for (const file of files) {
    const shown = path.join(named, path.relative(folder, file)).split(path.sep).join('/');
    yield { location: { file: shown }, body: { text: readText(file, shown, 'a body') } };
  }
}

/** So many at a time, of what may be large. */
const TOGETHER = 16;

async function* inParts(
  all: Iterable<Recorded> | AsyncIterable<Recorded>,
): AsyncGenerator<readonly Recorded[]> {
  let part: Recorded[] = [];
  for await (const one of all) {
    if (part.push(one) < TOGETHER) continue;
    yield part;
    part = [];
  }
  yield part;
}

/**
 * Reads recorded responses in groups: a HAR file, JSON Lines, or a folder of bodies.
 * @param range a part of a file of JSON Lines
 * @param read called with the number of lines
 * @throws {Complaint} when they cannot be read
 */
export async function* readRecordings(
  file: string,
  range?: ByteRange,
  read?: (lines: number) => void,
): AsyncGenerator<readonly Recorded[]> {
  const named = file === '-' ? 'standard input' : file;
  const stats = file === '-' ? undefined : statSync(file, { throwIfNoEntry: false });
  if (file !== '-' && !stats) throw complaint('not-found', [named]);
  try {
    if (stats?.isDirectory()) yield* inParts(bodiesIn(file, named));
    else if (/\.har$/i.test(file)) yield* inParts(readHar(file, named));
    else yield* readLines(file, named, range, read);
  } catch (error) {
    if (error instanceof RecordingError)
      throw complaint('wrong-content', [error.message], { file: named, line: error.line });
    if (error instanceof Error && 'code' in error) throw readingFailed(named, error);
    if (error instanceof Error && error.name === 'Error')
      throw complaint('broken-json', [`${error.message}; is this a whole HAR file?`], {
        file: named,
      });
    throw error;
  }
}
