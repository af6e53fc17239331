import { isMap, isPair, isScalar, isSeq, type Document } from 'yaml';
import { documentOf } from '../workspace/documents/yaml.js';
import type { Extent } from './positions.js';

/** What stands at a place of a file, whether all of it can be read or not. */
export interface KeyCursor {
  /** The keys that lead to the object or value that is being typed in. */
  readonly keys: readonly (string | number)[];
  /** Whether the name of a member is typed, or a value. */
  readonly at: 'key' | 'value';
  /** What is typed so far, and where it stands. */
  readonly typed: string;
  readonly extent: Extent;
  /** The members that the object has besides. */
  readonly there: readonly string[];
  /** Whether what is typed stands in quotes already. */
  readonly isQuoted: boolean;
  /** Of a key: whether a value stands behind it already. */
  readonly hasValue: boolean;
}

const MARK = 'zwcursormark';

/** What is found of the mark in a document. */
interface Found {
  readonly keys: readonly (string | number)[];
  readonly at: 'key' | 'value';
  readonly there: readonly string[];
}

const textOf = (node: unknown): string => (isScalar(node) ? String(node.value) : '');

function find(node: unknown, keys: readonly (string | number)[]): Found | undefined {
  if (isScalar(node)) return textOf(node) === MARK ? { keys, at: 'value', there: [] } : undefined;
  if (isSeq(node)) {
    for (const [at, item] of node.items.entries()) {
      const found = find(item, [...keys, at]);
      if (found) return found;
    }
    return undefined;
  }
  if (!isMap(node)) return undefined;
  for (const pair of node.items) {
    if (!isPair(pair)) continue;
    const name = textOf(pair.key);
    if (name === MARK) {
      const there = node.items
        .map((one) => textOf(one.key))
        .filter((one) => one !== MARK && one !== '');
      return { keys, at: 'key', there };
    }
    const found = find(pair.value, [...keys, name]);
    if (found) return found;
  }
  return undefined;
}

function read(text: string): { readonly document: Document; readonly errors: number } | undefined {
  try {
    const document = documentOf(text);
    return { document, errors: document.errors.length };
  } catch {
    return undefined;
  }
}

const QUOTED = /(["'])((?:(?!\1).)*)$/;
const PLAIN = /[^\s,{}[\]:"'#][^,{}[\]"'#]*$/;

/** What is typed at an offset: the line's last word, with its quote. */
function typedAt(
  text: string,
  offset: number,
): { readonly from: number; readonly quote: string; readonly typed: string } {
  const start = text.lastIndexOf('\n', offset - 1) + 1;
  const line = text.slice(start, offset);
  const quotes = (line.match(/["']/g) ?? []).length;
  const quoted = quotes % 2 === 1 ? QUOTED.exec(line) : null;
  if (quoted) return { from: start + quoted.index, quote: quoted[1] ?? '', typed: quoted[2] ?? '' };
  const typed = PLAIN.exec(line.replace(/^.*:\s/, (head) => ' '.repeat(head.length)))?.[0] ?? '';
  return { from: offset - typed.length, quote: '', typed };
}

/** Where what stands at an offset ends: with its quote, or before what follows. */
function endOf(text: string, offset: number, quote: string): number {
  const rest = text.slice(offset).split('\n', 1)[0] ?? '';
  if (quote !== '') {
    const close = rest.indexOf(quote);
    return close < 0 ? offset : offset + close + 1;
  }
  return offset + (/^[^\s,{}[\]:#"']*/.exec(rest)?.[0].length ?? 0);
}

/** Tells what stands at a place of a YAML file, half-typed as it may be. */
export function yamlCursor(text: string, offset: number): KeyCursor | undefined {
  const { from, quote, typed } = typedAt(text, offset);
  const to = endOf(text, offset, quote);
  const [before, after] = [text.slice(0, from), text.slice(to)];
  const hasColon = /^[ \t]*:(?:\s|$)/.test(after);
  // A name or a value: whichever makes the better document of what is around it.
  const tries = hasColon ? [MARK] : [`${MARK}: 0`, MARK];
  const found = tries
    .flatMap((mark) => {
      const made = read(`${before}${mark}${after}`);
      const place = made && find(made.document.contents, []);
      return place ? [{ place, errors: made.errors }] : [];
    })
    .sort((one, other) => one.errors - other.errors);
  const [best] = found;
  if (!best) return undefined;
  return { ...best.place, typed, extent: { from, to }, isQuoted: quote !== '', hasValue: hasColon };
}

/** The keys that lead to what stands at an offset of a YAML file that can be read. */
export function yamlKeysAt(text: string, offset: number): KeyCursor | undefined {
  const made = read(text);
  const walk = (node: unknown, keys: readonly (string | number)[]): KeyCursor | undefined => {
    if (isScalar(node)) {
      const [from = 0, to = 0] = node.range ?? [];
      const isHere = from <= offset && offset <= to;
      return isHere ? cursor(keys, 'value', { from, to }, textOf(node)) : undefined;
    }
    if (isSeq(node)) {
      for (const [at, item] of node.items.entries()) {
        const found = walk(item, [...keys, at]);
        if (found) return found;
      }
      return undefined;
    }
    for (const pair of isMap(node) ? node.items : []) {
      if (!isPair(pair) || !isScalar(pair.key)) continue;
      const name = textOf(pair.key);
      const [from = 0, to = 0] = pair.key.range ?? [];
      if (from <= offset && offset <= to) return cursor([...keys, name], 'key', { from, to }, name);
      const found = walk(pair.value, [...keys, name]);
      if (found) return found;
    }
    return undefined;
  };
  const cursor = (
    keys: readonly (string | number)[],
    at: 'key' | 'value',
    extent: Extent,
    typed: string,
  ): KeyCursor => ({
    keys,
    at,
    extent,
    typed,
    there: [],
    hasValue: true,
    isQuoted: /["']/.test(text[extent.from] ?? ''),
  });
  return made && walk(made.document.contents, []);
}
