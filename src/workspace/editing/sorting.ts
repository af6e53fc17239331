import { SECTIONS } from '../../core/texts/purpose.js';
import { namesIn, reorderIn } from '../documents/json-text.js';

/** The objects of a catalog whose members have no order of their own, by their keys. */
function sections(text: string): (readonly string[])[] {
  const fields = namesIn(text, ['fields']).map((name) => ['fields', name]);
  return [
    ...SECTIONS,
    ['words'],
    ...fields.flatMap((keys) => [
      [...keys, 'messages'],
      [...keys, 'choices'],
    ]),
  ];
}

/** The result of sorting a catalog. */
export interface Sorted {
  readonly text: string;
  /** The sections that stay as they are, since comments stand between their members. */
  readonly left: readonly string[];
}

/**
 * Puts the members of a catalog in the order of their names (by code units, as `neighbour` keeps
 * them when something is added). What two branches add stands in two places then.
 */
export function sortCatalog(text: string): Sorted {
  const left: string[] = [];
  const sorted = sections(text).reduce((now, keys) => {
    const names = namesIn(now, keys);
    const order = [...names].sort();
    if (order.every((name, at) => name === names[at])) return now;
    const result = reorderIn(now, keys, order);
    if (result === now) left.push(keys.join(' > '));
    return result;
  }, text);
  return { text: sorted, left };
}
