import { distance } from 'fastest-levenshtein';
import { nearestBy } from './nearest.js';

/** The name that somebody most likely meant; nothing where none is near. */
export const closest = (name: string, names: Iterable<string>): string | undefined =>
  nearestBy(distance, name, names);

/** ` (did you mean "…"?)` for the nearest name, or an empty text. */
export function suggestion(name: string, names: Iterable<string>): string {
  const near = closest(name, names);
  return near === undefined ? '' : ` (did you mean "${near}"?)`;
}
