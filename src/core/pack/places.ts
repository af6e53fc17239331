import { anywhere, isSharedRoot, printPath, type Pattern, type SharedRoot } from '../path/path.js';
import type { Field, Form } from '../rules/form.js';

/** The most places of one definition that have sentences of their own. */
const MOST_PLACES = 40;

/** So often a definition is entered on the way to a place of its own. */
const MOST_LEVELS = 3;

/**
 * Lists where each definition of a form stands, the nearest to the beginning first, as patterns
 * without definitions. Of places inside of each other there is no end, so the list has one.
 */
function placesOf({ joins = [] }: Form, part: Field['in']): Map<SharedRoot, Pattern[]> {
  const own = joins.filter((join) => join.in === part);
  const found = new Map<SharedRoot, Pattern[]>();
  const enter = (root: SharedRoot, place: Pattern): boolean => {
    const places = found.get(root) ?? [];
    if (places.length >= MOST_PLACES) return false;
    found.set(root, [...places, place]);
    return true;
  };
  let around = own.filter(
    (join) => !isSharedRoot(join.pattern[0]) && enter(join.root, join.pattern),
  );
  for (let level = 1; level < MOST_LEVELS; level++)
    around = around.flatMap(({ root, pattern }) =>
      own.flatMap((join) => {
        if (join.pattern[0] !== root) return [];
        const place = [...pattern, ...join.pattern.slice(1)];
        return enter(join.root, place) ? [{ ...join, pattern: place }] : [];
      }),
    );
  return found;
}

/** Where a field of a form has sentences: by the pattern that a pack has, what is said there. */
export interface FieldPlaces {
  /** Patterns without definitions. */
  readonly exact: readonly Pattern[];
  /**
   * For all other places of a definition: the key in the pack, which begins with `..`, and the
   * pattern that is spoken of.
   */
  readonly anywhere: readonly (readonly [key: Pattern, about: Pattern])[];
}

/** Returns a function that lists the places of a form's fields. */
export function fieldPlaces(form: Form): (field: Field) => FieldPlaces {
  const known = new Map<Field['in'], Map<SharedRoot, Pattern[]>>();
  return ({ pattern, in: part }) => {
    const [root, ...inside] = pattern;
    if (!isSharedRoot(root)) return { exact: [pattern], anywhere: [] };
    const places = known.get(part) ?? placesOf(form, part);
    known.set(part, places);
    const exact = (places.get(root) ?? []).map((place) => [...place, ...inside]);
    if (inside.length > 0) return { exact, anywhere: [[anywhere(pattern), pattern]] };
    // The definition itself has no name of its own: it stands where others have it.
    const standing = (form.joins ?? []).filter(
      (join) => join.in === part && join.root === root && isSharedRoot(join.pattern[0]),
    );
    const named = new Map(
      standing
        .filter(({ pattern: around }) => around.length > 1)
        .map(({ pattern: around }) => [printPath(anywhere(around)), around]),
    );
    return { exact, anywhere: [...named.values()].map((around) => [anywhere(around), around]) };
  };
}
