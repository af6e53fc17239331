import { findNodeAtLocation, parseTree, type Node } from 'jsonc-parser';
import { isObject } from '../../core/reading.js';

type Keys = readonly (string | number)[];

const OPTIONS = { allowTrailingComma: true };

let last: { readonly text: string; readonly root: Node | undefined } = {
  text: '',
  root: undefined,
};

/**
 * The tree of a text, as far as it can be read; an edit, and an editor, ask the same text for
 * several places.
 */
export function treeOf(text: string): Node | undefined {
  if (last.text !== text) last = { text, root: parseTree(text, [], OPTIONS) };
  return last.root;
}

function nodeAt(text: string, keys: Keys): Node | undefined {
  const root = treeOf(text);
  return root && findNodeAtLocation(root, [...keys]);
}

export const endOf = ({ offset, length }: Node): number => offset + length;

const eolOf = (text: string): string => (text.includes('\r\n') ? '\r\n' : '\n');

/** One level of indentation, as the file has it. */
const unitOf = (text: string): string => /^([ \t]+)\S/m.exec(text)?.[1] ?? '  ';

/** The blanks that the line of an offset begins with. */
function indentAt(text: string, offset: number): string {
  const start = text.lastIndexOf('\n', offset - 1) + 1;
  return /^[ \t]*/.exec(text.slice(start, offset))?.[0] ?? '';
}

/** A value on one line, with blanks inside of braces. */
export function onOneLine(value: unknown): string {
  if (!isObject(value)) return JSON.stringify(value);
  const members = Object.entries(value).map(
    ([name, one]) => `${JSON.stringify(name)}: ${onOneLine(one)}`,
  );
  return members.length === 0 ? '{}' : `{ ${members.join(', ')} }`;
}

/** Values that are short and flat are read best on one line. */
const SHORT = 90;

const isShort = (value: unknown): boolean =>
  isObject(value) &&
  !Object.values(value).some((one) => typeof one === 'object') &&
  onOneLine(value).length <= SHORT;

function onLines(value: unknown, text: string, indent: string): string {
  if (isShort(value)) return onOneLine(value);
  return JSON.stringify(value, undefined, unitOf(text)).replaceAll('\n', eolOf(text) + indent);
}

/** Where blanks and comments after an offset end. */
function skipTrivia(text: string, from: number): number {
  let at = from;
  for (;;) {
    while (/\s/.test(text.charAt(at))) at++;
    if (text.startsWith('//', at)) {
      const end = text.indexOf('\n', at);
      at = end < 0 ? text.length : end;
    } else if (text.startsWith('/*', at)) {
      const end = text.indexOf('*/', at);
      at = end < 0 ? text.length : end + 2;
    } else return at;
  }
}

const commaAfter = (text: string, offset: number): number | undefined => {
  const at = skipTrivia(text, offset);
  return text[at] === ',' ? at : undefined;
};

const splice = (text: string, from: number, to: number, by: string): string =>
  text.slice(0, from) + by + text.slice(to);

/** Whether the members of an object stand on lines of their own. */
function isOnLines(text: string, object: Node): boolean {
  const first = object.children?.[0];
  return first !== undefined && /\n/.test(text.slice(object.offset, first.offset));
}

/** A part of a text with what comes in its place. */
export interface Change {
  readonly from: number;
  readonly to: number;
  readonly by: string;
}

/** New members behind one that an object has, laid out as its neighbours are. */
export function appended(
  text: string,
  object: Node,
  last: Node,
  members: readonly (readonly [string, unknown])[],
): Change {
  const comma = commaAfter(text, endOf(last));
  const from = comma === undefined ? endOf(last) : comma + 1;
  if (!isOnLines(text, object)) {
    const written = members
      .map(([name, value]) => `${JSON.stringify(name)}: ${onOneLine(value)}`)
      .join(', ');
    return { from, to: from, by: comma === undefined ? `, ${written}` : ` ${written},` };
  }
  const indent = indentAt(text, last.offset);
  const lastValue = last.children?.[1];
  const likeLast =
    lastValue?.type === 'object' && !text.slice(lastValue.offset, endOf(lastValue)).includes('\n');
  const lines = members.map(
    ([name, value]) =>
      `${eolOf(text)}${indent}${JSON.stringify(name)}: ${likeLast ? onOneLine(value) : onLines(value, text, indent)}`,
  );
  // A remark behind the last member stays on its line.
  const end = text.indexOf('\n', from);
  const line = text.slice(from, end < 0 ? text.length : end);
  const rest = /^[^\S\n]*(?:\/\/[^\r\n]*|\/\*[^\r\n]*?\*\/)?/.exec(line)?.[0].trimEnd() ?? '';
  if (comma !== undefined)
    return { from: from + rest.length, to: from + rest.length, by: `${lines.join(',')},` };
  return { from, to: from + rest.length, by: `,${rest}${lines.join(',')}` };
}

