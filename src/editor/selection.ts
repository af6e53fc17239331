import { findNodeAtOffset } from 'jsonc-parser';
import type { SelectionRange } from 'vscode-languageserver/node';
import { parsedMessage } from '../core/message/parse.js';
import type { Message, MessageNode } from '../core/message/tree.js';
import { isYaml } from '../workspace/disk/files.js';
import { treeOf } from '../workspace/documents/json-text.js';
import { unescaped } from '../workspace/documents/json-literal.js';
import type { Extent, OpenText } from './positions.js';

/** The parts of a message around an offset in it, outer ones first. */
function partsAt(message: Message, offset: number): Extent[] {
  const node: MessageNode | undefined = message.find(
    ({ start, end }) => start <= offset && offset <= end && end > start,
  );
  if (!node) return [];
  const own = { from: node.start, to: node.end };
  if (!('cases' in node)) return [own];
  const inner = node.cases.find(({ message: nodes }) => {
    const [first, last] = [nodes[0], nodes.at(-1)];
    return first !== undefined && last !== undefined && first.start <= offset && offset <= last.end;
  });
  if (!inner) return [own];
  const [first, last] = [inner.message[0], inner.message.at(-1)];
  return [own, { from: first?.start ?? 0, to: last?.end ?? 0 }, ...partsAt(inner.message, offset)];
}

function inLiteral(text: string, from: number, to: number, offset: number): Extent[] {
  const { text: said, places } = unescaped(text.slice(from, to));
  const at = places.findIndex((place) => from + place >= offset);
  const message = parsedMessage(said);
  if (!message) return [];
  const placed = (unit: number): number => from + (places[unit] ?? to - from - 1);
  return [{ from: 0, to: said.length }, ...partsAt(message, at < 0 ? said.length : at)].map(
    (part) => ({
      from: placed(part.from),
      to: placed(part.to),
    }),
  );
}

/**
 * The parts of the text around an offset, outer ones first: of a message in a catalog, and of
 * nothing else.
 */
function chainAt(text: string, offset: number): Extent[] {
  const root = treeOf(text);
  const node = root && findNodeAtOffset(root, offset, true);
  if (node?.type !== 'string') return [];
  const { offset: from, length } = node;
  return [{ from, to: from + length }, ...inLiteral(text, from, from + length, offset)];
}

/**
 * Returns the selection ranges from a place in a message outwards. Editors handle JSON and YAML
 * themselves.
 */
export function selectionAt(file: string, source: OpenText, offset: number): SelectionRange {
  let around: SelectionRange | undefined;
  let before: Extent | undefined;
  for (const extent of isYaml(file) ? [] : chainAt(source.text, offset)) {
    // Each lies in the one around it.
    if (before && (extent.from < before.from || extent.to > before.to)) continue;
    if (before && extent.from === before.from && extent.to === before.to) continue;
    around = { range: source.range(extent), ...(around ? { parent: around } : {}) };
    before = extent;
  }
  return around ?? { range: source.range({ from: offset, to: offset }) };
}
