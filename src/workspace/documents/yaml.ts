import {
  isMap,
  isNode,
  isScalar,
  isSeq,
  parseDocument,
  visit,
  type Document,
  type Pair,
  type YAMLError,
  type YAMLMap,
} from 'yaml';
import { keyed } from '../../core/base/keyed.js';
import type { Spot } from '../../core/origin.js';
import { complaint, type FileLocation } from '../disk/complaint.js';
import { refuseConflicts } from './conflict.js';
import { positionAt } from './position.js';
import { quickYaml } from './quick-yaml.js';

/** Our sentence for each error code of the parser. */
const TROUBLES: Readonly<Partial<Record<YAMLError['code'], string>>> = keyed({
  ALIAS_PROPS: 'an alias has no anchor and no tag of its own',
  BAD_ALIAS: 'an alias or an anchor has no name, or one that it may not have',
  BAD_COLLECTION_TYPE: 'the tag is not one of such a value',
  BAD_DIRECTIVE: 'there is no such directive',
  BAD_DQ_ESCAPE: 'this is not an escape in double quotes',
  BAD_INDENT: 'this stands too far left or right for what is around it',
  BAD_PROP_ORDER: 'anchors and tags stand before the sign of an entry',
  BAD_SCALAR_START: 'a text that begins with this sign needs quotes',
  BLOCK_AS_IMPLICIT_KEY:
    'a list or map cannot be the name of a member; put quotes around a text with ": "',
  BLOCK_IN_FLOW: 'lines with "-" or "?" cannot stand inside brackets',
  DUPLICATE_KEY: 'this name stands twice in one map',
  IMPOSSIBLE: 'this cannot be read',
  KEY_OVER_1024_CHARS: 'the name of a member has at most 1,024 characters',
  MISSING_CHAR: 'a quote, a bracket, a colon or a comma is missing',
  MULTILINE_IMPLICIT_KEY: 'the name of a member stands on one line',
  MULTIPLE_ANCHORS: 'a value has one anchor at most',
  MULTIPLE_DOCS: 'a file holds one document; take the line "---" or "..." out',
  TAB_AS_INDENT: 'lines are moved in with blanks, not with tabs',
  TAG_RESOLVE_FAILED: 'there is no such tag',
  UNEXPECTED_TOKEN: 'this is not expected here',
});
const OTHER = 'this cannot be read';

/** Nothing that somebody wrote is nested deeper, and no reader has to be ready for it. */
const DEEPEST = 200;
const TOO_DEEP = `this is nested deeper than ${DEEPEST} levels; write it flatter`;
/** Aliases can make a small text stand for a large one. */
const MOST_NODES = 2_000_000;

/**
 * Says where a value holds itself, or is too deep or large; nothing where it is a tree as JSON has
 * them.
 */
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

/**
 * Returns an upper bound of a text's nesting, from its brackets and indentation, before the parser
 * descends.
 */
function mayOverflow(text: string): boolean {
  let open = 0;
  let deepest = 0;
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at);
    if (unit === 0x5b || unit === 0x7b) deepest = Math.max(deepest, (open += 1));
    else if (unit === 0x5d || unit === 0x7d) open = Math.max(0, open - 1);
  }
  return (
    deepest > 5 * DEEPEST || /^[ \t]*(?:[-?:][ \t]+){200}/m.test(text) || /^ {2000}/m.test(text)
  );
}

/** So many aliases are read: the parser looks for what each stands for from the beginning. */
const MOST_ALIASES = 1000;

/**
 * Parses YAML. That keys stand once is checked by `misuseIn`: the parser holds each key against all
 * others of its map.
 */
export const documentOf = (text: string): Document =>
  parseDocument(text, { prettyErrors: false, logLevel: 'error', uniqueKeys: false });

