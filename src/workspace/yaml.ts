import { isMap, isNode, isPair, isScalar, parseDocument, type Document } from 'yaml';
import type { Spot } from '../core/origin.js';
import { complaint } from './complaint.js';
import { positionAt } from './position.js';

/**
 * Reads YAML 1.2. Aliases are resolved up to the parser's bound, so that no document can grow without end.
 * @throws {Complaint} with line and column
 */
export function parseYaml(text: string, file: string): unknown {
  const document = parseDocument(text, { prettyErrors: false });
  const [first] = document.errors;
  if (first) {
    const problem = first.message.replace(/\.$/, '').replace(/^[A-Z]/, (letter) => letter.toLowerCase());
    throw complaint('broken-yaml', [`${problem}; correct this line`], { file, ...positionAt(text, first.pos[0]) });
  }
  try {
    return document.toJS() as unknown;
  } catch (error) {
    throw complaint('broken-yaml', [error instanceof Error ? error.message : String(error)], { file, line: 1, column: 1 });
  }
}

function locateKey(document: Document, keys: Spot['keys']): number | undefined {
  const parent: unknown = document.getIn(keys.slice(0, -1), true);
  const map = keys.length === 1 ? document.contents : parent;
  if (!isMap(map)) return undefined;
  const pair = map.items.find((item) => isPair(item) && isScalar(item.key) && String(item.key.value) === String(keys.at(-1)));
  return pair && isScalar(pair.key) ? pair.key.range?.[0] : undefined;
}

/** Finds offsets of spots in the text of a YAML file; of what is not there, that of the nearest thing around it. */
export function yamlLocator(text: string): (spot: Spot) => number {
  const document = parseDocument(text, { prettyErrors: false });
  return (spot) => locate(document, spot);
}

function locate(document: Document, spot: Spot): number {
  for (let length = spot.keys.length; length > 0; length--) {
    const keys = spot.keys.slice(0, length);
    const at = spot.at === 'key' ? locateKey(document, keys) : undefined;
    if (at !== undefined) return at;
    const node: unknown = document.getIn(keys, true);
    if (isNode(node) && node.range) return node.range[0];
  }
  return 0;
}
