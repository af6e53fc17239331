import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream';
import { parser } from 'stream-json';
import { pick } from 'stream-json/filters/Pick.js';
import { streamArray } from 'stream-json/streamers/StreamArray.js';
import { isObject, type Loose } from '../../core/reading.js';
import type { Recorded } from '../../core/audit/recording.js';

/** A header of HAR 1.2, whose names come in any case. */
function headerOf(headers: Loose, name: string): string | undefined {
  if (!Array.isArray(headers)) return undefined;
  const found = headers
    .filter(isObject)
    .find((one) => typeof one.name === 'string' && one.name.toLowerCase() === name);
  return typeof found?.value === 'string' ? found.value : undefined;
}

function textOf(content: Loose): string {
  if (!isObject(content) || typeof content.text !== 'string') return '';
  return content.encoding === 'base64'
    ? Buffer.from(content.text, 'base64').toString('utf8')
    : content.text;
}

/** The path and query of an absolute or relative URL. */
export function targetOf(url: string): {
  readonly path: string;
  readonly query: string | undefined;
} {
  // Mostly it begins with the path.
  const local = url.startsWith('/') ? url : url.replace(/^[a-z][a-z0-9+.-]*:\/\/[^/?#]*/i, '');
  const end = local.indexOf('#');
  const whole = end < 0 ? local : local.slice(0, end);
  const at = whole.indexOf('?');
  const path = at < 0 ? whole : whole.slice(0, at);
  return { path: path === '' ? '/' : path, query: at < 0 ? undefined : whole.slice(at + 1) };
}

function recordedOf(entry: Loose, file: string, at: number): Recorded | undefined {
  if (!isObject(entry) || !isObject(entry.response) || !isObject(entry.request)) return undefined;
  const { request, response } = entry;
  const { path, query } = targetOf(typeof request.url === 'string' ? request.url : '/');
  const sent =
    isObject(request.postData) && typeof request.postData.text === 'string'
      ? request.postData.text
      : undefined;
  const content = isObject(response.content) ? response.content : {};
  const type =
    headerOf(response.headers, 'content-type') ??
    (typeof content.mimeType === 'string' ? content.mimeType : undefined);
  return {
    location: { file, entry: at },
    endpoint: `${typeof request.method === 'string' ? request.method : 'GET'} ${path}`,
    query,
    sent: sent === undefined ? undefined : { text: sent },
    status: typeof response.status === 'number' ? response.status : undefined,
    mediaType: type,
    language: headerOf(response.headers, 'content-language'),
    body: { text: textOf(content) },
  };
}

/**
 * Reads the responses of a HAR 1.2 file, one entry in memory at a time.
 * @throws what the file system or the JSON parser says
 */
export async function* readHar(file: string, named: string): AsyncGenerator<Recorded> {
  const entries = pipeline(
    [
      createReadStream(file),
      parser({ streamValues: false }),
      pick({ filter: 'log.entries' }),
      streamArray(),
    ] as unknown as NodeJS.ReadWriteStream[],
    () => undefined,
  ) as unknown as AsyncIterable<{ key: number; value: unknown }>;
  for await (const { key, value } of entries) {
    const recorded = recordedOf(value, named, key + 1);
    if (recorded) yield recorded;
  }
}
