import type { Locale } from '../locale/tag.js';
import { EXACT, STANDARD } from '../message/number-options.js';
import { printMessage } from '../message/print.js';
import type { Message, MessageNode } from '../message/tree.js';
import {
  pluralsOf,
  type SlotTemplate,
  type PlainLanguage,
  type PlainSentence,
  type SentencePack,
} from './plain.js';

/** Why something cannot be written for readers of a kind. */
export class NotSimple extends Error {
  override name = 'NotSimple';
}

/** How sentences are written, once all is worked out that is known before a request. */
export interface SentenceWriter {
  /** @throws {NotSimple} */
  sentence(message: Message): PlainSentence;
  /** The slot of an argument. */
  slot(name: string): string;
  /** The writer's members of a pack. */
  readonly about: Pick<SentencePack, 'slot'>;
  /** Returns the writer's members of a language. */
  language(locale: Locale): Pick<PlainLanguage, 'plurals' | 'icu'>;
}

const isWritten = (style: unknown): boolean => style === STANDARD || style === EXACT;

/** For readers that replace slots by texts, and know nothing of messages: cases are objects. */
export class PlainWriter implements SentenceWriter {
  readonly about;

  constructor(private readonly template: SlotTemplate) {
    this.about = { slot: [template.open, template.close] as const };
  }

  language(locale: Locale): Pick<PlainLanguage, 'plurals'> {
    return { plurals: pluralsOf(locale) };
  }

  slot(name: string): string {
    return this.template.open + name + this.template.close;
  }

  sentence(message: Message): PlainSentence {
    return this.written(message, '');
  }

  private written(message: Message, before: string, hash?: string): PlainSentence {
    const at = message.findIndex((node) => 'cases' in node);
    const text = message
      .slice(0, at < 0 ? undefined : at)
      .reduce((said, node) => said + this.node(node, hash), before);
    const node = message[at];
    if (!node || !('cases' in node)) return text;
    if (node.kind === 'selectordinal')
      throw new NotSimple(`{${node.name}} is written as an ordinal`);
    if (node.kind === 'plural' && node.offset !== 0)
      throw new NotSimple(`the plural of {${node.name}} has an offset`);
    const rest = message.slice(at + 1);
    const cases = node.cases.map(({ selector, message: inner }) => [
      selector,
      this.written([...inner, ...rest], text, node.kind === 'plural' ? node.name : hash),
    ]);
    return {
      [node.kind]: node.name,
      cases: Object.fromEntries(cases) as Record<string, PlainSentence>,
    } as unknown as PlainSentence;
  }

  private node(node: MessageNode, hash: string | undefined): string {
    const { open, close, escape } = this.template;
    switch (node.kind) {
      case 'text':
        if (
          !escape &&
          open !== '' &&
          node.text.includes(open) &&
          (close === '' || node.text.includes(close))
        )
          throw new NotSimple(
            `"${open}" stands in the text itself; choose another way to write slots`,
          );
        return escape?.(node.text) ?? node.text;
      case 'argument':
        return this.slot(node.name);
      case 'hash':
        return this.slot(hash ?? '');
      case 'number':
        if (isWritten(node.style)) return this.slot(node.name);
        throw new NotSimple(`{${node.name}} is written in a style of its own`);
      default:
        throw new NotSimple(`{${node.name}} is a date or a time that only the request has`);
    }
  }
}

/**
 * Behind the name of an argument where ICU needs the value itself, to choose a case or to write it
 * in a style.
 */
const RAW = '_raw';

/**
 * For readers that have an ICU: messages in which every simple slot is a text, as plain sentences
 * have it, and only cases and styles ask for a value. So whatever way an ICU writes numbers and
 * joins texts in, all say the same.
 */
export class IcuWriter implements SentenceWriter {
  readonly about = {};

  language(locale: Locale): Pick<PlainLanguage, 'icu'> {
    // The digits are the language's as we have them; versions of ICU differ in that.
    return {
      icu: `${locale}-u-nu-${new Intl.NumberFormat(locale).resolvedOptions().numberingSystem}`,
    };
  }

  slot(name: string): string {
    return `{${name}}`;
  }

  sentence(message: Message): string {
    return printMessage(this.asked(message));
  }

  /**
   * @param hash what `#` is; absent where it is not the argument itself, since a plural has an
   * offset
   */
  private asked(message: Message, hash?: string): Message {
    return message.map((node): MessageNode => {
      const { start, end } = node;
      switch (node.kind) {
        case 'text':
        case 'argument':
          return node;
        case 'hash':
          return hash === undefined ? node : { kind: 'argument', name: hash, start, end };
        case 'number':
          if (isWritten(node.style)) return { kind: 'argument', name: node.name, start, end };
          return { ...node, name: node.name + RAW };
        case 'date':
        case 'time':
          return { ...node, name: node.name + RAW };
        default: {
          const inner = node.kind === 'select' ? hash : node.offset === 0 ? node.name : undefined;
          const cases = node.cases.map((one) => ({
            ...one,
            message: this.asked(one.message, inner),
          }));
          return { ...node, name: node.name + RAW, cases };
        }
      }
    });
  }
}
