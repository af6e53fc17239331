import { getLocation } from 'jsonc-parser';
import { afterString, unescaped } from '../workspace/documents/json-literal.js';
import { namesIn } from '../workspace/documents/json-text.js';
import type { KeyCursor } from './yaml-cursor.js';

/** Finds the key or value at a place of a JSON file, also where the file is half-typed. */
export function jsonCursor(text: string, offset: number): KeyCursor {
  const { path, isAtPropertyKey, previousNode: node } = getLocation(text, offset);
  const isText =
    node !== undefined &&
    text[node.offset] === '"' &&
    node.offset < offset &&
    offset <= node.offset + node.length;
  const isWord =
    node !== undefined && !isText && node.offset <= offset && offset <= node.offset + node.length;
  const from = isText || isWord ? node.offset : offset;
  const to = isText ? afterString(text, from) : isWord ? from + node.length : offset;
  const before = text.slice(from, offset);
  // Names may be written with escapes; what is typed is what they stand for.
  const typed = isText ? unescaped(`${before}"`).text : before;
  const keys = isAtPropertyKey ? path.slice(0, -1) : path;
  const current =
    isText && isAtPropertyKey && typeof node.value === 'string' ? node.value : undefined;
  return {
    keys,
    at: isAtPropertyKey ? 'key' : 'value',
    typed,
    extent: { from, to },
    there: isAtPropertyKey ? namesIn(text, keys).filter((name) => name !== current) : [],
    isQuoted: isText,
    hasValue: isAtPropertyKey && /^\s*:/.test(text.slice(to, to + 100)),
  };
}

/** The name of the member at an offset; nothing where none stands there. */
export function jsonKeyAt(text: string, offset: number): string | undefined {
  const { isAtPropertyKey, previousNode: node } = getLocation(text, offset);
  const isHere =
    isAtPropertyKey && node && node.offset <= offset && offset <= node.offset + node.length;
  return isHere && typeof node.value === 'string' ? node.value : undefined;
}
