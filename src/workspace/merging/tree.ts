import type { Node } from 'jsonc-parser';
import { duplicateKeys, parseJson } from '../documents/json.js';
import { positionAt } from '../documents/position.js';
import { jsonLocator } from '../documents/json-places.js';
import { complaint } from '../disk/complaint.js';
import { treeOf } from '../documents/json-text.js';

/** An object of a JSON file with its members in their order; a list as JSON writes it. */
export type Tree = TreeObject | string | number | boolean | null;
export type TreeObject = ReadonlyMap<string, Tree>;

export const isTreeObject = (tree: Tree | undefined): tree is TreeObject => tree instanceof Map;

function treeFrom(node: Node): Tree {
  if (node.type === 'object')
    return new Map(
      (node.children ?? []).flatMap(({ children: [name, value] = [] }) =>
        name && value ? [[String(name.value), treeFrom(value)] as const] : [],
      ),
    );
  if (node.type === 'array') return JSON.stringify((node.children ?? []).map(plain));
  return node.value as Tree;
}

const plain = (node: Node): unknown => plainOf(treeFrom(node));

/** Returns a tree as a JavaScript value. */
export const plainOf = (tree: Tree): unknown =>
  isTreeObject(tree)
    ? Object.fromEntries(Array.from(tree, ([name, value]) => [name, plainOf(value)]))
    : tree;

/**
 * Reads one side of a merge.
 * @param named what the side is called in sentences
 * @throws {Complaint} where it is not a JSON object, or has a name twice: a change could be of
 * either
 */
export function readSide(text: string, named: string): TreeObject {
  if (text.trim() === '') return new Map();
  parseJson(text, named, true);
  const [twice] = duplicateKeys(text);
  if (twice)
    throw complaint(
      'wrong-content',
      [`"${String(twice.keys.at(-1))}" is there twice; keep one of the two, then merge again`],
      {
        file: named,
        ...positionAt(
          text,
          jsonLocator(text)({ file: named, keys: twice.keys, at: 'key', nth: twice.nth }),
        ),
      },
    );
  const node = treeOf(text);
  const tree = node && treeFrom(node);
  if (!isTreeObject(tree))
    throw complaint('wrong-content', ['this is not a catalog: it holds no JSON object'], {
      file: named,
    });
  return tree;
}

/** Whether two hold the same, in whatever order. */
export function isSame(one: Tree | undefined, other: Tree | undefined): boolean {
  if (!isTreeObject(one) || !isTreeObject(other)) return one === other;
  return (
    one.size === other.size &&
    [...one].every(([name, value]) => other.has(name) && isSame(value, other.get(name)))
  );
}
