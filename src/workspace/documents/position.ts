/** Line and column from 1, columns in UTF-16 units, of an offset from 0. */
export interface Position {
  readonly line: number;
  readonly column: number;
}

/** Where the lines of a text start, looked up by offset. Line ends are LF, CR LF or CR. */
export class Lines {
  private readonly starts: number[] = [0];

  constructor(private readonly text: string) {
    if (text.includes('\r'))
      for (const { 0: end, index } of text.matchAll(/\r\n?|\n/g))
        this.starts.push(index + end.length);
    else
      for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1))
        this.starts.push(at + 1);
  }

  /** Returns a line, from 1, without its end. */
  lineText(line: number): string {
    return this.text.slice(this.starts[line - 1] ?? 0, this.starts[line]).replace(/[\r\n]+$/, '');
  }

  position(offset: number): Position {
    let low = 0;
    let high = this.starts.length - 1;
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if ((this.starts[middle] ?? 0) <= offset) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: offset - (this.starts[low] ?? 0) + 1 };
  }
}

/** The position of one offset. */
export function positionAt(text: string, offset: number): Position {
  return new Lines(text).position(offset);
}
