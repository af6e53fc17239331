import type { Path } from './path.js';

/** A text that is not a JSON Pointer. */
export class PointerSyntaxError extends Error {
  override name = 'PointerSyntaxError';
}

const SPECIAL = /[~/]/;
/** No payload that is read is nested deeper. */
const DEEPEST = 200;

/**
 * Writes a path as a JSON Pointer (RFC 6901 section 3: `~` is `~0`, `/` is `~1`). The whole body is
 * the empty text.
 */
export function toPointer(path: Path): string {
  let pointer = '';
  for (const segment of path) {
    const token = String(segment);
    pointer +=
      '/' + (SPECIAL.test(token) ? token.replaceAll('~', '~0').replaceAll('/', '~1') : token);
  }
  return pointer;
}

/** Matches texts that need no escapes in a fragment, as nearly all names. */
const PLAIN = /^[\w/~.-]*$/;

/** Writes a path as a pointer in a URI fragment (RFC 6901 section 6): `#/targets/2/name`. */
export function toFragment(path: Path): string {
  const pointer = toPointer(path);
  if (PLAIN.test(pointer)) return '#' + pointer;
  // RFC 3986 allows these in a fragment though encodeURIComponent escapes them; a lone surrogate
  // has no UTF-8 and becomes U+FFFD.
  const escaped = encodeURIComponent(pointer.toWellFormed());
  return '#' + escaped.replace(/%(?:2F|40|3A|24|26|2B|2C|3B|3D|3F)/g, decodeURIComponent);
}

/**
 * Parses a JSON Pointer, plain (`/targets/2`) or as a fragment (`#/targets/2`). A token of digits
 * counts as a place in an array; only the document distinguishes it from a member's name.
 * @throws {PointerSyntaxError}
 */
export function parsePointer(text: string): Path {
  let pointer = text;
  if (text.startsWith('#')) {
    try {
      pointer = decodeURIComponent(text.slice(1));
    } catch {
      throw new PointerSyntaxError(
        `"${text}" is not a JSON Pointer: its percent-encoding is broken`,
      );
    }
  }
  if (pointer === '') return [];
  if (!pointer.startsWith('/'))
    throw new PointerSyntaxError(`"${text}" is not a JSON Pointer: it starts with "/" or is empty`);
  const tokens = pointer.slice(1).split('/', DEEPEST + 1);
  if (tokens.length > DEEPEST)
    throw new PointerSyntaxError(
      `this is not a JSON Pointer that leads anywhere: it has more than ${DEEPEST} parts`,
    );
  return tokens.map((token) => {
    if (/~(?![01])/.test(token))
      throw new PointerSyntaxError(`"${text}" is not a JSON Pointer: "~" is followed by 0 or 1`);
    if (/^(?:0|[1-9]\d*)$/.test(token) && Number.isSafeInteger(Number(token))) return Number(token);
    return token.replaceAll('~1', '/').replaceAll('~0', '~');
  });
}
