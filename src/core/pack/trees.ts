import type { DateStyle } from '../message/date-style.js';
import { STANDARD, type NumberStyle } from '../message/number-options.js';
import type { Case, Message, MessageNode } from '../message/tree.js';

/** How the style of a number begins that is a skeleton: a plural counts by the others. */
const SKELETON = '::';

/** A case: its selector, its message, and the number of an `=N`. */
type PackCase = readonly [selector: string, message: PackTree, exactly?: number];

/**
 * A parsed message as JSON: a text; `{ a }` an argument; `{ a, number }` (0 for the usual way), `{
 * a, date }`, `{ a, time }` with what `Intl` is asked for; `{ a, plural, offset }`, `{ a,
 * selectordinal, offset }`, `{ a, select }` with cases; 0 for `#`.
 */
export type PackTree = readonly PackNode[];
type PackNode = string | 0 | Readonly<Record<string, unknown>>;

const caseOf = ({ selector, exactly, message }: Case): PackCase =>
  exactly === undefined ? [selector, packTree(message)] : [selector, packTree(message), exactly];

function nodeOf(node: MessageNode): PackNode {
  switch (node.kind) {
    case 'text':
      return node.text;
    case 'hash':
      return 0;
    case 'argument':
      return { a: node.name };
    case 'number':
      return {
        a: node.name,
        number: node.style === STANDARD ? 0 : node.style,
        ...(node.styleText?.startsWith(SKELETON) ? { skeleton: true } : {}),
      };
    case 'date':
    case 'time':
      return { a: node.name, [node.kind]: node.style };
    case 'select':
      return { a: node.name, select: node.cases.map(caseOf) };
    default:
      return {
        a: node.name,
        [node.kind]: node.cases.map(caseOf),
        ...(node.offset === 0 ? {} : { offset: node.offset }),
      };
  }
}

/** A parsed message without the places of its parts. */
export const packTree = (message: Message): PackTree => message.map(nodeOf);

const NOWHERE = { start: 0, end: 0 };
const DATED = ['date', 'time'] as const;
const CHOOSING = ['plural', 'selectordinal', 'select'] as const;

const fromCase = ([selector, message, exactly]: PackCase): Case => ({
  selector,
  message: unpackTree(message),
  start: 0,
  ...(exactly === undefined ? {} : { exactly }),
});

function fromNode(node: PackNode): MessageNode {
  if (typeof node === 'string') return { kind: 'text', text: node, ...NOWHERE };
  if (node === 0) return { kind: 'hash', ...NOWHERE };
  const name = String(node.a);
  if ('number' in node) {
    const style = node.number === 0 ? STANDARD : (node.number as NumberStyle);
    return {
      kind: 'number',
      name,
      style,
      ...(node.skeleton ? { styleText: SKELETON } : {}),
      ...NOWHERE,
    };
  }
  for (const kind of DATED)
    if (kind in node) return { kind, name, style: node[kind] as DateStyle, ...NOWHERE };
  for (const kind of CHOOSING)
    if (kind in node)
      return {
        kind,
        name,
        offset: Number(node.offset ?? 0),
        cases: (node[kind] as PackCase[]).map(fromCase),
        ...NOWHERE,
      };
  return { kind: 'argument', name, ...NOWHERE };
}

/** The message that a tree of a pack is; its parts stand nowhere. */
export const unpackTree = (tree: PackTree): Message => tree.map(fromNode);
