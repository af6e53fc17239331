/** Line and column from 1, columns in UTF-16 units, of an offset from 0. */
export interface Position {
  readonly line: number;
  readonly column: number;
}

/** The position of one offset. Line ends are LF, CR LF or CR. */
export function positionAt(text: string, offset: number): Position {
  const before = text.slice(0, offset);
  const ends = before.match(/\r\n|[\r\n]/g)?.length ?? 0;
  const start = Math.max(before.lastIndexOf('\n'), before.lastIndexOf('\r')) + 1;
  return { line: ends + 1, column: offset - start + 1 };
}