/** A key that stands twice in one map, or more aliases than are read, with the offset. */
function misuseIn(
  document: Document,
): { readonly problem: string; readonly offset: number } | undefined {
  let found: { readonly problem: string; readonly offset: number } | undefined;
  let aliases = 0;
  visit(document, {
    Alias: (_, { range }) => {
      if ((aliases += 1) <= MOST_ALIASES) return;
      found ??= {
        problem: `this has more than ${MOST_ALIASES} aliases; write them out`,
        offset: range?.[0] ?? 0,
      };
    },
    Map: (_, { items }) => {
      const seen = new Set<string>();
      for (const { key } of items) {
        if (!isScalar(key)) continue;
        const name = `${typeof key.value} ${String(key.value)}`;
        if (seen.has(name))
          found ??= {
            problem: 'map keys must be unique; correct this line',
            offset: key.range?.[0] ?? 0,
          };
        seen.add(name);
      }
    },
  });
  return found;
}

function parsed(text: string, start: FileLocation): Document {
  try {
    return documentOf(text);
  } catch (error) {
    // The parser descends by itself, as deep as the stack is.
    throw complaint('broken-yaml', [error instanceof RangeError ? TOO_DEEP : String(error)], start);
  }
}

/**
 * Reads YAML 1.2. Aliases are resolved up to the parser's bound, so that no document can grow
 * without end.
 * @throws {Complaint} with line and column
 */
export function parseYaml(text: string, file: string): unknown {
  const start = { file, line: 1, column: 1 };
  if (mayOverflow(text)) throw complaint('broken-yaml', [TOO_DEEP], start);
  const quick = quickYaml(text);
  if (quick && notATree(quick.value) === undefined) return quick.value;
  const document = parsed(text, start);
  const [first] = document.errors;
  if (first) refuseConflicts(text, file);
  if (first) {
    throw complaint('broken-yaml', [`${TROUBLES[first.code] ?? OTHER}; correct this line`], {
      file,
      ...positionAt(text, first.pos[0]),
    });
  }
  const misuse = misuseIn(document);
  if (misuse)
    throw complaint('broken-yaml', [misuse.problem], { file, ...positionAt(text, misuse.offset) });
  let value: unknown;
  try {
    value = document.toJS();
  } catch (error) {
    // The only thing that is refused here is what aliases would multiply.
    const why = error instanceof ReferenceError ? 'its aliases stand for too much' : OTHER;
    throw complaint('broken-yaml', [why], start);
  }
  const trouble = notATree(value);
  if (trouble === undefined) return value;
  const alias = /[&*][^\s,[\]{}]+/.exec(text);
  throw complaint('broken-yaml', [trouble], { file, ...positionAt(text, alias?.index ?? 0) });
}

const indexes = new WeakMap<YAMLMap, ReadonlyMap<string, Pair>>();

/**
 * The pair of a map that a key names; maps may be long, and are asked for the place of each
 * finding.
 */
function pairOf(map: YAMLMap, key: string | number): Pair | undefined {
  let index = indexes.get(map);
  if (!index) {
    index = new Map(
      map.items.flatMap((pair) =>
        isScalar(pair.key) ? [[String(pair.key.value), pair] as const] : [],
      ),
    );
    indexes.set(map, index);
  }
  return index.get(String(key));
}

/**
 * Finds offsets of spots in the text of a YAML file; of what is not there, that of the nearest
 * thing around it.
 */
export function yamlLocator(text: string): (spot: Spot) => number {
  const document = documentOf(text);
  return (spot) => locate(document, spot);
}

function locate(document: Document, { keys, at }: Spot): number {
  let node: unknown = document.contents;
  let offset = 0;
  for (const [depth, key] of keys.entries()) {
    const pair = isMap(node) ? pairOf(node, key) : undefined;
    const isLast = depth === keys.length - 1;
    if (isLast && at === 'key' && isScalar(pair?.key) && pair.key.range) return pair.key.range[0];
    node = pair ? pair.value : isSeq(node) ? node.items[Number(key)] : undefined;
    if (!isNode(node) || !node.range) break;
    [offset] = node.range;
  }
  return offset;
}
