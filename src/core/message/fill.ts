import type { Locale } from '../locale/tag.js';
import { caseOf, compileTree, selectedCase } from './compile.js';
import { formattersOf } from './formatters.js';
import type { Case, Message, MessageNode } from './tree.js';

/**
 * Returns the value of an argument that is known beforehand, by name; undefined where only a
 * request has it.
 */
export type KnownArguments = (name: string) => unknown;

const NOWHERE = { start: 0, end: 0 };
const textNode = (text: string): MessageNode => ({ kind: 'text', text, ...NOWHERE });

class Filler {
  constructor(
    private readonly locale: Locale,
    private readonly known: KnownArguments,
    private readonly zone: string,
  ) {}

  message(message: Message, hash?: string): Message {
    const filled: MessageNode[] = [];
    for (const one of message.flatMap((node) => this.node(node, hash))) {
      const last = filled.at(-1);
      if (one.kind === 'text' && last?.kind === 'text')
        filled[filled.length - 1] = textNode(last.text + one.text);
      else if (one.kind !== 'text' || one.text !== '') filled.push(one);
    }
    return filled;
  }

  /** @param hash what `#` stands for, where that is known */
  private node(node: MessageNode, hash: string | undefined): readonly MessageNode[] {
    if (node.kind === 'text') return [node];
    if (node.kind === 'hash') return hash === undefined ? [node] : [textNode(hash)];
    const value = this.known(node.name);
    if (value === undefined) return [this.open(node, hash)];
    if (node.kind === 'select') {
      const chosen = selectedCase(node, value);
      return chosen ? this.message(chosen.message, hash) : [];
    }
    if (node.kind === 'plural' || node.kind === 'selectordinal') {
      const number = Number(value);
      const chosen = caseOf(node, number, this.locale);
      return chosen
        ? this.message(chosen.message, formattersOf(this.locale).standard(number - node.offset))
        : [];
    }
    const options = { zone: this.zone, isolate: true, known: { [node.name]: value } };
    return [textNode(compileTree([node], this.locale, options)({}))];
  }

  /** A node that a request decides, with its cases filled. */
  private open(
    node: Exclude<MessageNode, { kind: 'text' | 'hash' }>,
    hash: string | undefined,
  ): MessageNode {
    if (!('cases' in node)) return node;
    const inner = node.kind === 'select' ? hash : undefined;
    return {
      ...node,
      cases: node.cases.map((one): Case => ({ ...one, message: this.message(one.message, inner) })),
    };
  }
}

/** A message with all worked out that is known beforehand: what is left hangs on the request. */
export const fillMessage = (
  message: Message,
  locale: Locale,
  known: KnownArguments,
  zone: string,
): Message => new Filler(locale, known, zone).message(message);
