import { isJsonMedia } from '../core/base/json-media.js';

/** A body that was refused: `problem` says as what. */
export class RefusedBody extends Error {
  override name = 'RefusedBody';
  constructor(readonly problem: string) {
    super(`the body was refused: ${problem}`);
  }
}

/** So many bytes are read of a body where nobody says: as many as most frameworks take. */
export const MOST_BYTES = 1024 * 1024;

/**
 * Reads a JSON body.
 * @param header the value of a header of the request, by its name in small letters
 * @param limit bytes
 * @throws {RefusedBody} where it is none, is empty, too large or coded
 */
export async function readJson(
  chunks: AsyncIterable<unknown>,
  header: (name: string) => string,
  limit: number,
): Promise<unknown> {
  const coding = header('content-encoding');
  if (coding !== '' && coding !== 'identity') throw new RefusedBody('wrong-encoding');
  if (Number(header('content-length')) > limit) throw new RefusedBody('too-large');
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let text = '';
  let size = 0;
  try {
    for await (const chunk of chunks) {
      const bytes =
        typeof chunk === 'string' ? new TextEncoder().encode(chunk) : (chunk as Uint8Array);
      size += bytes.byteLength;
      if (size > limit) throw new RefusedBody('too-large');
      text += decoder.decode(bytes, { stream: true });
    }
    text += decoder.decode();
  } catch (error) {
    throw error instanceof TypeError ? new RefusedBody('malformed-body') : error;
  }
  if (text.trim() === '') throw new RefusedBody('empty-body');
  if (!isJsonMedia(header('content-type'))) throw new RefusedBody('wrong-media-type');
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new RefusedBody('malformed-body');
  }
}
