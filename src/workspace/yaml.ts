import { isMap, isNode, isPair, isScalar, parseDocument, type Document } from 'yaml';
import type { Spot } from '../core/origin.js';
import { complaint, type FilePlace } from './complaint.js';
import { refuseConflicts } from './conflict.js';
import { positionAt } from './position.js';

/** Nothing that somebody wrote is nested deeper, and no reader has to be ready for it. */
const DEEPEST = 200;
const TOO_DEEP = `this is nested deeper than ${DEEPEST} levels; write it flatter`;
/** Aliases can make a small text stand for a large one. */
const MOST_NODES = 2_000_000;

/** Says where a value holds itself, or is too deep or large; nothing where it is a tree as JSON has them. */
function notATree(root: unknown): string | undefined {
  const around = new Set<object>();
  let nodes = 0;
  const look = (value: unknown, depth: number): string | undefined => {
    if (typeof value !== 'object' || value === null) return undefined;
    if (around.has(value)) return 'this refers to itself with an alias; write it out';
    if (depth > DEEPEST) return TOO_DEEP;
    if ((nodes += 1) > MOST_NODES) return 'its aliases make too much of it; write less';
    around.add(value);
    for (const member of Object.values(value)) {
      const found = look(member, depth + 1);
      if (found !== undefined) return found;
    }
    around.delete(value);
    return undefined;
  };
  return look(root, 0);
}

/** How deep a text can be nested at the most, told by its brackets and indentation, before the parser descends. */
function mayOverflow(text: string): boolean {
  let open = 0;
  let deepest = 0;
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at);
    if (unit === 0x5b || unit === 0x7b) deepest = Math.max(deepest, (open += 1));
    else if (unit === 0x5d || unit === 0x7d) open = Math.max(0, open - 1);
  }
  return deepest > 5 * DEEPEST || /^[ \t]*(?:[-?:][ \t]+){200}/m.test(text) || /^ {2000}/m.test(text);
}

function parsed(text: string, start: FilePlace): Document {
  try {
    return parseDocument(text, { prettyErrors: false, logLevel: 'error' });
  } catch (error) {
    // The parser descends by itself, as deep as the stack is.
    throw complaint('broken-yaml', [error instanceof RangeError ? TOO_DEEP : String(error)], start);
  }
}

/**
 * Reads YAML 1.2. Aliases are resolved up to the parser's bound, so that no document can grow without end.
 * @throws {Complaint} with line and column
 */
export function parseYaml(text: string, file: string): unknown {
  const start = { file, line: 1, column: 1 };
  if (mayOverflow(text)) throw complaint('broken-yaml', [TOO_DEEP], start);
  const document = parsed(text, start);
  const [first] = document.errors;
  if (first) refuseConflicts(text, file);
  if (first) {
    const problem = first.message
      .split('\n', 1)[0]
      ?.slice(0, 200)
      .replace(/\.$/, '')
      .replace(/^[A-Z]/, (letter) => letter.toLowerCase());
    throw complaint('broken-yaml', [`${problem ?? ''}; correct this line`], { file, ...positionAt(text, first.pos[0]) });
  }
  let value: unknown;
  try {
    value = document.toJS();
  } catch (error) {
    throw complaint('broken-yaml', [error instanceof Error ? error.message : String(error)], start);
  }
  const trouble = notATree(value);
  if (trouble === undefined) return value;
  const alias = /[&*][^\s,[\]{}]+/.exec(text);
  throw complaint('broken-yaml', [trouble], { file, ...positionAt(text, alias?.index ?? 0) });
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
  const document = parseDocument(text, { prettyErrors: false, logLevel: 'error' });
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
