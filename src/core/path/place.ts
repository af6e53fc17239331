import { parsePattern, PathSyntaxError, type Pattern } from './path.js';
import { parsePointer, PointerSyntaxError } from './pointer.js';

/** The place that a text from outside names, in our notation or as a pointer, if it is one. */
export function placeIn(text: string): Pattern | undefined {
  try {
    return /^#?\//.test(text) ? parsePointer(text) : parsePattern(text);
  } catch (error) {
    if (error instanceof PathSyntaxError || error instanceof PointerSyntaxError) return undefined;
    throw error;
  }
}
