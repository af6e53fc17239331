import { Memo, Room } from '../memo.js';
import type { Entry } from '../texts/entry.js';
import type { Locale } from '../locale/tag.js';
import { rawPathIn } from './leaks.js';
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

/** The longest run of letters that every text of a message has; empty where its cases share none. */
const literalOf = (message: Message): string =>
  message.reduce((longest, node) => (node.kind === 'text' && node.text.length > longest.length ? node.text : longest), '');

interface Shape {
  readonly locale: Locale;
  readonly regex: RegExp;
  /** What a text of it holds: looked for first, since that is quick. */
  readonly literal: string;
}

const isOf = (text: string, { literal, regex }: Shape): boolean => text.includes(literal) && regex.test(text);

/** What people wrote themselves is short; a text without end is none of it. */
const LONGEST = 800;
const NONE: ReadonlySet<Locale> = new Set();

/** What is known of a text for people. */
export interface Origin {
  /** The languages of the messages that could have made it; none where it stands in no catalog. */
  readonly locales: ReadonlySet<Locale>;
  /** A raw path that it names. */
  readonly path: string | undefined;
}

/** Tells which messages could have made a text: each as a regular expression, with anything where an argument stands. */
export class TextMatcher {
  private readonly byKey = new Map<string, Shape[]>();
  private readonly all: Shape[] = [];
  private readonly room = new Room();
  /** By key, then by text: the sentences of a service repeat. */
  private readonly known = new Map<string | undefined, Memo<Origin>>();

  /** Adds a message under the key that it stands under, for messages of rules, or under the problem's name. */
  add(key: string, entry: Entry): void {
    if (entry.error || ownText(entry.tree) < 2) return;
    const regex = new RegExp(`^${regexOf(entry.tree)}$`, 'u');
    const shape = { locale: entry.locale, regex, literal: literalOf(entry.tree) };
    this.all.push(shape);
    const known = this.byKey.get(key);
    if (known) known.push(shape);
    else this.byKey.set(key, [shape]);
  }

  /**
   * Where a text may come from.
   * @param key that of the messages that are asked first
   */
  of(text: string, key: string | undefined): Origin {
    // Whoever writes codes without end is given none to remember.
    const asked = key !== undefined && this.byKey.has(key) ? key : undefined;
    let known = this.known.get(asked);
    if (!known) this.known.set(asked, (known = new Memo<Origin>(this.room)));
    if (text.length > LONGEST) return { locales: NONE, path: rawPathIn(text) };
    return known.getOrMake(text, () => ({ locales: this.find(text, asked), path: rawPathIn(text) }));
  }

  private find(text: string, key: string | undefined): ReadonlySet<Locale> {
    const named = (key === undefined ? undefined : this.byKey.get(key))?.filter((shape) => isOf(text, shape)) ?? [];
    const found = named.length > 0 ? named : this.all.filter((shape) => isOf(text, shape));
    return new Set(found.map(({ locale }) => locale));
  }
}
