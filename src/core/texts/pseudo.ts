import { pseudoText } from '../locale/pseudo.js';
import type { Locale } from '../locale/tag.js';
import { printMessage } from '../message/print.js';
import type { Message, MessageNode } from '../message/tree.js';
import { Entry } from './entry.js';

const inMessage = (message: Message, locale: Locale): Message =>
  message.map((node) => inNode(node, locale));

function inNode(node: MessageNode, locale: Locale): MessageNode {
  if (node.kind === 'text') return { ...node, text: pseudoText(node.text, locale) };
  if (!('cases' in node)) return node;
  return {
    ...node,
    cases: node.cases.map((one) => ({ ...one, message: inMessage(one.message, locale) })),
  };
}

/** A text of the original as a pseudo-locale has it: made strange, its arguments left alone. */
export function pseudoEntry(entry: Entry, locale: Locale): Entry {
  const { file, slot, details } = entry;
  const text = entry.error ? entry.text : printMessage(inMessage(entry.tree, locale));
  const forms = new Map(
    [...entry.inflections].map(([name, form]) => [name, pseudoEntry(form, locale)]),
  );
  return new Entry(
    text,
    { file, locale },
    slot,
    forms.size > 0 ? { ...details, inflections: forms } : details,
  );
}
