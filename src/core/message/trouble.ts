import { readMessage } from './parse.js';
import { MessageError } from './syntax-error.js';

/** Returns the fault of a text as a message, in words; nothing where it is valid. */
export function messageProblem(text: string): string | undefined {
  if (/[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/.test(text))
    return 'it holds half of a surrogate pair, which no file in UTF-8 can keep';
  try {
    readMessage(text);
    return undefined;
  } catch (error) {
    if (!(error instanceof MessageError)) throw error;
    return `at character ${error.offset + 1}: ${error.problem}; ${error.remedy}`;
  }
}
