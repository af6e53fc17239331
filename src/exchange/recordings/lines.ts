import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import type { Recorded } from '../../core/audit/recording.js';
import { targetOf } from './har.js';

/** A line that is no recorded response. */
export class RecordingError extends Error {
  override name = 'RecordingError';
  constructor(
    message: string,
    readonly line: number,
  ) {
    super(message);
  }
}

const asText = (value: Loose): string | undefined =>
  value === undefined ? undefined : typeof value === 'string' ? value : JSON.stringify(value);

function header(headers: Loose, name: string): string | undefined {
  if (!isObject(headers)) return undefined;
  const found = Object.entries(headers).find(([key]) => key.toLowerCase() === name)?.[1];
  return typeof found === 'string' ? found : undefined;
}

/** `{ "request": "POST /proposals", "status", "headers", "body", "sent" }`; a body as JSON or as text. */
function recordedOf(value: LooseObject, named: string, line: number): Recorded {
  const body = asText(value.body);
  if (body === undefined) throw new RecordingError('a recorded response has a "body", as JSON or as a text', line);
  const request = typeof value.request === 'string' ? value.request : undefined;
  const [method = 'GET', url = '/'] = request?.split(' ') ?? [];
  const { path, query } = targetOf(url);
  const sent = asText(value.sent);
  const type = header(value.headers, 'content-type');
  const language = header(value.headers, 'content-language');
  return {
    place: { file: named, line },
    ...(request === undefined ? {} : { endpoint: `${method} ${path}` }),
    ...(query === undefined ? {} : { query }),
    ...(sent === undefined ? {} : { sent }),
    ...(typeof value.status === 'number' ? { status: value.status } : {}),
    ...(type === undefined ? {} : { mediaType: type }),
    ...(language === undefined ? {} : { language }),
    body,
  };
}

/**
 * Reads responses from JSON Lines, one in memory at a time.
 * @throws {RecordingError} for a line that is none
 */
export async function* readLines(file: string, named: string): AsyncGenerator<Recorded> {
  const input = file === '-' ? process.stdin : createReadStream(file);
  let line = 0;
  for await (const text of createInterface({ input, crlfDelay: Infinity })) {
    line += 1;
    if (text.trim() === '') continue;
    let value: Loose;
    try {
      value = JSON.parse(text);
    } catch {
      throw new RecordingError('this line is no JSON', line);
    }
    if (!isObject(value)) throw new RecordingError('a recorded response is an object', line);
    yield recordedOf(value, named, line);
  }
}
