import { isJsonMedia } from '../../core/base/json-media.js';
import type { FormPart } from '../../core/rules/parameters.js';

/**
 * Reads what an HTML form sent, in order.
 * @param media the header `Content-Type`
 * @returns nothing where the body is not what the header says
 */
export async function formParts(
  body: Uint8Array,
  media: string,
): Promise<readonly (readonly [string, FormPart])[] | undefined> {
  let data: FormData;
  try {
    const bytes = body as Uint8Array<ArrayBuffer>;
    data = await new Response(bytes, { headers: { 'content-type': media } }).formData();
  } catch {
    return undefined;
  }
  return Promise.all(
    [...data].map(async ([name, value]): Promise<[string, FormPart]> => {
      if (typeof value === 'string') return [name, { text: value }];
      const { name: file, type, size } = value;
      // Programs send JSON beside files as a file, since nothing else has a media type.
      const text = isJsonMedia(type) ? await value.text() : undefined;
      return [name, { upload: { name: file, type, size }, text }];
    }),
  );
}
