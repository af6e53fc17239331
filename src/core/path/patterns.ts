import { parsePattern, printPath, type Pattern } from './path.js';

/** A pattern, and how it is written when it is written plainly. */
export interface WrittenPattern {
  readonly pattern: Pattern;
  readonly path: string;
}

/**
 * Patterns by how files write them: the catalogs of a workspace name the same paths, and each is
 * read once.
 */
export class Patterns {
  private readonly known = new Map<string, WrittenPattern>();

  /** @throws {PathSyntaxError} */
  of(text: string): WrittenPattern {
    let known = this.known.get(text);
    if (!known) {
      const pattern = parsePattern(text);
      const path = printPath(pattern);
      // One and the same string is quicker to look up by than an equal one.
      this.known.set(text, (known = { pattern, path: path === text ? text : path }));
    }
    return known;
  }
}
