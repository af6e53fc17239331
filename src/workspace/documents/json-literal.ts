// Texts in double quotes, as JSON writes them.

const BACKSLASH = 0x5c;

/** How much of a literal stands for one unit: an escape of two or six, or one. */
const lengthAt = (literal: string, at: number): number =>
  literal[at] !== '\\' ? 1 : literal[at + 1] === 'u' ? 6 : 2;

/** Where a string ends that begins at a quote: behind its closing quote, or at the end of all. */
export function afterString(text: string, open: number): number {
  let close = text.indexOf('"', open + 1);
  while (close > 0 && text.charCodeAt(close - 1) === BACKSLASH) {
    let slashes = 1;
    while (text.charCodeAt(close - 1 - slashes) === BACKSLASH) slashes++;
    if (slashes % 2 === 0) break;
    close = text.indexOf('"', close + 1);
  }
  return close < 0 ? text.length : close + 1;
}

/** Where in a JSON string literal, quotes included, the text's unit at `offset` is written. */
export function offsetInLiteral(literal: string, offset: number): number {
  let at = 1;
  for (let unit = 0; unit < offset && at < literal.length - 1; unit++) at += lengthAt(literal, at);
  return at;
}

/**
 * The text of a literal as far as it can be read, and where each of its units stands in the file,
 * from the literal's beginning.
 */
export function unescaped(literal: string): {
  readonly text: string;
  readonly places: readonly number[];
} {
  let text = '';
  const places: number[] = [];
  const end = literal.length > 1 && literal.endsWith('"') ? literal.length - 1 : literal.length;
  for (let at = 1; at < end;) {
    const length = lengthAt(literal, at);
    const part = literal.slice(at, at + length);
    let unit = part;
    if (length > 1) {
      try {
        unit = JSON.parse(`"${part}"`) as string;
      } catch {
        unit = ' ';
      }
    }
    text += unit;
    for (let nth = 0; nth < unit.length; nth++) places.push(at);
    at += length;
  }
  return { text, places: [...places, end] };
}
