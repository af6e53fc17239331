import { getOrMake } from '../../core/base/get-or-make.js';
import { findNodeAtLocation, type Node } from 'jsonc-parser';
import { isObject } from '../../core/reading.js';
import {
  addSection,
  appended,
  endOf,
  neighbour,
  onOneLine,
  setIn,
  treeOf,
  type Change,
} from '../documents/json-text.js';

/** A text to be set, by the keys that lead to it. */
export interface TextToSet {
  readonly keys: readonly string[];
  /**
   * Of what goes with another text: how many of the keys lead to that, which may be a text alone.
   */
  readonly inside?: number | undefined;
  readonly text: string;
  readonly note?: string | undefined;
  readonly room?: number | undefined;
}

interface Op {
  readonly keys: readonly string[];
  readonly value: unknown;
}

const idOf = (keys: readonly string[]): string => JSON.stringify(keys);

/**
 * Returns the operations that set a text and keep the details beside it; nothing where another text
 * must be written first.
 */
function opsFor(root: Node, item: TextToSet, claimed: Set<string>): Op[] | undefined {
  const { keys, inside, text, note, room } = item;
  const parent = inside === undefined ? undefined : keys.slice(0, inside);
  if (claimed.has(idOf(keys)) || (parent && claimed.has(idOf(parent)))) return undefined;
  claimed.add(idOf(keys));
  if (parent) claimed.add(idOf(parent));
  const bare = parent && findNodeAtLocation(root, [...parent]);
  // It makes an object of what was a text alone.
  if (bare?.type === 'string')
    return [
      { keys: parent ?? [], value: { text: bare.value as unknown, [keys.at(-1) ?? '']: text } },
    ];
  const details = {
    ...(note === undefined ? {} : { note }),
    ...(room === undefined ? {} : { room }),
  };
  if (findNodeAtLocation(root, [...keys])?.type === 'object')
    return Object.entries({ text, ...details }).map(([name, value]) => ({
      keys: [...keys, name],
      value,
    }));
  return [{ keys, value: Object.keys(details).length === 0 ? text : { text, ...details } }];
}

/** Without a prototype, so that any name is a member. */
const newMembers = (): Record<string, unknown> => Object.create(null) as Record<string, unknown>;

/** Puts a value into nested objects, where it is not there yet. */
function graft(into: Record<string, unknown>, keys: readonly string[], value: unknown): void {
  const [name = '', ...rest] = keys;
  if (rest.length === 0) into[name] = value;
  else {
    const inner = isObject(into[name]) ? (into[name] as Record<string, unknown>) : newMembers();
    into[name] = inner;
    graft(inner, rest, value);
  }
}

/** The deepest object that is there on the way to a place, and how many of the keys lead to it. */
function standingOn(root: Node, keys: readonly string[]): { object: Node; depth: number } {
  let depth = keys.length - 1;
  for (; depth > 0; depth--) {
    const node = findNodeAtLocation(root, keys.slice(0, depth));
    if (node?.type === 'object') return { object: node, depth };
  }
  return { object: root, depth };
}

function applied(text: string, changes: readonly Change[]): string {
  const parts: string[] = [];
  let at = 0;
  for (const { from, to, by } of [...changes].sort((one, other) => one.from - other.from)) {
    parts.push(text.slice(at, from), by);
    at = to;
  }
  return parts.join('') + text.slice(at);
}

/** Sets what can be set at once; what is left hangs on it, or is written one by one. */
function round(text: string, ops: readonly Op[]): { text: string; left: Op[] } {
  const root = treeOf(text);
  if (!root) return { text, left: [] };
  const changes: Change[] = [];
  const left: Op[] = [];
  const missing = new Map<Node, Record<string, unknown>>();
  for (const op of ops) {
    const there = findNodeAtLocation(root, [...op.keys]);
    if (there) {
      changes.push({ from: there.offset, to: endOf(there), by: onOneLine(op.value) });
      continue;
    }
    const { object, depth } = standingOn(root, op.keys);
    // An empty object is opened by the first of its members.
    if (!object.children?.length) {
      left.push(op);
      continue;
    }
    const members = getOrMake(missing, object, newMembers);
    graft(members, op.keys.slice(depth), op.value);
  }
  for (const [object, members] of missing) {
    const behind = new Map<Node, [string, unknown][]>();
    for (const entry of Object.entries(members)) {
      const before = neighbour(text, object, entry[0]);
      if (!before) continue;
      getOrMake(behind, before, () => []).push(entry);
    }
    for (const [before, entries] of behind) changes.push(appended(text, object, before, entries));
  }
  return { text: applied(text, changes), left };
}

/** A value as it is written elsewhere, comments inside of it too, for a place. */
export interface RawOp {
  readonly keys: readonly string[];
  readonly raw: string;
}

/** Sets values as they are written elsewhere, at places that do not hold one another. */
export function setRaws(text: string, ops: readonly RawOp[]): string {
  const mark = '\u{F0000}';
  const set = setAll(
    text,
    ops.map(({ keys }, at) => ({ keys, value: `${mark}${at}${mark}` })),
  );
  return set.replace(/"\u{F0000}(\d+)\u{F0000}"/gu, (all, at) => ops[Number(at)]?.raw ?? all);
}

/** Sets values at places that do not hold one another. */
function setAll(text: string, ops: readonly Op[]): string {
  let result = text;
  const sections = new Set(
    ops.flatMap(({ keys }) => (keys.length > 1 && keys[0] !== undefined ? [keys[0]] : [])),
  );
  for (const name of sections) {
    const root = treeOf(result);
    if (root?.type === 'object' && !findNodeAtLocation(root, [name]))
      result = addSection(result, root, name);
  }
  let open = [...ops];
  while (open.length > 0) {
    const { text: next, left } = round(result, open);
    result = next;
    if (left.length === 0) return result;
    const [first, ...rest] = left;
    if (first) result = setIn(result, first.keys, first.value);
    open = rest;
  }
  return result;
}

/**
 * Sets many texts in the file of a catalog, in time that grows with their number and the file's
 * size, not with both times each other. All else stays to the letter, as with `setIn`.
 */
export function setTexts(file: string, items: readonly TextToSet[]): string {
  let text = file;
  let open = [...items];
  while (open.length > 0) {
    const root = treeOf(text);
    if (!root) return text;
    const claimed = new Set<string>();
    const later: TextToSet[] = [];
    const ops: Op[] = [];
    for (const item of open) {
      const wanted = opsFor(root, item, claimed);
      if (wanted) ops.push(...wanted);
      else later.push(item);
    }
    text = setAll(text, ops);
    open = later;
  }
  return text;
}
