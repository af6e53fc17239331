import { ANY_DEPTH, ANY_ELEMENT, ANY_KEY, type Pattern, type PatternSegment } from './path.js';

/** Whether one segment stands for all that another stands for. */
function segmentCovers(wide: PatternSegment, narrow: PatternSegment): boolean {
  if (wide === narrow) return true;
  if (wide === ANY_ELEMENT) return typeof narrow === 'number';
  return wide === ANY_KEY && typeof narrow === 'string';
}

/** Whether a pattern covers a path, or a narrower pattern. */
export function isCoveredBy(wide: Pattern, narrow: Pattern): boolean {
  let [at, to] = [0, 0];
  // The last `..`, and how far what it stands for goes: where what is behind it does not fit, it
  // stands for one more.
  let [depth, end] = [-1, 0];
  while (to < narrow.length) {
    const segment = wide[at];
    const here = narrow[to] ?? ANY_DEPTH;
    if (segment === ANY_DEPTH) {
      depth = at++;
      end = to;
    } else if (segment !== undefined && here !== ANY_DEPTH && segmentCovers(segment, here)) {
      at += 1;
      to += 1;
    } else if (depth < 0) return false;
    else {
      at = depth + 1;
      to = ++end;
    }
  }
  while (wide[at] === ANY_DEPTH) at += 1;
  return at === wide.length;
}

/**
 * Returns the pattern of all paths that two patterns cover; nothing where they have none in common.
 * For `..`, only where one covers the other.
 */
export function meet(one: Pattern, other: Pattern): Pattern | undefined {
  if (isCoveredBy(one, other)) return other;
  if (isCoveredBy(other, one)) return one;
  if (one.length !== other.length || one.includes(ANY_DEPTH) || other.includes(ANY_DEPTH))
    return undefined;
  const shared: PatternSegment[] = [];
  for (const [at, segment] of one.entries()) {
    const its = other[at] ?? ANY_DEPTH;
    if (segmentCovers(segment, its)) shared.push(its);
    else if (segmentCovers(its, segment)) shared.push(segment);
    else return undefined;
  }
  return shared;
}
