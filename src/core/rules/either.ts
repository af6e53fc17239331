import { isPath, type Path } from '../path/path.js';
import { placeIn } from '../path/place.js';
import { wordOf } from '../text/outer.js';
import type { Params } from './definition.js';

/** The rules about which of some members an object has. */
const EITHER: ReadonlySet<string> = new Set(['atLeastOne', 'exactlyOne']);

/**
 * The members that such a rule names, as paths inside of the object; none for other rules, and of
 * what is not a path.
 */
export function membersNamed(rule: string, { members }: Params): readonly Path[] {
  if (!EITHER.has(rule) || !Array.isArray(members)) return [];
  return members.flatMap((one: unknown) => {
    const place = placeIn(wordOf(one));
    return place && isPath(place) ? [place] : [];
  });
}