/**
 * The member behind which a new one comes: the last, but in an object that is kept in order the one
 * before it there. Two people who add something rarely mean one place then, and git can join what
 * they wrote.
 */
export function neighbour(text: string, object: Node, name: string): Node | undefined {
  const members = object.children ?? [];
  const nameOf = (member: Node): string => String(member.children?.[0]?.value);
  const isKept = (member: Node, at: number): boolean =>
    at === 0 || nameOf(members[at - 1] ?? member) < nameOf(member);
  const isSection = object.parent !== undefined;
  if (!isSection || members.length < 2 || !isOnLines(text, object) || !members.every(isKept))
    return members.at(-1);
  // What would come first stays behind the first, whose line may have a remark above it.
  return members.findLast((member) => nameOf(member) < name) ?? members[0];
}

/** Puts a member into an object, laid out as its neighbours are. */
function addMember(text: string, object: Node, name: string, value: unknown): string {
  const last = neighbour(text, object, name);
  if (!last) {
    const outer = indentAt(text, object.offset);
    // An empty object inside of a line stays inside of it, unless it is the whole file.
    const inLine =
      object.parent !== undefined &&
      object.parent.parent !== undefined &&
      !isOnLines(text, object.parent.parent);
    if (inLine) return splice(text, object.offset, endOf(object), onOneLine({ [name]: value }));
    const inner = `${eolOf(text)}${outer}${unitOf(text)}`;
    const member = `${JSON.stringify(name)}: ${onLines(value, text, outer + unitOf(text))}`;
    return splice(text, object.offset, endOf(object), `{${inner}${member}${eolOf(text)}${outer}}`);
  }
  const { from, to, by } = appended(text, object, last, [[name, value]]);
  return splice(text, from, to, by);
}

/** Begins an empty object as a member of the outermost one. */
export const addSection = (text: string, parent: Node, name: string): string =>
  addMember(text, parent, name, {});

/**
 * Sets a value in the text of a JSON file; objects on the way are made. All else stays to the
 * letter: comments, order, indentation, line ends.
 */
export function setIn(text: string, keys: Keys, value: unknown): string {
  const there = nodeAt(text, keys);
  if (there) {
    const inLine = isObject(value) && there.type !== 'object';
    const written =
      inLine || !isObject(value)
        ? onOneLine(value)
        : onLines(value, text, indentAt(text, there.offset));
    return splice(text, there.offset, endOf(there), written);
  }
  let depth = keys.length - 1;
  let parent = nodeAt(text, keys.slice(0, depth));
  while (depth > 0 && parent?.type !== 'object') parent = nodeAt(text, keys.slice(0, --depth));
  if (parent?.type !== 'object') return text;
  const name = String(keys[depth]);
  // A section that is begun stands on lines of its own, and is filled then.
  if (depth === 0 && keys.length > 1) return setIn(addSection(text, parent, name), keys, value);
  const made = keys
    .slice(depth + 1)
    .reduceRight<unknown>((inner, key) => ({ [key]: inner }), value);
  return addMember(text, parent, name, made);
}

/** Takes a member out, and its line with it where it has one for itself. */
function removeMember(text: string, member: Node): string {
  const siblings = member.parent?.children ?? [];
  const before = siblings[siblings.indexOf(member) - 1];
  const own = commaAfter(text, endOf(member));
  let to = own === undefined ? endOf(member) : own + 1;
  let from = member.offset;
  const lineStart = text.lastIndexOf('\n', from - 1) + 1;
  const restOfLine = /^[^\S\n]*(?:\n|$)/.exec(text.slice(to))?.[0];
  if (text.slice(lineStart, from).trim() === '' && restOfLine !== undefined) {
    from = lineStart;
    to += restOfLine.length;
  } else if (own !== undefined) to += /^[^\S\n]*/.exec(text.slice(to))?.[0].length ?? 0;
  else if (before) while (/[^\S\n]/.test(text.charAt(from - 1))) from--;
  let result = splice(text, from, to, '');
  const comma = own === undefined && before ? commaAfter(result, endOf(before)) : undefined;
  if (comma !== undefined && comma < from) result = splice(result, comma, comma + 1, '');
  return result;
}

