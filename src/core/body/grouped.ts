import { printPath } from '../path/path.js';
import type { Sentence, SentenceCase } from '../violation/sentence.js';
import type { Answer } from './answer.js';

/** All that an answer says about one field. */
export interface FieldGroup {
  /** The path in our notation; a parameter's name; empty for the whole body. */
  readonly field: string;
  readonly case: SentenceCase;
  readonly sentences: readonly Sentence[];
}

/** The name under which a client finds the field again. */
export const fieldName = ({ path }: SentenceCase): string => printPath(path);

/**
 * The sentences of an answer by field, in document order. A parameter and a body field of one name
 * are two fields.
 */
export function groupedByField({ sentences }: Answer): FieldGroup[] {
  const groups = new Map<string, { field: string; case: SentenceCase; sentences: Sentence[] }>();
  for (const sentence of sentences) {
    const field = fieldName(sentence.case);
    const key = `${sentence.case.in} ${field}`;
    const group = groups.get(key);
    if (group) group.sentences.push(sentence);
    else groups.set(key, { field, case: sentence.case, sentences: [sentence] });
  }
  return [...groups.values()];
}
