import type { Entry } from '../texts/entry.js';
import type { Locale } from '../locale/tag.js';
import type { Message, MessageNode } from '../message/tree.js';

const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');

const ANYTHING = '[\\s\\S]*?';

function regexOfNode(node: MessageNode): string {
  switch (node.kind) {
    case 'text':
      return escaped(node.text);
    case 'plural':
    case 'selectordinal':
    case 'select':
      return `(?:${node.cases.map(({ message }) => regexOf(message)).join('|')})`;
    case 'hash':
    case 'argument':
    case 'number':
    case 'date':
    case 'time':
      return ANYTHING;
  }
}

const regexOf = (message: Message): string => message.map(regexOfNode).join('');

/** The letters that a message writes itself; a message of arguments alone says nothing about where a text comes from. */
const ownText = (message: Message): number =>
  message.reduce(
    (sum, node) =>
      sum +
      (node.kind === 'text'
        ? node.text.length
        : 'cases' in node
          ? Math.max(...node.cases.map((one) => ownText(one.message)))
          : 0),
    0,
  );

interface Shape {
  readonly locale: Locale;
  readonly regex: RegExp;
}

/** Tells which messages could have made a text: each as a regular expression, with anything where an argument stands. */
export class TextMatcher {
  private readonly byKey = new Map<string, Shape[]>();
  private readonly all: Shape[] = [];

  /** Adds a message under the key that it stands under, for messages of rules, or under the problem's name. */
  add(key: string, entry: Entry): void {
    if (entry.error || ownText(entry.tree) < 2) return;
    const shape = { locale: entry.locale, regex: new RegExp(`^${regexOf(entry.tree)}$`, 'u') };
    this.all.push(shape);
    const known = this.byKey.get(key);
    if (known) known.push(shape);
    else this.byKey.set(key, [shape]);
  }

  /** The languages of the messages that could have made a text; none where it stands in no catalog. */
  locales(text: string, keys: readonly string[]): ReadonlySet<Locale> {
    // What people wrote themselves is short; a text without end is none of it.
    if (text.length > 800) return new Set();
    const named = keys.flatMap((key) => this.byKey.get(key) ?? []).filter(({ regex }) => regex.test(text));
    const found = named.length > 0 ? named : this.all.filter(({ regex }) => regex.test(text));
    return new Set(found.map(({ locale }) => locale));
  }
}
