import { closest } from '../text/closest.js';
import { parseDateStyle } from './date-style.js';
import { styleTrouble } from './formatters.js';
import { parseNumberStyle } from './number-style.js';
import { LONGEST, MOST_ARGUMENTS, parseSimple } from './simple.js';
import { MessageError } from './syntax-error.js';
import type { Case, Message, MessageNode } from './tree.js';
import { keyed } from '../base/keyed.js';

/**
 * How deep messages may stand in cases of others. Nobody can translate what is nested deeper, and
 * the stack stays safe.
 */
export const DEEPEST = 50;

/** ICU has no place for more numbered arguments. */
const LARGEST_NUMBER = 32_767;

const SPACE = /[\t-\r \u0085\u200E\u200F\u2028\u2029]*/y; // Pattern_White_Space, all of it
const IDENTIFIER = /[^\p{Pattern_Syntax}\p{Pattern_White_Space}]+/uy;
/**
 * Matches an identifier that only ASCII follows. A class of Unicode takes milliseconds to compile,
 * and few messages need one.
 */
const ASCII_IDENTIFIER = /\w+(?![^\x00-\x7f]|\w)/y;
const NUMBER = /[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?/y;
const PLAIN = /[^'{}#]+/y;

/** Formats of ICU that this dialect refuses, with what to write instead. */
const REFUSED: Record<string, string> = keyed({
  choice: 'write plural or select',
  spellout: 'write the number in digits, as in {n, number}',
  ordinal: 'write selectordinal',
  duration: 'give the number and write its unit, as in {n, number, ::unit/second}',
});

const TYPES = ['number', 'date', 'time', 'plural', 'selectordinal', 'select'] as const;
type ArgumentType = (typeof TYPES)[number];

type Within = 'message' | 'plural' | 'select';

class Parser {
  at = 0;
  depth = 0;
  private count = 0;
  private readonly names = new Set<string>();
  constructor(readonly text: string) {}

  /** Reads up to the end, or inside a case up to its closing brace. */
  message(within: Within): MessageNode[] {
    const nodes: MessageNode[] = [];
    while (this.at < this.text.length) {
      const character = this.text[this.at];
      if (character === '}' && this.depth > 0) return nodes;
      if (character === '{') nodes.push(this.argument());
      else if (character === '#' && within === 'plural') {
        nodes.push({ kind: 'hash', start: this.at, end: this.at + 1 });
        this.at += 1;
      } else nodes.push(this.plainText(within === 'plural'));
    }
    return nodes;
  }

  private plainText(inPlural: boolean): MessageNode {
    const start = this.at;
    const parts: string[] = [];
    for (;;) {
      const run = this.take(PLAIN);
      if (run !== undefined) parts.push(run);
      const character = this.text[this.at];
      if (character === undefined || character === '{') break;
      if (character === '#' && inPlural) break;
      // ICU takes an unmatched closing brace outside of all arguments for text.
      if (character === '}' && this.depth > 0) break;
      if (character === "'") parts.push(this.apostrophe(inPlural));
      else {
        parts.push(character);
        this.at += 1;
      }
    }
    return { kind: 'text', text: parts.join(''), start, end: this.at };
  }

  /**
   * An apostrophe quotes only where it stands before a brace (in a plural also `#`); two are one;
   * others stay as they are.
   */
  private apostrophe(inPlural: boolean): string {
    const next = this.text[this.at + 1];
    if (next === "'") {
      this.at += 2;
      return "'";
    }
    this.at += 1;
    if (next !== '{' && next !== '}' && !(next === '#' && inPlural)) return "'";
    const parts: string[] = [];
    for (;;) {
      const close = this.text.indexOf("'", this.at);
      if (close < 0) {
        // ICU lets a quotation run to the end.
        parts.push(this.text.slice(this.at));
        this.at = this.text.length;
        return parts.join('');
      }
      parts.push(this.text.slice(this.at, close));
      this.at = close + 1;
      if (this.text[this.at] !== "'") return parts.join('');
      parts.push("'");
      this.at += 1;
    }
  }

  private argument(): MessageNode {
    const start = this.at;
    this.at += 1;
    this.skipSpace();
    const name = this.argumentName(start);
    this.skipSpace();
    if (this.accept('}')) return { kind: 'argument', name, start, end: this.at };
    if (!this.accept(','))
      this.unexpected(
        '"}" or ","',
        start,
        "close the argument behind its name, or quote the brace: '{'",
      );
    this.skipSpace();
    const type = this.argumentType(name);
    this.skipSpace();
    switch (type) {
      case 'number':
      case 'date':
      case 'time':
        return this.formatted(type, name, start);
      case 'plural':
      case 'selectordinal':
      case 'select':
        return this.cases(type, name, start);
    }
  }

  private argumentName(open: number): string {
    const start = this.at;
    if ((this.count += 1) > MOST_ARGUMENTS * 10)
      throw new MessageError('The message has too many arguments', start, 'write a sentence');
    const name = this.readName(open, start);
    this.names.add(name);
    if (this.names.size > MOST_ARGUMENTS)
      throw new MessageError(
        `The message has more than ${MOST_ARGUMENTS} arguments`,
        start,
        'write a sentence',
      );
    return name;
  }

  private readName(open: number, start: number): string {
    const name = this.identifier();
    if (name === undefined) {
      if (this.at >= this.text.length) return this.unexpected('an argument\'s name and "}"', open);
      throw new MessageError(
        'An argument has no name',
        start,
        "write one such as {label}, or '{' for the brace itself",
      );
    }
    if (
      /^[0-9]/.test(name) &&
      !(/^(?:0|[1-9]\d{0,4})$/.test(name) && Number(name) <= LARGEST_NUMBER)
    ) {
      throw new MessageError(
        `"${name}" is not an argument's name`,
        start,
        `a name starts with a letter, or is a plain number from 0 to ${LARGEST_NUMBER}`,
      );
    }
    return name;
  }

  private argumentType(name: string): ArgumentType {
    const start = this.at;
    const word = this.identifier() ?? '';
    const type = word.toLowerCase();
    const known = TYPES.find((one) => one === type);
    if (known) return known;
    if (word === '') return this.unexpected('a type such as number or plural', start);
    const remedy = Object.hasOwn(REFUSED, type) ? REFUSED[type] : undefined;
    if (remedy)
      throw new MessageError(`The type "${word}" of {${name}} is not supported`, start, remedy);
    const near = closest(type, TYPES);
    throw new MessageError(
      `"${word}" is not an argument type`,
      start,
      near ? `did you mean "${near}"?` : `write one of ${TYPES.join(', ')}`,
    );
  }

  private formatted(kind: 'number' | 'date' | 'time', name: string, start: number): MessageNode {
    const styleText = this.accept(',') ? this.styleText(start) : undefined;
    const styleAt = this.at - (styleText?.length ?? 0);
    if (!this.accept('}')) this.unexpected('"}" or ","', start);
    const style = styleText?.trim() ?? '';
    const span = { name, ...(style === '' ? {} : { styleText: style }), start, end: this.at };
    const node: MessageNode =
      kind === 'number'
        ? { kind, style: parseNumberStyle(styleText, styleAt), ...span }
        : { kind, style: parseDateStyle(kind, styleText, styleAt), ...span };
    const trouble = styleTrouble(node);
    if (trouble !== undefined)
      throw new MessageError(
        `The style "${style.slice(0, 80)}" cannot be written (${trouble})`,
        styleAt,
        'write a style whose parts go together',
      );
    return node;
  }

  /**
   * The style up to the closing brace of the argument: quoted parts and pairs of braces belong to
   * it.
   */
  private styleText(open: number): string {
    const start = this.at;
    let depth = 0;
    for (; this.at < this.text.length; this.at++) {
      const character = this.text[this.at];
      if (character === "'") {
        const close = this.text.indexOf("'", this.at + 1);
        if (close < 0)
          throw new MessageError(
            "A quotation in an argument's style does not end",
            this.at,
            "add the closing '",
          );
        this.at = close;
      } else if (character === '{') depth++;
      else if (character === '}' && depth-- === 0) return this.text.slice(start, this.at);
    }
    return this.unexpected('"}"', open);
  }

  private cases(
    kind: 'plural' | 'selectordinal' | 'select',
    name: string,
    start: number,
  ): MessageNode {
    if (!this.accept(',')) this.unexpected(`"," and the cases of the ${kind}`, start);
    if (++this.depth > DEEPEST) {
      throw new MessageError(
        `More than ${DEEPEST} arguments stand in one another`,
        start,
        'write whole sentences in fewer cases',
      );
    }
    this.skipSpace();
    const offset = kind === 'select' ? 0 : this.offset();
    const found: Case[] = [];
    const taken = new Set<string | number>();
    this.skipSpace();
    while (!this.accept('}')) {
      const one = this.case(kind, start);
      const key = one.exactly ?? one.selector;
      if (taken.has(key))
        throw new MessageError(
          `The case "${one.selector}" stands twice`,
          one.start,
          'remove one of the two',
        );
      taken.add(key);
      found.push(one);
      this.skipSpace();
    }
    if (!taken.has('other')) {
      throw new MessageError(
        `The ${kind} of {${name}} has no case "other"`,
        start,
        'add other {…}, for all that no case names',
      );
    }
    this.depth -= 1;
    const span = { name, cases: found, start, end: this.at };
    return kind === 'select' ? { kind, ...span } : { kind, offset, ...span };
  }

  private offset(): number {
    if (!this.text.startsWith('offset:', this.at)) return 0;
    this.at += 'offset:'.length;
    this.skipSpace();
    const start = this.at;
    const number = this.take(NUMBER);
    if (number === undefined)
      throw new MessageError('The offset has no number', start, 'write one such as offset:1');
    return this.finite(number, start);
  }

  private finite(text: string, start: number): number {
    const number = Number(text);
    if (Number.isFinite(number)) return number;
    throw new MessageError(
      `"${text.slice(0, 40)}" is too large a number`,
      start,
      'write one that can be counted to',
    );
  }

  private case(kind: 'plural' | 'selectordinal' | 'select', open: number): Case {
    const start = this.at;
    if (start >= this.text.length) return this.unexpected(`"}" to close the ${kind}`, open);
    let exactly: number | undefined;
    if (kind !== 'select' && this.accept('=')) {
      const number = this.take(NUMBER);
      if (number === undefined)
        throw new MessageError('"=" has no number behind it', start, 'write one such as =0');
      exactly = this.finite(number, start);
    } else if (this.identifier() === undefined) {
      const wanted =
        kind === 'select' ? 'a keyword such as other' : 'a plural category such as other, or =0';
      throw new MessageError(
        `The ${kind} has a case without a name`,
        start,
        `write ${wanted} before the brace`,
      );
    }
    const selector = this.text.slice(start, this.at);
    this.skipSpace();
    if (!this.accept('{')) this.unexpected(`"{" and the text of the case "${selector}"`, this.at);
    const message = this.message(kind === 'select' ? 'select' : 'plural');
    if (!this.accept('}')) this.unexpected(`"}" to close the case "${selector}"`, start);
    return { selector, ...(exactly === undefined ? {} : { exactly }), message, start };
  }

  private unexpected(expected: string, open: number, remedy = `write ${expected}`): never {
    const next = this.text.codePointAt(this.at);
    if (next === undefined) {
      throw new MessageError(
        `The message ends where ${expected} was expected`,
        open,
        "close what was opened here, or write '{' for the brace itself",
      );
    }
    throw new MessageError(
      `"${String.fromCodePoint(next)}" stands where ${expected} was expected`,
      this.at,
      remedy,
    );
  }

  private accept(character: string): boolean {
    if (this.text[this.at] !== character) return false;
    this.at += 1;
    return true;
  }

  private identifier(): string | undefined {
    const ascii = this.take(ASCII_IDENTIFIER);
    return (
      ascii ??
      (this.text.charCodeAt(this.at) < 0x80 && !/\w/.test(this.text.charAt(this.at))
        ? undefined
        : this.take(IDENTIFIER))
    );
  }

  private skipSpace(): void {
    this.take(SPACE);
  }

  private take(shape: RegExp): string | undefined {
    shape.lastIndex = this.at;
    const found = shape.exec(this.text)?.[0];
    if (found) this.at += found.length;
    return found;
  }
}

/**
 * Reads a text in ICU MessageFormat syntax (ICU's `MessagePattern`, apostrophe mode
 * DOUBLE_OPTIONAL).
 * @throws {MessageError} with the offset of what is wrong
 */
export function readMessage(text: string): Message {
  const plain = parseSimple(text);
  if (plain) return plain;
  if (text.length > LONGEST)
    throw new MessageError(
      `The message is longer than ${LONGEST} characters`,
      0,
      'write a sentence',
    );
  const parser = new Parser(text);
  return parser.message('message');
}

/** Parses a message; returns nothing where the text breaks the syntax. */
export function parsedMessage(text: string): Message | undefined {
  try {
    return readMessage(text);
  } catch (error) {
    if (error instanceof MessageError) return undefined;
    throw error;
  }
}
