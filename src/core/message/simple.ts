import { Signature } from './signature.js';
import type { MessageNode } from './tree.js';

/** Longer messages, and messages with more arguments, are nothing that anybody reads. */
export const LONGEST = 20_000;
export const MOST_ARGUMENTS = 100;

const PLAIN_NAME = /^[A-Za-z]\w*$/;
/** Apostrophes that quote, or that two of are one; others are text. */
const QUOTING = /'['{}]/;

/**
 * Nearly all messages are text with a few names in braces; these need no parser. Nothing where
 * there is more to it.
 */
export function parseSimple(text: string): MessageNode[] | undefined {
  if (plainSignature(text) === undefined) return undefined;
  const nodes: MessageNode[] = [];
  for (let at = 0; at < text.length;) {
    const open = text.indexOf('{', at);
    const start = open < 0 ? text.length : open;
    if (start > at)
      nodes.push({ kind: 'text', text: text.slice(at, start), start: at, end: start });
    if (open < 0) break;
    at = text.indexOf('}', open) + 1;
    nodes.push({ kind: 'argument', name: text.slice(open + 1, at - 1), start: open, end: at });
  }
  return nodes;
}

/**
 * The signature of a text that is no more than words and names in braces; nothing of others, which
 * only the parser knows.
 */
export function plainSignature(text: string): Signature | undefined {
  if (text.includes("'") && QUOTING.test(text)) return undefined;
  if (text.length > LONGEST) return undefined;
  let signature = Signature.NONE;
  for (let at = 0, left = MOST_ARGUMENTS; ; left--) {
    const open = text.indexOf('{', at);
    const close = text.indexOf('}', at);
    if (open < 0) return close < 0 ? signature : undefined;
    if (close < open || left === 0) return undefined;
    const name = text.slice(open + 1, close);
    const longer =
      signature.known(name) ?? (PLAIN_NAME.test(name) ? signature.with(name) : undefined);
    if (!longer) return undefined;
    signature = longer;
    at = close + 1;
  }
}
