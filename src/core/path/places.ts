import { argumentWord } from './identifier.js';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  isFloating,
  printPath,
  type Path,
  type Pattern,
  type PatternSegment,
} from './path.js';

/** One array or map on the way to a field. */
export interface Place {
  /** The argument's name: `targets_number`, `extras_key`. */
  readonly argument: string;
  /** Where in the path the element's place or the key stands. */
  readonly at: number;
  readonly kind: 'number' | 'key';
}

function wordBefore(pattern: Pattern, at: number): string {
  for (let before = at - 1; before >= 0; before--) {
    const segment = pattern[before];
    if (typeof segment === 'string') return argumentWord(segment);
  }
  return 'item';
}

/** Whether a segment is a place in an array, or any. */
export const isPlaceNumber = (segment: PatternSegment | undefined): boolean =>
  typeof segment === 'number' || segment === ANY_ELEMENT;

/**
 * The arrays and maps on a path, from the outside, with the names of their arguments. Names come
 * from the field's pattern where it has as many segments as the path, since only that distinguishes
 * a map's key from a member's name.
 */
export function placesOn(path: Pattern, declared: Pattern = path): Place[] {
  const names = declared.length === path.length && !declared.includes(ANY_DEPTH) ? declared : path;
  const taken = new Map<string, number>();
  const places: Place[] = [];
  for (const [at, segment] of names.entries()) {
    const kind =
      isPlaceNumber(segment) || (segment !== ANY_KEY && isPlaceNumber(path[at]))
        ? 'number'
        : segment === ANY_KEY
          ? 'key'
          : undefined;
    if (!kind) continue;
    const base = `${wordBefore(names, at)}_${kind}`;
    const times = (taken.get(base) ?? 0) + 1;
    taken.set(base, times);
    places.push({ argument: times === 1 ? base : `${base}_${times}`, at, kind });
  }
  return places;
}

/**
 * From which segment on a text names the places of a path: a text below `..` or a definition speaks
 * of what is inside of that.
 * @param about the pattern that the text is said of
 */
export function spokenFrom(about: Pattern | undefined, path: Pattern): number {
  return about && isFloating(about) ? Math.max(0, path.length - about.length + 1) : 0;
}

/**
 * The innermost element that contains a place, as it is printed: sentences name it, so that equal
 * labels are distinct.
 */
export const elementAround = (pattern: Pattern): string =>
  printPath(pattern.slice(0, pattern.lastIndexOf(ANY_ELEMENT) + 1));

/** The elements that enclose the value at the path, from the outside; not the value itself. */
export function enclosingElements(path: Pattern): Pattern[] {
  return path.flatMap((segment, at) =>
    isPlaceNumber(segment) && at < path.length - 1 ? [path.slice(0, at + 1)] : [],
  );
}

/**
 * Returns the name of a path's value without a label: its last word, split at case and underscores,
 * in lower case.
 * @param clean what is done to the word, which a client may send; not to numbers behind it
 * @param write how numbers are written
 */
export function lastWord(
  path: Path,
  pattern: Pattern,
  clean: (word: string) => string,
  write: (number: number) => string,
): string {
  const named = path.findLastIndex((segment) => typeof segment === 'string');
  const name = String(path[named] ?? '');
  const words =
    pattern[named] === ANY_KEY
      ? name
      : name
          .replace(/(\p{Ll}|\p{N})(\p{Lu})/gu, '$1 $2')
          .replace(/(\p{Lu})(\p{Lu}\p{Ll})/gu, '$1 $2')
          .replace(/[_\s-]+/g, ' ')
          .trim()
          .toLowerCase();
  const numbers = path.slice(named + 1).map((place) => write(Number(place) + 1));
  return [clean(words), ...numbers].filter((part) => part !== '').join(' ');
}
