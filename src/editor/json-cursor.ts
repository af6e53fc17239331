import { getLocation, parseTree, findNodeAtLocation, type Node } from 'jsonc-parser';
import { afterString } from '../workspace/documents/json-places.js';
import { unescaped } from './string-literal.js';
import type { KeyCursor } from './yaml-cursor.js';

const OPTIONS = { allowTrailingComma: true };

let last: { readonly text: string; readonly root: Node | undefined } = {
  text: '',
  root: undefined,
};

/** The tree of a text, as far as it can be read; several requests ask for the same. */
function treeOf(text: string): Node | undefined {
  if (last.text !== text) last = { text, root: parseTree(text, [], OPTIONS) };
  return last.root;
}

function membersAt(text: string, keys: readonly (string | number)[]): string[] {
  const root = treeOf(text);
  const object = root && findNodeAtLocation(root, [...keys]);
  return (object?.type === 'object' ? (object.children ?? []) : []).flatMap(({ children }) => {
    const name: unknown = children?.[0]?.value;
    return typeof name === 'string' ? [name] : [];
  });
}

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
    there: isAtPropertyKey ? membersAt(text, keys).filter((name) => name !== current) : [],
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
