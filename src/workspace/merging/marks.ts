import { findNodeAtLocation, type Node } from 'jsonc-parser';
import { endOf, rawIn, treeOf, type Change } from '../documents/json-text.js';
import { setRaws } from '../editing/many-texts.js';

/** A change of both sides. */
export interface Conflict {
  /** Where it is in our text; where it is not, it was taken out on our side. */
  readonly keys: readonly string[];
  /** The other side's member, as it is written; absent where that side removed it. */
  readonly theirs: string | undefined;
}

const member = (text: string, keys: readonly string[]): Node | undefined => {
  const root = treeOf(text);
  return root && findNodeAtLocation(root, [...keys])?.parent;
};

/**
 * Returns the replacement of a member that people must decide: both sides' members, on lines of
 * their own between git's marks.
 */
function changeFor(
  text: string,
  node: Node,
  { keys, theirs }: Conflict,
  isGone: boolean,
  marker: number,
): Change {
  const eol = text.includes('\r\n') ? '\r\n' : '\n';
  const lineStart = text.lastIndexOf('\n', node.offset - 1) + 1;
  const indent = text.slice(lineStart, node.offset);
  const isOnLine = indent.trim() === '';
  const [, comma = '', rest = ''] = /^(\s*,)?([^\S\n]*\r?\n)?/.exec(text.slice(endOf(node))) ?? [];
  const own = isGone ? undefined : text.slice(node.offset, endOf(node));
  const other = theirs === undefined ? undefined : `${JSON.stringify(keys.at(-1))}: ${theirs}`;
  const side = (raw: string | undefined): string =>
    raw === undefined ? '' : `${isOnLine ? indent : ''}${raw}${comma.trim()}${eol}`;
  const sign = (mark: string): string => mark.repeat(marker);
  return {
    from: isOnLine ? lineStart : node.offset,
    to: endOf(node) + comma.length + rest.length,
    by: [
      isOnLine ? '' : eol,
      `${sign('<')} ours${eol}`,
      side(own),
      `${sign('=')}${eol}`,
      side(other),
      `${sign('>')} theirs${eol}`,
    ].join(''),
  };
}

/**
 * Marks conflicts in a text.
 * @param marker how many signs a mark has
 */
export function markConflicts(
  text: string,
  conflicts: readonly Conflict[],
  marker: number,
): string {
  const gone = new Set(conflicts.filter(({ keys }) => rawIn(text, keys) === undefined));
  // What our side took out is put in first, so that it has its place.
  const placed = setRaws(
    text,
    [...gone].flatMap(({ keys, theirs }) => (theirs === undefined ? [] : [{ keys, raw: theirs }])),
  );
  return conflicts
    .flatMap((conflict) => {
      const node = member(placed, conflict.keys);
      return node ? [changeFor(placed, node, conflict, gone.has(conflict), marker)] : [];
    })
    .sort((one, other) => other.from - one.from)
    .reduce((now, { from, to, by }) => now.slice(0, from) + by + now.slice(to), placed);
}
