import { ANY_DEPTH, ANY_ELEMENT, ANY_KEY, type Path, type Pattern } from '../path/path.js';
import { isObject } from '../reading.js';

/** A place in a payload that a pattern names; the value is undefined where nothing stands there. */
export interface Occurrence {
  readonly path: Path;
  readonly value: unknown;
}

/** The member of an object or the element of an array; undefined for what is not there, and for what prototypes have. */
export function memberOf(value: unknown, segment: string | number): unknown {
  if (typeof segment === 'number') return Array.isArray(value) ? (value as unknown[])[segment] : undefined;
  return isObject(value) && Object.hasOwn(value, segment) ? value[segment] : undefined;
}

/** What stands at a path. */
export function valueAt(root: unknown, path: Path): unknown {
  return path.reduce<unknown>(memberOf, root);
}

function* below(start: Occurrence): Generator<Occurrence> {
  // Without recursion: clients choose the depth.
  const waiting = [start];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    yield next;
    const inner = [...elements(next), ...members(next)];
    for (let at = inner.length - 1; at >= 0; at--) waiting.push(inner[at] ?? next);
  }
}

const elements = ({ path, value }: Occurrence): Occurrence[] =>
  Array.isArray(value) ? value.map((one: unknown, at) => ({ path: [...path, at], value: one })) : [];

const members = ({ path, value }: Occurrence): Occurrence[] =>
  isObject(value) ? Object.entries(value).map(([name, one]) => ({ path: [...path, name], value: one })) : [];

/**
 * All places of a payload that a pattern names, in document order. A name leads on also where nothing stands, so that what
 * is missing can be told; elements and keys are only those that are there, and so is what comes right behind `..`.
 */
export function occurrences(pattern: Pattern, root: unknown): Occurrence[] {
  let found: Occurrence[] = [{ path: [], value: root }];
  let anywhere = false;
  for (const segment of pattern) {
    if (segment === ANY_DEPTH) {
      found = found.flatMap((one) => [...below(one)]);
      anywhere = true;
      continue;
    }
    found = found.flatMap((one) => {
      if (segment === ANY_ELEMENT) return elements(one);
      if (segment === ANY_KEY) return members(one);
      const value = memberOf(one.value, segment);
      return anywhere && value === undefined ? [] : [{ path: [...one.path, segment], value }];
    });
    anywhere = false;
  }
  return found;
}
