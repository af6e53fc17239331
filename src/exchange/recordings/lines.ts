import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import type { Kept, Recorded } from '../../core/audit/recording.js';
import { linesOf, type ByteRange } from '../json-lines.js';
import { targetOf } from './har.js';

/** A line that is not a recorded response. */
export class RecordingError extends Error {
  override name = 'RecordingError';
  constructor(
    message: string,
    readonly line: number,
  ) {
    super(message);
  }
}

const keptOf = (value: Loose): Kept | undefined =>
  value === undefined ? undefined : typeof value === 'string' ? { text: value } : { value };

function header(headers: Loose, name: string): string | undefined {
  if (!isObject(headers)) return undefined;
  // Mostly they are written in small letters.
  const found = Object.hasOwn(headers, name)
    ? headers[name]
    : Object.entries(headers).find(([key]) => key.toLowerCase() === name)?.[1];
  return typeof found === 'string' ? found : undefined;
}

/**
 * `{ "request": "POST /proposals", "status", "headers", "body", "sent" }`; a body as JSON or as
 * text.
 */
function recordedOf(value: LooseObject, named: string, line: number): Recorded {
  const body = keptOf(value.body);
  if (body === undefined)
    throw new RecordingError('a recorded response has a "body", as JSON or as a text', line);
  const request = typeof value.request === 'string' ? value.request : undefined;
  const [method = 'GET', url = '/'] = request?.split(' ', 2) ?? [];
  const { path, query } = targetOf(url);
  return {
    location: { file: named, line },
    endpoint: request === undefined ? undefined : `${method} ${path}`,
    query,
    sent: keptOf(value.sent),
    status: typeof value.status === 'number' ? value.status : undefined,
    mediaType: header(value.headers, 'content-type'),
    language: header(value.headers, 'content-language'),
    body,
  };
}

function recordIn(text: string, named: string, line: number): Recorded {
  let value: Loose;
  try {
    value = JSON.parse(text) as Loose;
  } catch {
    throw new RecordingError('this line is not JSON', line);
  }
  if (!isObject(value)) throw new RecordingError('a recorded response is an object', line);
  return recordedOf(value, named, line);
}

/**
 * Reads responses from JSON Lines in groups.
 * @param range a part of the file; its lines are numbered from 1
 * @param read called with the number of lines, once all are read
 * @throws {RecordingError} for an invalid line
 */
export async function* readLines(
  file: string,
  named: string,
  range?: ByteRange,
  read?: (lines: number) => void,
): AsyncGenerator<readonly Recorded[]> {
  let count = 0;
  for await (const { first, lines } of linesOf(file, range)) {
    yield lines.flatMap((text, at) =>
      text === '' || text.trim() === '' ? [] : [recordIn(text, named, first + at)],
    );
    count = first - 1 + lines.length;
  }
  read?.(count);
}
