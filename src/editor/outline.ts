import { FoldingRangeKind, type FoldingRange, type SelectionRange } from 'vscode-languageserver/node';
import { findNodeAtOffset, parseTree, type Node } from 'jsonc-parser';
import { isMap, isPair, isScalar, isSeq } from 'yaml';
import { documentOf as yamlDocumentOf } from '../workspace/yaml.js';
import { parsedMessage } from '../core/message/parse.js';
import type { Message, MessageNode } from '../core/message/tree.js';
import { isYaml } from '../workspace/files.js';
import { unescaped } from './json-cursor.js';
import type { Extent, Source } from './positions.js';

const OPTIONS = { allowTrailingComma: true };

/** The objects and lists of a JSON text, outer ones first. */
function containers(node: Node): Extent[] {
  const own = node.type === 'object' || node.type === 'array' ? [{ from: node.offset, to: node.offset + node.length }] : [];
  return [...own, ...(node.children ?? []).flatMap(containers)];
}

/** The nodes of a YAML text that hold others. */
function collections(node: unknown): Extent[] {
  if (isPair(node)) {
    const { key, value } = node;
    const from = isScalar(key) ? key.range?.[0] : undefined;
    const to = isMap(value) || isSeq(value) ? value.range?.[1] : undefined;
    return [...(from !== undefined && to !== undefined ? [{ from, to }] : []), ...collections(value)];
  }
  return isMap(node) || isSeq(node) ? node.items.flatMap((item) => collections(item)) : [];
}

function documentOf(text: string): unknown {
  try {
    return yamlDocumentOf(text).contents;
  } catch {
    return undefined;
  }
}

/** What can be folded: objects and lists over several lines. */
export function foldsIn(file: string, source: Source): FoldingRange[] {
  const root = isYaml(file) ? undefined : parseTree(source.text, [], OPTIONS);
  const extents = isYaml(file) ? collections(documentOf(source.text)) : root ? containers(root) : [];
  return extents.flatMap(({ from, to }) => {
    const startLine = source.position(from).line;
    // The line of the closing brace stays; in YAML the last line with something on it goes too.
    const end = isYaml(file) ? source.text.slice(0, to).trimEnd().length : to;
    const endLine = source.position(end).line - (isYaml(file) ? 0 : 1);
    return endLine > startLine ? [{ startLine, endLine, kind: FoldingRangeKind.Region }] : [];
  });
}

/** The parts of a message around an offset in it, outer ones first. */
function partsAt(message: Message, offset: number): Extent[] {
  const node: MessageNode | undefined = message.find(({ start, end }) => start <= offset && offset <= end && end > start);
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
  return [{ from: 0, to: said.length }, ...partsAt(message, at < 0 ? said.length : at)].map((part) => ({
    ...{ from: placed(part.from), to: placed(part.to) },
  }));
}

function jsonChain(text: string, offset: number): Extent[] {
  const root = parseTree(text, [], OPTIONS);
  const chain: Extent[] = [];
  let node = root && findNodeAtOffset(root, offset, true);
  const literal = node?.type === 'string' ? node : undefined;
  for (; node; node = node.parent) chain.unshift({ from: node.offset, to: node.offset + node.length });
  return literal ? [...chain, ...inLiteral(text, literal.offset, literal.offset + literal.length, offset)] : chain;
}

function yamlChain(text: string, offset: number): Extent[] {
  const chain: Extent[] = [];
  const visit = (node: unknown): void => {
    if (isPair(node)) {
      const { key, value } = node;
      const from = isScalar(key) ? key.range?.[0] : undefined;
      const to =
        (isScalar(value) || isMap(value) || isSeq(value) ? value.range?.[1] : undefined) ??
        (isScalar(key) ? key.range?.[1] : undefined);
      if (from === undefined || to === undefined || offset < from || offset > to) return;
      chain.push({ from, to });
      visit(key);
      visit(value);
      return;
    }
    const range = isScalar(node) || isMap(node) || isSeq(node) ? node.range : undefined;
    if (!range || offset < range[0] || offset > range[1]) return;
    chain.push({ from: range[0], to: range[1] });
    if (isMap(node) || isSeq(node)) for (const item of node.items) visit(item);
  };
  visit(documentOf(text));
  return chain;
}

/** What is selected step by step from a place outwards. */
export function selectionAt(file: string, source: Source, offset: number): SelectionRange {
  const chain = isYaml(file) ? yamlChain(source.text, offset) : jsonChain(source.text, offset);
  let around: SelectionRange | undefined;
  let before: Extent | undefined;
  for (const extent of chain) {
    // Each lies in the one around it.
    if (
      before &&
      (extent.from < before.from || extent.to > before.to || (extent.from === before.from && extent.to === before.to))
    )
      continue;
    around = { range: source.range(extent), ...(around ? { parent: around } : {}) };
    before = extent;
  }
  return around ?? { range: source.range({ from: offset, to: offset }) };
}
