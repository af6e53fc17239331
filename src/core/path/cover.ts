import { ANY_DEPTH, ANY_ELEMENT, ANY_KEY, type Pattern, type PatternSegment } from './path.js';

/** Whether one segment stands for all that another stands for. */
function segmentCovers(wide: PatternSegment, narrow: PatternSegment): boolean {
  if (wide === narrow) return true;
  if (wide === ANY_ELEMENT) return typeof narrow === 'number';
  return wide === ANY_KEY && typeof narrow === 'string';
}

/** Whether a pattern covers a path, or a narrower pattern. */
export function isCoveredBy(wide: Pattern, narrow: Pattern): boolean {
  if (!wide.includes(ANY_DEPTH) && !narrow.includes(ANY_DEPTH))
    return wide.length === narrow.length && wide.every((segment, at) => segmentCovers(segment, narrow[at] ?? ANY_DEPTH));
  // By all lengths of the beginning: how much of the one can stand for how much of the other.
  let reached = new Set([0]);
  for (const segment of wide) {
    const next = new Set<number>();
    for (const at of reached) {
      const here = narrow[at];
      if (segment === ANY_DEPTH) for (let to = at; to <= narrow.length; to++) next.add(to);
      else if (here !== undefined && here !== ANY_DEPTH && segmentCovers(segment, here)) next.add(at + 1);
    }
    reached = next;
  }
  return reached.has(narrow.length);
}

/** What two patterns both cover, as a pattern; nothing where they have no path in common. Of `..`, only where one covers the other. */
export function meet(one: Pattern, other: Pattern): Pattern | undefined {
  if (isCoveredBy(one, other)) return other;
  if (isCoveredBy(other, one)) return one;
  if (one.length !== other.length || one.includes(ANY_DEPTH) || other.includes(ANY_DEPTH)) return undefined;
  const shared: PatternSegment[] = [];
  for (const [at, segment] of one.entries()) {
    const its = other[at] ?? ANY_DEPTH;
    if (segmentCovers(segment, its)) shared.push(its);
    else if (segmentCovers(its, segment)) shared.push(segment);
    else return undefined;
  }
  return shared;
}
