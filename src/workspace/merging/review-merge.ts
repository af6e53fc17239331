import { getOrMake } from '../../core/base/get-or-make.js';
import { laterOf, Review, type ReviewLine } from '../reading/review-file.js';
import type { Merged } from './catalog-merge.js';

const keysOf = ({ keys }: ReviewLine): string => JSON.stringify(keys);
/** Returns the id of a line: a wording of a text. */
const idOf = (line: ReviewLine): string => JSON.stringify([line.keys, line.text]);
const sameLine = (one: ReviewLine | undefined, other: ReviewLine | undefined): boolean =>
  JSON.stringify(one) === JSON.stringify(other);

const byId = (review: Review): Map<string, ReviewLine> =>
  new Map(review.lines.map((line) => [idOf(line), line]));

/** Returns the new keys of texts on a side, by their old keys. */
function renamesIn(before: Review, side: Review): Map<string, readonly string[]> {
  const [had, has] = [before.lines.map(keysOf), side.lines.map(keysOf)].map((all) => new Set(all));
  const renames = new Map<string, readonly string[]>();
  const come = new Map<string, ReviewLine[]>();
  const wording = ({ keys, text, source }: ReviewLine): string =>
    JSON.stringify([keys.length, keys.at(-1), text, source]);
  for (const line of side.lines)
    if (!had?.has(keysOf(line))) getOrMake(come, wording(line), () => []).push(line);
  for (const line of before.lines) {
    const [only, another] = come.get(wording(line)) ?? [];
    if (!has?.has(keysOf(line)) && only && !another) renames.set(keysOf(line), only.keys);
  }
  return renames;
}

/** A review with texts under other keys. */
function renamed(review: Review, renames: ReadonlyMap<string, readonly string[]>): Review {
  const result = new Review();
  for (const line of review.lines)
    result.add({ ...line, keys: renames.get(keysOf(line)) ?? line.keys });
  return result;
}

/**
 * Joins what two sides noted in a review: a line is of one wording of a text, so that what one side
 * noted never speaks of what the other wrote. There is nothing to decide by hand.
 * @throws {Complaint} where a side cannot be read
 */
export function mergeReview(base: string, ours: string, theirs: string): Merged {
  const before = Review.parse(base, 'the common ancestor');
  const [mine, other] = [Review.parse(ours, 'our side'), Review.parse(theirs, 'their side')];
  const [ourNames, theirNames] = [renamesIn(before, mine), renamesIn(before, other)];
  const names = new Map([...theirNames, ...ourNames]);
  const [was, our, their] = [before, mine, other].map((side) => byId(renamed(side, names)));
  const joined = new Review();
  for (const id of new Set([...(our?.keys() ?? []), ...(their?.keys() ?? [])])) {
    const [old, one, two] = [was?.get(id), our?.get(id), their?.get(id)];
    if (one && two)
      joined.add(sameLine(one, old) ? two : sameLine(two, old) ? one : laterOf(one, two));
    // What one side took out is out, unless the other noted something of it since.
    else if (one && !sameLine(one, old)) joined.add(one);
    else if (two && !sameLine(two, old)) joined.add(two);
  }
  return { text: joined.toText(), conflicts: [] };
}
