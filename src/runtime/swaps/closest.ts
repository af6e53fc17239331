// Replaces core/text/closest.ts: values are compared without a package, and there are no
// suggestions for misspelt names in code.
import { nearestBy } from '../../core/text/nearest.js';

/** Levenshtein's distance, by rows. */
function distance(one: string, other: string): number {
  let row = Array.from({ length: other.length + 1 }, (_, at) => at);
  for (let i = 0; i < one.length; i++) {
    const next = [i + 1];
    for (let j = 0; j < other.length; j++) {
      const replaced = (row[j] ?? 0) + (one[i] === other[j] ? 0 : 1);
      next.push(Math.min(replaced, (row[j + 1] ?? 0) + 1, (next[j] ?? 0) + 1));
    }
    row = next;
  }
  return row[other.length] ?? 0;
}

export const closest = (name: string, names: Iterable<string>): string | undefined =>
  nearestBy(distance, name, names);
export const suggestion = (): string => '';
