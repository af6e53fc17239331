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
    const length = literal[at] !== '\\' ? 1 : literal[at + 1] === 'u' ? 6 : 2;
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
