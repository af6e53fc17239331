import { getOrMake } from '../base/get-or-make.js';
import { Memo, Room } from '../base/memo.js';
import type { Entry } from '../texts/entry.js';
import type { Locale } from '../locale/tag.js';
import { rawPathIn } from './leaks.js';
import type { Message, MessageNode } from '../message/tree.js';

/**
 * Whether a message could have made a text, with anything where an argument stands. It is followed
 * from the beginning with all places of the text that it may have come to, so that this takes time
 * with the length of both, whatever stands in them.
 */
export function couldBe(message: Message, text: string): boolean {
  const start = new Uint8Array(text.length + 1);
  start[0] = 1;
  return after(message, text, start)[text.length] === 1;
}

/** The places of a text that a message may come to from some others: 1 for each of them. */
function after(message: Message, text: string, from: Uint8Array): Uint8Array {
  return message.reduce((places, node) => afterNode(node, text, places), from);
}

function afterNode(node: MessageNode, text: string, from: Uint8Array): Uint8Array {
  const to = new Uint8Array(text.length + 1);
  switch (node.kind) {
    case 'text':
      for (let at = from.indexOf(1); at >= 0; at = from.indexOf(1, at + 1))
        if (text.startsWith(node.text, at)) to[at + node.text.length] = 1;
      return to;
    case 'plural':
    case 'selectordinal':
    case 'select':
      for (const { message } of node.cases) {
        const reached = after(message, text, from);
        for (let at = reached.indexOf(1); at >= 0; at = reached.indexOf(1, at + 1)) to[at] = 1;
      }
      return to;
    case 'hash':
    case 'argument':
    case 'number':
    case 'date':
    case 'time': {
      const first = from.indexOf(1);
      return first < 0 ? to : to.fill(1, first);
    }
  }
}

/**
 * The letters that a message writes itself; a message of arguments alone says nothing about where a
 * text comes from.
 */
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

/**
 * The longest run of letters that every text of a message has; empty where its cases share none.
 */
const literalOf = (message: Message): string =>
  message.reduce(
    (longest, node) =>
      node.kind === 'text' && node.text.length > longest.length ? node.text : longest,
    '',
  );

interface Shape {
  readonly locale: Locale;
  readonly message: Message;
  /** The longest literal part, which is looked for first, since that is quick. */
  readonly literal: string;
}

const isOf = (text: string, { literal, message }: Shape): boolean =>
  text.includes(literal) && couldBe(message, text);

/** The longest text that people write themselves. */
const LONGEST = 800;
const NONE: ReadonlySet<Locale> = new Set();

/** The origin of a text for people. */
export interface Origin {
  /** The languages of the messages that could have made it; none where it stands in no catalog. */
  readonly locales: ReadonlySet<Locale>;
  /** A raw path that it names. */
  readonly path: string | undefined;
}

/** Finds the messages that could have made a text: anything matches an argument. */
export class TextMatcher {
  private readonly byKey = new Map<string, Shape[]>();
  private readonly all: Shape[] = [];
  private readonly room = new Room();
  /** By key, then by text: the sentences of a service repeat. */
  private readonly known = new Map<string | undefined, Memo<Origin>>();

  /**
   * Adds a message under the key that it stands under, for messages of rules, or under the
   * problem's name.
   */
  add(key: string, entry: Entry): void {
    if (entry.error || ownText(entry.tree) < 2) return;
    const shape = { locale: entry.locale, message: entry.tree, literal: literalOf(entry.tree) };
    this.all.push(shape);
    getOrMake(this.byKey, key, () => []).push(shape);
  }

  /**
   * Where a text may come from.
   * @param key that of the messages that are asked first
   */
  of(text: string, key: string | undefined): Origin {
    // Whoever writes codes without end is given none to remember.
    const asked = key !== undefined && this.byKey.has(key) ? key : undefined;
    const known = getOrMake(this.known, asked, () => new Memo<Origin>(this.room));
    if (text.length > LONGEST) return { locales: NONE, path: rawPathIn(text) };
    return known.getOrMake(text, () => ({
      locales: this.find(text, asked),
      path: rawPathIn(text),
    }));
  }

  private find(text: string, key: string | undefined): ReadonlySet<Locale> {
    const named =
      (key === undefined ? undefined : this.byKey.get(key))?.filter((shape) => isOf(text, shape)) ??
      [];
    const found = named.length > 0 ? named : this.all.filter((shape) => isOf(text, shape));
    return new Set(found.map(({ locale }) => locale));
  }
}
