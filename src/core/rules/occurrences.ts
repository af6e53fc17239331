import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  isSharedRoot,
  type Path,
  type Pattern,
  type SharedRoot,
} from '../path/path.js';
import { parsePointer } from '../path/pointer.js';
import { isObject } from '../reading.js';

/** A place in a payload that a pattern names; the value is undefined where nothing stands there. */
export interface Occurrence {
  readonly path: Path;
  readonly value: unknown;
}

/**
 * The member of an object or the element of an array; undefined for what is not there, and for what
 * prototypes have.
 */
export function memberOf(value: unknown, segment: string | number): unknown {
  if (typeof segment === 'number')
    return Array.isArray(value) ? (value as unknown[])[segment] : undefined;
  if (!isObject(value)) return undefined;
  if (Object.hasOwn(value, segment)) return value[segment];
  // Validators in code are given maps too.
  return value instanceof Map ? (value as Map<unknown, unknown>).get(segment) : undefined;
}

/** Returns the value at a path. */
export function valueAt(root: unknown, path: Path): unknown {
  // A loop, since this is asked of every issue of a report.
  let value = root;
  for (const segment of path) value = memberOf(value, segment);
  return value;
}

/**
 * Follows a JSON Pointer through a value: a number leads into a list, a name into an object,
 * whatever it looks like.
 */
export function pathThrough(pointer: string, root: unknown): Path {
  let value = root;
  return parsePointer(pointer).map((token) => {
    const segment = Array.isArray(value) ? token : String(token);
    value = memberOf(value, segment);
    return segment;
  });
}

/** Arrays whose elements are skipped: they have too many, which is the violation. */
export type Closed = ReadonlySet<unknown>;

const NONE: Closed = new Set();

const beginnings = new WeakMap<Pattern, readonly string[]>();

/**
 * A name for each beginning of a pattern, the same in all patterns that begin so; patterns are
 * asked for with every request.
 */
function beginningsOf(pattern: Pattern): readonly string[] {
  let known = beginnings.get(pattern);
  if (!known) {
    let key = '';
    known = pattern.map((segment) => {
      key +=
        typeof segment === 'symbol'
          ? ` ${String(segment.description)}`
          : ` ${JSON.stringify(segment)}`;
      return key;
    });
    beginnings.set(pattern, known);
  }
  return known;
}

/**
 * Finds where definitions of a form stand in a value, in document order.
 * @param inner what is inside of a place
 */
export type FindDefinitions = (
  root: unknown,
  inner: (place: Occurrence) => readonly Occurrence[],
) => ReadonlyMap<SharedRoot, readonly Occurrence[]>;

/**
 * All places of a payload that patterns name, in document order; what the beginnings of several
 * have in common is found once.
 */
export class Occurrences {
  private readonly found = new Map<string, readonly Occurrence[]>();
  private standing: ReadonlyMap<SharedRoot, readonly Occurrence[]> | undefined;

  /** @param definitions finds where definitions stand, in a form that has some */
  constructor(
    private readonly root: unknown,
    private readonly definitions?: FindDefinitions,
    private readonly closed: Closed = NONE,
  ) {}

  /**
   * A name leads on also where nothing stands, so that a missing value can be reported; elements
   * and keys are only the existing ones, and so is what follows `..`. Inside of something that is
   * neither object nor list nothing is missing.
   */
  of(pattern: Pattern): readonly Occurrence[] {
    const keys = beginningsOf(pattern);
    let at = pattern.length;
    let places: readonly Occurrence[] | undefined;
    // From the longest beginning that was found already.
    while (at > 0 && !places) places = this.found.get(keys[--at] ?? '');
    if (places) at += 1;
    else places = [{ path: [], value: this.root }];
    for (; at < pattern.length; at++) {
      const segment = pattern[at];
      if (segment === undefined) break;
      places = this.step(places, segment, pattern[at - 1] === ANY_DEPTH);
      this.found.set(keys[at] ?? '', places);
    }
    return places;
  }

  private step(
    places: readonly Occurrence[],
    segment: Pattern[number],
    anywhere: boolean,
  ): readonly Occurrence[] {
    const next: Occurrence[] = [];
    if (isSharedRoot(segment))
      return (
        (this.standing ??= this.definitions?.(this.root, (one) => this.inner(one)))?.get(segment) ??
        []
      );
    for (const one of places) {
      if (segment === ANY_DEPTH) for (const inner of this.below(one)) next.push(inner);
      else if (segment === ANY_ELEMENT) for (const inner of this.elements(one)) next.push(inner);
      else if (segment === ANY_KEY) for (const inner of members(one)) next.push(inner);
      else if (this.leadsOn(one.value, segment)) {
        const value = memberOf(one.value, segment);
        if (!anywhere || value !== undefined) next.push({ path: [...one.path, segment], value });
      }
    }
    return next;
  }

  private inner(place: Occurrence): readonly Occurrence[] {
    return [...this.elements(place), ...members(place)];
  }

  private leadsOn(value: unknown, segment: string | number): boolean {
    if (value === undefined || value === null) return true;
    if (typeof segment === 'number') return Array.isArray(value) && !this.closed.has(value);
    return isObject(value);
  }

  private *below(start: Occurrence): Generator<Occurrence> {
    // Without recursion: clients choose the depth.
    const waiting = [start];
    for (let next = waiting.pop(); next; next = waiting.pop()) {
      yield next;
      const inner = this.inner(next);
      for (let at = inner.length - 1; at >= 0; at--) waiting.push(inner[at] ?? next);
    }
  }

  private elements({ path, value }: Occurrence): Occurrence[] {
    if (!Array.isArray(value) || this.closed.has(value)) return [];
    return value.map((one: unknown, at) => ({ path: [...path, at], value: one }));
  }
}

const members = ({ path, value }: Occurrence): Occurrence[] =>
  isObject(value)
    ? Object.entries(value).map(([name, one]) => ({ path: [...path, name], value: one }))
    : [];

/** All places of a payload that one pattern names. */
export const occurrences = (pattern: Pattern, root: unknown): readonly Occurrence[] =>
  new Occurrences(root).of(pattern);
