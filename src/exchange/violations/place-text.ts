import { parsePointer } from '../../core/path/pointer.js';
import { numberOf, wordOf } from '../../core/text/outer.js';
import { nearestPointer } from './foreign.js';

/** One step: a name, digits or what is quoted in brackets, or what else stands in them. */
const STEP =
  /(?:^|\.)([^.[\]]+)|\[\s*(?:(\d+)|"((?:[^"\\]|\\.)*)"|'((?:[^'\\]|\\.)*)')\s*\]|\[([^[\]"']*)\]/gsy;
const BLANKS = /\s*/y;

/** Escapes are those of JSON, and a backslash before any sign (RFC 9535 section 2.3.1.1). */
const unescaped = (text: string): string =>
  text.replace(/\\(u[\da-f]{4}|.)/gis, (whole, one: string) =>
    one.length > 1 || 'bfnrt'.includes(one) ? (JSON.parse(`"${whole}"`) as string) : one,
  );

/** A place, as far as it can be read. */
export interface ReadPlace {
  readonly segments: readonly (string | number)[];
  /** Whether that is all of it. */
  readonly isWhole: boolean;
}

/**
 * Segments of a dotted or bracketed place, such as `targets[2].name`, `targets.2.name`,
 * `$.targets[2]['name']` (RFC 9535).
 */
function dotted(text: string): ReadPlace {
  // A query may have blanks between its segments.
  const isQuery = /^\$(?=$|[\s.[])/.test(text);
  const rest = isQuery ? text.replace(/^\$\s*\.?/, '') : text.replace(/^\./, '');
  const segments: (string | number)[] = [];
  for (let at = 0; at < rest.length; at = STEP.lastIndex) {
    STEP.lastIndex = at;
    const step = STEP.exec(rest);
    if (!step) return { segments, isWhole: false };
    const [, name, place, double, single, bare = ''] = step;
    const quoted = double ?? single;
    if (place !== undefined) segments.push(numberOf(place));
    else if (quoted !== undefined) segments.push(unescaped(quoted));
    else segments.push(isQuery ? (name ?? bare).trimEnd() : (name ?? bare));
    if (!isQuery) continue;
    BLANKS.lastIndex = STEP.lastIndex;
    STEP.lastIndex += BLANKS.exec(rest)?.[0].length ?? 0;
  }
  return { segments, isWhole: true };
}

/**
 * Returns the segments of a JSON Pointer: the value decides whether digits are a place or a name.
 */
function ofPointer(pointer: string): ReadPlace {
  const near = nearestPointer(pointer);
  return { segments: parsePointer(near).map(wordOf), isWhole: near === pointer };
}

/**
 * Where something stands, as validators of many languages write it: a list of segments (or of
 * objects with `key`, `name`, `property` or `index`), a JSON Pointer, or a dotted or bracketed
 * path.
 * @returns what of it can be read
 */
export function readPlace(said: unknown): ReadPlace {
  if (typeof said === 'number') return { segments: [said], isWhole: true };
  if (typeof said === 'string') return /^#?\/|^#$/.test(said) ? ofPointer(said) : dotted(said);
  if (!Array.isArray(said)) return { segments: [], isWhole: false };
  const segments: (string | number)[] = [];
  for (const one of said as unknown[]) {
    const { key, name, property, index } = (one ?? {}) as Readonly<Record<string, unknown>>;
    const segment = typeof one === 'object' ? (key ?? name ?? property ?? index) : one;
    if (typeof segment !== 'string' && typeof segment !== 'number')
      return { segments, isWhole: false };
    segments.push(segment);
  }
  return { segments, isWhole: true };
}