const holdsComment = (text: string, node: Node): boolean =>
  skipTrivia(text, node.offset + 1) !== endOf(node) - 1 ||
  /\/[/*]/.test(text.slice(node.offset, endOf(node)));

/**
 * Takes a member out; an object that it leaves empty goes too, up to `keep` levels from the root.
 */
export function removeIn(text: string, keys: Keys, keep = 1): string {
  const node = nodeAt(text, keys);
  if (!node?.parent) return text;
  let result = removeMember(text, node.parent);
  for (let length = keys.length - 1; length > keep; length--) {
    const left = nodeAt(result, keys.slice(0, length));
    if (
      left?.type !== 'object' ||
      !left.parent ||
      (left.children?.length ?? 0) > 0 ||
      holdsComment(result, left)
    )
      break;
    result = removeMember(result, left.parent);
  }
  // An object whose last member went is written as an empty one.
  const emptied = nodeAt(result, keys.slice(0, keep));
  if (
    emptied?.type === 'object' &&
    emptied.children?.length === 0 &&
    !holdsComment(result, emptied)
  )
    result = splice(result, emptied.offset, endOf(emptied), '{}');
  return result;
}

/** The value at a place of a JSON text, and of what type it is. */
export function valueIn(
  text: string,
  keys: Keys,
): { readonly type: Node['type']; readonly value: unknown } | undefined {
  const node = nodeAt(text, keys);
  return node && { type: node.type, value: node.value as unknown };
}

/** The names of the members of an object in a JSON text, in order. */
export function namesIn(text: string, keys: Keys): string[] {
  const node = nodeAt(text, keys);
  return node?.type === 'object'
    ? (node.children ?? []).map((property) => String(property.children?.[0]?.value))
    : [];
}

/** Gives a member another name, where it stands. */
export function renameIn(text: string, keys: Keys, name: string): string {
  const key = nodeAt(text, keys)?.parent?.children?.[0];
  return key ? splice(text, key.offset, endOf(key), JSON.stringify(name)) : text;
}

/** The text of a member's value as it stands in the file, comments inside of it too. */
export function rawIn(text: string, keys: Keys): string | undefined {
  const node = nodeAt(text, keys);
  return node && text.slice(node.offset, endOf(node));
}

/** The members of one name; most objects have one such, and a parser keeps the last alone. */
const membersNamed = (text: string, keys: Keys): readonly Node[] =>
  nodeAt(text, keys.slice(0, -1))?.children?.filter(
    ({ children }) => children?.[0]?.value === keys.at(-1),
  ) ?? [];

/** Returns the raw values of all members of one name. */
export const rawsAt = (text: string, keys: Keys): string[] =>
  membersNamed(text, keys).flatMap(({ children: [, value] = [] }) =>
    value ? [text.slice(value.offset, endOf(value))] : [],
  );

/** Takes the later of two members of one name out, by the place among its equals. */
export function removeNth(text: string, keys: Keys, nth: number): string {
  const member = membersNamed(text, keys)[nth];
  return member ? removeMember(text, member) : text;
}

/** Sets a member to a value as it is written elsewhere, comments inside of it too. */
export function setRawIn(text: string, keys: Keys, raw: string): string {
  const mark = '\u{F0000}moved\u{F0000}';
  return setIn(text, keys, mark).replace(JSON.stringify(mark), () => raw);
}

/**
 * Puts the members of an object in another order, each with its text as it stands; members that
 * `order` does not name follow in the order they had. Where comments stand between members, nothing
 * is moved, since nobody knows whose they are.
 */
export function reorderIn(text: string, keys: Keys, order: readonly string[]): string {
  const object = nodeAt(text, keys);
  const members = object?.type === 'object' ? (object.children ?? []) : [];
  const nameOf = (member: Node): string => String(member.children?.[0]?.value);
  const commented = members.some((member, at) => {
    const next = members[at + 1];
    return next && /\/[/*]/.test(text.slice(endOf(member), next.offset));
  });
  if (commented) return text;
  const rank = (member: Node): number => {
    const at = order.indexOf(nameOf(member));
    return at < 0 ? order.length : at;
  };
  const sorted = members
    .map((member, at) => ({ member, at }))
    .sort((one, other) => rank(one.member) - rank(other.member) || one.at - other.at);
  let result = text;
  for (let at = members.length - 1; at >= 0; at--) {
    const slot = members[at];
    const moved = sorted[at]?.member;
    if (slot && moved && slot !== moved)
      result = splice(result, slot.offset, endOf(slot), text.slice(moved.offset, endOf(moved)));
  }
  return result;
}
