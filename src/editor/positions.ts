import { PositionEncodingKind, type Position, type Range } from 'vscode-languageserver/node';
import { TextDocument } from 'vscode-languageserver-textdocument';

/**
 * How positions within a line are counted: in units of UTF-16, which every client knows, or in
 * bytes of UTF-8.
 */
export type Counting = 'utf-16' | 'utf-8';

/** Chooses the position encoding: the first of the client's that the server supports. */
export function countingFor(offered: readonly string[] | undefined): Counting {
  const first = offered?.find(
    (one) => one === PositionEncodingKind.UTF8 || one === PositionEncodingKind.UTF16,
  );
  return first === PositionEncodingKind.UTF8 ? 'utf-8' : 'utf-16';
}

const bytesOf = (text: string): number => Buffer.byteLength(text);

function lineOf(document: TextDocument, line: number): string {
  return document.getText({ start: { line, character: 0 }, end: { line: line + 1, character: 0 } });
}

/**
 * How many units of UTF-16 the first bytes of a line are; a position within a character counts as
 * before it.
 */
function unitsOf(line: string, bytes: number): number {
  let left = bytes;
  let units = 0;
  for (const character of line) {
    left -= bytesOf(character);
    if (left < 0) break;
    units += character.length;
  }
  return units;
}

/**
 * The text of a file, as an editor has it or as it stands on disk, with positions as the client
 * counts them.
 */
export class OpenText {
  constructor(
    readonly document: TextDocument,
    private readonly counting: Counting,
  ) {}

  static of(text: string, counting: Counting): OpenText {
    return new OpenText(TextDocument.create('', '', 0, text), counting);
  }

  get text(): string {
    return this.document.getText();
  }

  offset({ line, character }: Position): number {
    const units =
      this.counting === 'utf-8' ? unitsOf(lineOf(this.document, line), character) : character;
    return this.document.offsetAt({ line, character: units });
  }

  position(offset: number): Position {
    const { line, character } = this.document.positionAt(offset);
    if (this.counting === 'utf-16') return { line, character };
    return { line, character: bytesOf(lineOf(this.document, line).slice(0, character)) };
  }

  range({ from, to }: Extent): Range {
    return { start: this.position(from), end: this.position(to) };
  }

  /** A range as the document itself counts it. */
  ownRange({ start, end }: Range): Range {
    if (this.counting === 'utf-16') return { start, end };
    return {
      start: this.document.positionAt(this.offset(start)),
      end: this.document.positionAt(this.offset(end)),
    };
  }
}

/** A part of a text, in units of UTF-16 from 0. */
export interface Extent {
  readonly from: number;
  readonly to: number;
}
