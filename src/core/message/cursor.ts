/** Where in a message something is being typed, however broken the message is at the time. */
export type MessageCursor =
  | { readonly in: 'text' }
  /** The name of an argument, from behind its brace. */
  | { readonly in: 'name'; readonly from: number; readonly typed: string }
  /** The type of an argument: `plural`, `number`, … */
  | { readonly in: 'type'; readonly name: string; readonly from: number; readonly typed: string }
  /** The style of a number, date or time. */
  | {
      readonly in: 'style';
      readonly name: string;
      readonly type: string;
      readonly from: number;
      readonly typed: string;
    }
  /** A case of a plural or select; those that stand there already are named. */
  | {
      readonly in: 'case';
      readonly name: string;
      readonly type: string;
      readonly from: number;
      readonly typed: string;
      readonly there: readonly string[];
    };

interface Open {
  /** Its parts so far, ended by commas. */
  readonly parts: string[];
  /** The cases that were begun. */
  readonly there: string[];
  /** Where the part in hand begins. */
  from: number;
}

const CHOOSES = /^(?:plural|selectordinal|select)$/;

/** Skips what is quoted from an apostrophe on; gives where the text goes on. */
function afterQuote(text: string, at: number, end: number): number {
  const next = text[at + 1];
  if (next === "'") return at + 2;
  if (next !== '{' && next !== '}') return at + 1;
  const close = text.indexOf("'", at + 2);
  return close < 0 || close >= end ? end : close + 1;
}

function cursorIn({ parts, there, from }: Open, text: string, offset: number): MessageCursor {
  const typed = text.slice(from, offset).trimStart();
  const start = offset - typed.length;
  const [name = '', type = ''] = parts;
  if (parts.length === 0) return { in: 'name', from: start, typed };
  if (parts.length === 1) return { in: 'type', name, from: start, typed };
  if (!CHOOSES.test(type)) return { in: 'style', name, type, from: start, typed };
  return { in: 'case', name, type, from: start, typed, there };
}

/**
 * Finds the part at a place of a message.
 * @param offset in units of UTF-16, from 0
 */
export function messageCursor(text: string, offset: number): MessageCursor {
  // Arguments and, between them, the cases of those that choose: in a case there is text again.
  const open: (Open | 'case')[] = [];
  let at = 0;
  while (at < offset) {
    const character = text[at];
    const inner = open.at(-1);
    if (inner === undefined || inner === 'case') {
      if (character === "'") {
        at = afterQuote(text, at, offset);
        continue;
      }
      if (character === '{') open.push({ parts: [], there: [], from: at + 1 });
      else if (character === '}') open.pop();
      at++;
      // Behind a case the next one begins.
      const around = open.at(-1);
      if (character === '}' && around !== undefined && around !== 'case') around.from = at;
      continue;
    }
    if (character === ',' && inner.parts.length < 2) {
      inner.parts.push(text.slice(inner.from, at).trim());
      inner.from = at + 1;
    } else if (
      character === '{' &&
      inner.parts.length === 2 &&
      CHOOSES.test(inner.parts[1] ?? '')
    ) {
      inner.there.push(text.slice(inner.from, at).trim());
      open.push('case');
    } else if (character === '}') {
      open.pop();
    }
    at++;
  }
  const inner = open.at(-1);
  return inner === undefined || inner === 'case' ? { in: 'text' } : cursorIn(inner, text, offset);
}
