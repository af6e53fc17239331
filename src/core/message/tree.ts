import type { DateStyle } from './date-style.js';
import type { NumberStyle } from './number-options.js';

/** Where a node stands in the message's text, in UTF-16 units from 0; `end` is behind its last. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

export interface TextNode extends Span {
  readonly kind: 'text';
  /** The text meant, quoting undone. */
  readonly text: string;
}

/** `{name}` */
export interface ArgumentNode extends Span {
  readonly kind: 'argument';
  readonly name: string;
}

/** `{name, number}`, `{name, number, integer}`, `{name, number, ::compact-short}` */
export interface NumberNode extends Span {
  readonly kind: 'number';
  readonly name: string;
  /** The style as written, absent where there is none. */
  readonly styleText?: string;
  readonly style: NumberStyle;
}

/** `{name, date, long}`, `{name, time, ::Hm}` */
export interface DateNode extends Span {
  readonly kind: 'date' | 'time';
  readonly name: string;
  readonly styleText?: string;
  readonly style: DateStyle;
}

export interface Case {
  /** A keyword or, in a plural, `=N`, as written. */
  readonly selector: string;
  /** The number of an `=N` selector. */
  readonly exactly?: number;
  readonly message: Message;
  /** Where the selector starts. */
  readonly start: number;
}

/** `{name, plural, offset:1 =0 {…} one {…} other {…}}`, `{name, selectordinal, …}` */
export interface PluralNode extends Span {
  readonly kind: 'plural' | 'selectordinal';
  readonly name: string;
  readonly offset: number;
  readonly cases: readonly Case[];
}

/** `{name, select, yes {…} other {…}}` */
export interface SelectNode extends Span {
  readonly kind: 'select';
  readonly name: string;
  readonly cases: readonly Case[];
}

/** A node that chooses between messages. */
export type CasesNode = PluralNode | SelectNode;

/** `#` directly in a plural's case: the number less the offset. */
export interface HashNode extends Span {
  readonly kind: 'hash';
}

export type MessageNode =
  TextNode | ArgumentNode | NumberNode | DateNode | PluralNode | SelectNode | HashNode;

/** A parsed message: its nodes in order. */
export type Message = readonly MessageNode[];

/** Visits every node of a message, outer ones first. */
export function walk(message: Message, visit: (node: MessageNode) => void): void {
  for (const node of message) {
    visit(node);
    if ('cases' in node) for (const { message: inner } of node.cases) walk(inner, visit);
  }
}

/** The names of all arguments, each with the place of its first use. */
export function argumentsOf(message: Message): Map<string, Span> {
  const found = new Map<string, Span>();
  walk(message, (node) => {
    if ('name' in node && !found.has(node.name))
      found.set(node.name, { start: node.start, end: node.end });
  });
  return found;
}
