import { pseudoText } from '../locale/pseudo.js';
import type { Locale } from '../locale/tag.js';
import { printMessage } from '../message/print.js';
import type { Message, MessageNode } from '../message/tree.js';
import type { Catalog, FieldTexts, Label } from './catalog.js';
import { Entry } from './entry.js';

const inMessage = (message: Message, locale: Locale): Message => message.map((node) => inNode(node, locale));

function inNode(node: MessageNode, locale: Locale): MessageNode {
  if (node.kind === 'text') return { ...node, text: pseudoText(node.text, locale) };
  if (!('cases' in node)) return node;
  return { ...node, cases: node.cases.map((one) => ({ ...one, message: inMessage(one.message, locale) })) };
}

const entryIn = (entry: Entry, locale: Locale): Entry =>
  new Entry(entry.error ? entry.text : printMessage(inMessage(entry.tree, locale)), locale, entry.origin, entry.details);

const entriesIn = (entries: ReadonlyMap<string, Entry>, locale: Locale): Map<string, Entry> =>
  new Map([...entries].map(([key, entry]) => [key, entryIn(entry, locale)]));

const labelIn = ({ base, forms, gender }: Label, locale: Locale): Label => ({
  base: entryIn(base, locale),
  forms: entriesIn(forms, locale),
  ...(gender === undefined ? {} : { gender }),
});

const fieldIn = ({ pattern, path, label, origin, ...field }: FieldTexts, locale: Locale): FieldTexts => ({
  ...{ pattern, path, origin },
  ...(label ? { label: labelIn(label, locale) } : {}),
  messages: entriesIn(field.messages, locale),
  choices: entriesIn(field.choices, locale),
});

/** A catalog of the original as a pseudo-locale has it: the same texts made strange, their arguments left alone. */
export function pseudoCatalog(catalog: Catalog, locale: Locale): Catalog {
  return {
    ...catalog,
    locale,
    messages: entriesIn(catalog.messages, locale),
    fields: catalog.fields.map((field) => fieldIn(field, locale)),
    problems: new Map(
      [...catalog.problems].map(([id, { title, detail }]) => [
        id,
        { ...(title ? { title: entryIn(title, locale) } : {}), ...(detail ? { detail: entryIn(detail, locale) } : {}) },
      ]),
    ),
  };
}
