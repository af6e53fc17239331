import { isMap, isPair, isScalar, isSeq, type Document } from 'yaml';
import { documentOf } from '../workspace/documents/yaml.js';
import type { Extent } from './positions.js';
import { unescaped } from '../workspace/documents/json-literal.js';

/** The key or value at a place of a file, also where the file cannot be read whole. */
export interface KeyCursor {
  /** The keys that lead to the object or value that is being typed in. */
  readonly keys: readonly (string | number)[];
  /** Whether the name of a member is typed, or a value. */
  readonly at: 'key' | 'value';
  /** The typed text, and where it stands. */
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

/** The marker's place in a document. */
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

const PLAIN = /[^\s,{}[\]:"'#][^,{}[\]"'#]*$/;
/** Whether a quote opens a text; elsewhere it is a sign like others (YAML 1.2, 7.3.3). */
function opens(line: string, at: number): boolean {
  let before = at - 1;
  while (line[before] === ' ' || line[before] === '\t') before -= 1;
  const sign = line[before] ?? '';
  if (before < 0 || '[{,'.includes(sign)) return true;
  // Behind a name in quotes a colon needs no blank.
  const isClose = before === at - 1;
  return isClose ? sign === ':' && /["']/.test(line[before - 1] ?? '') : '-?:'.includes(sign);
}

/** Where a text in quotes ends, behind its closing quote; nothing where it goes on. */
function closing(line: string, open: number): number | undefined {
  const quote = line[open];
  for (let at = open + 1; at < line.length; at++) {
    if (quote === '"' && line[at] === '\\') at += 1;
    else if (line[at] !== quote) continue;
    // YAML 1.2, 7.3.2: in single quotes two of them are one.
    else if (quote === "'" && line[at + 1] === "'") at += 1;
    else return at + 1;
  }
  return undefined;
}

/** Where the text in quotes begins in which a line ends; nothing where it ends in none. */
function openQuote(line: string): number | undefined {
  for (let at = 0; at < line.length; at++) {
    if ((line[at] !== '"' && line[at] !== "'") || !opens(line, at)) continue;
    const end = closing(line, at);
    if (end === undefined) return at;
    at = end - 1;
  }
  return undefined;
}

/** Returns the typed text at an offset: the line's last word, with its quote. */
function typedAt(
  text: string,
  offset: number,
): { readonly from: number; readonly quote: string; readonly typed: string } {
  const start = text.lastIndexOf('\n', offset - 1) + 1;
  const line = text.slice(start, offset);
  const open = openQuote(line);
  if (open !== undefined) {
    const quote = line[open] ?? '';
    const inner = line.slice(open + 1);
    const typed = quote === "'" ? inner.replaceAll("''", "'") : unescaped(`"${inner}"`).text;
    return { from: start + open, quote, typed };
  }
  const typed = PLAIN.exec(line.replace(/^.*:\s/, (head) => ' '.repeat(head.length)))?.[0] ?? '';
  return { from: offset - typed.length, quote: '', typed };
}

/** Where what stands at an offset ends: with its quote, or before what follows. */
function endOf(text: string, from: number, offset: number, quote: string): number {
  const rest = text.slice(offset).split('\n', 1)[0] ?? '';
  if (quote !== '') {
    const end = closing(text.slice(from, offset) + rest, 0);
    return end === undefined ? offset : from + end;
  }
  return offset + (/^[^\s,{}[\]:#"']*/.exec(rest)?.[0].length ?? 0);
}

/** Finds the key or value at a place of a YAML file, also where the file is half-typed. */
export function yamlCursor(text: string, offset: number): KeyCursor | undefined {
  const { from, quote, typed } = typedAt(text, offset);
  const to = endOf(text, from, offset, quote);
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
