import { closest } from '../text/closest.js';
import { parseDateStyle } from './date-style.js';
import { parseNumberStyle } from './number-style.js';
import { Signature } from './signature.js';
import { MessageSyntaxError } from './syntax-error.js';
import type { Case, Message, MessageNode } from './tree.js';

/** How deep messages may stand in cases of others. Nobody can translate what is nested deeper, and the stack stays safe. */
export const DEEPEST = 50;

const SPACE = /[\t-\r \u0085\u200E\u200F\u2028\u2029]*/y; // Pattern_White_Space, all of it
const IDENTIFIER = /[^\p{Pattern_Syntax}\p{Pattern_White_Space}]+/uy;
/** The same where nothing but ASCII follows; a class of Unicode costs milliseconds to compile, and few messages need one. */
const ASCII_IDENTIFIER = /\w+(?![^\x00-\x7f]|\w)/y;
const NUMBER = /[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?/y;
const PLAIN = /[^'{}#]+/y;

/** Formats of ICU that this dialect refuses, with what to write instead. */
const REFUSED: Record<string, string> = {
  choice: 'write plural or select',
  spellout: 'write the number in digits, as in {n, number}',
  ordinal: 'write selectordinal',
  duration: 'give the number and write its unit, as in {n, number, ::unit/second}',
};

const TYPES = ['number', 'date', 'time', 'plural', 'selectordinal', 'select'] as const;
type ArgumentType = (typeof TYPES)[number];

type Within = 'message' | 'plural' | 'select';

class Parser {
  at = 0;
  depth = 0;
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

  /** An apostrophe quotes only where it stands before a brace (in a plural also `#`); two are one; others stay as they are. */
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
    if (!this.accept(',')) this.unexpected('"}" or ","', start, "close the argument behind its name, or quote the brace: '{'");
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
    const name = this.identifier();
    if (name === undefined) {
      if (this.at >= this.text.length) return this.unexpected('an argument\'s name and "}"', open);
      throw new MessageSyntaxError('An argument has no name', start, "write one such as {label}, or '{' for the brace itself");
    }
    if (/^[0-9]/.test(name) && !/^(?:0|[1-9]\d{0,8})$/.test(name)) {
      throw new MessageSyntaxError(
        `"${name}" is no argument's name`,
        start,
        'a name starts with a letter, or is a plain number such as 0',
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
    if (remedy) throw new MessageSyntaxError(`The type "${word}" of {${name}} is not supported`, start, remedy);
    const near = closest(type, TYPES);
    throw new MessageSyntaxError(
      `"${word}" is no argument type`,
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
    if (kind === 'number') return { kind, style: parseNumberStyle(styleText, styleAt), ...span };
    return { kind, style: parseDateStyle(kind, styleText, styleAt), ...span };
  }

  /** The style up to the closing brace of the argument: quoted parts and pairs of braces belong to it. */
  private styleText(open: number): string {
    const start = this.at;
    let depth = 0;
    for (; this.at < this.text.length; this.at++) {
      const character = this.text[this.at];
      if (character === "'") {
        const close = this.text.indexOf("'", this.at + 1);
        if (close < 0)
          throw new MessageSyntaxError("A quotation in an argument's style does not end", this.at, "add the closing '");
        this.at = close;
      } else if (character === '{') depth++;
      else if (character === '}' && depth-- === 0) return this.text.slice(start, this.at);
    }
    return this.unexpected('"}"', open);
  }

  private cases(kind: 'plural' | 'selectordinal' | 'select', name: string, start: number): MessageNode {
    if (!this.accept(',')) this.unexpected(`"," and the cases of the ${kind}`, start);
    if (++this.depth > DEEPEST) {
      throw new MessageSyntaxError(
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
        throw new MessageSyntaxError(`The case "${one.selector}" stands twice`, one.start, 'remove one of the two');
      taken.add(key);
      found.push(one);
      this.skipSpace();
    }
    if (!taken.has('other')) {
      throw new MessageSyntaxError(
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
    if (number === undefined) throw new MessageSyntaxError('The offset has no number', start, 'write one such as offset:1');
    return Number(number);
  }

  private case(kind: 'plural' | 'selectordinal' | 'select', open: number): Case {
    const start = this.at;
    if (start >= this.text.length) return this.unexpected(`"}" to close the ${kind}`, open);
    let exactly: number | undefined;
    if (kind !== 'select' && this.accept('=')) {
      const number = this.take(NUMBER);
      if (number === undefined) throw new MessageSyntaxError('"=" has no number behind it', start, 'write one such as =0');
      exactly = Number(number);
    } else if (this.identifier() === undefined) {
      const wanted = kind === 'select' ? 'a keyword such as other' : 'a plural category such as other, or =0';
      throw new MessageSyntaxError(`The ${kind} has a case without a name`, start, `write ${wanted} before the brace`);
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
      throw new MessageSyntaxError(
        `The message ends where ${expected} was expected`,
        open,
        "close what was opened here, or write '{' for the brace itself",
      );
    }
    throw new MessageSyntaxError(`"${String.fromCodePoint(next)}" stands where ${expected} was expected`, this.at, remedy);
  }

  private accept(character: string): boolean {
    if (this.text[this.at] !== character) return false;
    this.at += 1;
    return true;
  }

  private identifier(): string | undefined {
    const ascii = this.take(ASCII_IDENTIFIER);
    return (
      ascii ?? (this.text.charCodeAt(this.at) < 0x80 && !/\w/.test(this.text.charAt(this.at)) ? undefined : this.take(IDENTIFIER))
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

const PLAIN_NAME = /^[A-Za-z]\w*$/;
/** Apostrophes that quote, or that two of are one; others are text. */
const QUOTING = /'['{}]/;

/** Nearly all messages are text with a few names in braces; these need no parser. Nothing where there is more to it. */
function parsePlain(text: string): MessageNode[] | undefined {
  if (plainSignature(text) === undefined) return undefined;
  const nodes: MessageNode[] = [];
  for (let at = 0; at < text.length;) {
    const open = text.indexOf('{', at);
    const start = open < 0 ? text.length : open;
    if (start > at) nodes.push({ kind: 'text', text: text.slice(at, start), start: at, end: start });
    if (open < 0) break;
    at = text.indexOf('}', open) + 1;
    nodes.push({ kind: 'argument', name: text.slice(open + 1, at - 1), start: open, end: at });
  }
  return nodes;
}

/** The signature of a text that is no more than words and names in braces; nothing of others, which only the parser knows. */
export function plainSignature(text: string): Signature | undefined {
  if (text.includes("'") && QUOTING.test(text)) return undefined;
  let signature = Signature.NONE;
  for (let at = 0; ;) {
    const open = text.indexOf('{', at);
    const close = text.indexOf('}', at);
    if (open < 0) return close < 0 ? signature : undefined;
    if (close < open) return undefined;
    const name = text.slice(open + 1, close);
    const longer = signature.known(name) ?? (PLAIN_NAME.test(name) ? signature.with(name) : undefined);
    if (!longer) return undefined;
    signature = longer;
    at = close + 1;
  }
}

/**
 * Reads a text in ICU MessageFormat syntax (ICU's `MessagePattern`, apostrophe mode DOUBLE_OPTIONAL).
 * @throws {MessageSyntaxError} with the offset of what is wrong
 */
export function parseMessage(text: string): Message {
  const plain = parsePlain(text);
  if (plain) return plain;
  return new Parser(text).message('message');
}
