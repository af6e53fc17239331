import { getOrMake } from '../../core/base/get-or-make.js';
import { diff3Merge } from 'node-diff3';
import { onOneLine, rawIn, removeIn, renameIn, reorderIn } from '../documents/json-text.js';
import { setRaws, type RawOp } from '../editing/many-texts.js';
import { carryComments } from './comments.js';
import { markConflicts, type Conflict } from './marks.js';
import { isSame, isTreeObject, plainOf, readSide, type Tree, type TreeObject } from './tree.js';

type Keys = readonly string[];

/** A file that two sides changed, as one. */
export interface Merged {
  readonly text: string;
  /** The changes of both sides, as words; each is marked in the text. */
  readonly conflicts: readonly string[];
}

const lines = (text: string): string[] => text.split(/\r?\n/);

/** The three texts joined line by line; nothing where both changed the same lines. */
function joinedLines(base: string, ours: string, theirs: string): string | undefined {
  const regions = diff3Merge(lines(ours), lines(base), lines(theirs));
  if (regions.some((region) => region.conflict)) return undefined;
  return regions.flatMap(({ ok = [] }) => ok).join(ours.includes('\r\n') ? '\r\n' : '\n');
}

/** A value with the names of arguments left out that follow from the name of a field. */
const nameless = (tree: Tree): string =>
  JSON.stringify(plainOf(tree)).replace(/\b\w+_(number|key)\b/g, '$1');

/** How much of two names is the same, at both ends. */
function likeness(one: string, other: string): number {
  let [start, end] = [0, 0];
  const most = Math.min(one.length, other.length);
  while (start < most && one[start] === other[start]) start++;
  while (end < most - start && one.at(-1 - end) === other.at(-1 - end)) end++;
  return start + end;
}

/** The members that have another name on a side than before, by their names before. */
function renamesIn(before: TreeObject, side: TreeObject): Map<string, string> {
  const renames = new Map<string, string>();
  const gone = [...before].filter(([name]) => !side.has(name));
  if (gone.length === 0) return renames;
  const come = new Map<string, string[]>();
  for (const [name, value] of side)
    if (!before.has(name)) getOrMake(come, nameless(value), () => []).push(name);
  const taken = new Set<string>();
  for (const [name, value] of gone) {
    const candidates = (come.get(nameless(value)) ?? [])
      .filter((one) => !taken.has(one))
      .map((one) => ({ one, like: likeness(name, one) }))
      .sort((a, b) => b.like - a.like);
    const [best, next] = candidates;
    if (!best || next?.like === best.like) continue;
    renames.set(name, best.one);
    taken.add(best.one);
  }
  return renames;
}

/** A text that has no details beside it, as one that has. */
const withDetails = (tree: Tree | undefined): TreeObject | undefined =>
  typeof tree === 'string' ? new Map([['text', tree]]) : isTreeObject(tree) ? tree : undefined;

/** The text that a value holds, where it holds one. */
const textOf = (tree: Tree | undefined): Tree | undefined => withDetails(tree)?.get('text');

const NO_MEMBERS: TreeObject = new Map();

/** Whether a value is an object of texts, and none that is one text with its details. */
const isSection = (tree: Tree): boolean => isTreeObject(tree) && !tree.has('text');

/** Joins what two sides made of an object: what is to be done to our text. */
class Join {
  readonly renames: { readonly keys: Keys; readonly name: string }[] = [];
  readonly sets: RawOp[] = [];
  readonly removals: Keys[] = [];
  readonly conflicts: Conflict[] = [];
  /** Objects whose members the other side put in another order, with that order. */
  readonly orders: { readonly keys: Keys; readonly names: readonly string[] }[] = [];

  constructor(
    /** The other side's text, for what is taken over as it is written. */
    private readonly theirs: string,
  ) {}

  /**
   * @param at where the object is in our text
   * @param from where it is in the other side's
   */
  object(before: TreeObject, ours: TreeObject, theirs: TreeObject, at: Keys, from: Keys): void {
    const [ourNames, theirNames] = [renamesIn(before, ours), renamesIn(before, theirs)];
    const known = new Set<string>();
    for (const [name, was] of before) {
      const our = ours.has(name) ? name : ourNames.get(name);
      const their = theirs.has(name) ? name : theirNames.get(name);
      if (their !== undefined) known.add(their);
      const [mine, other] = [our && ours.get(our), their && theirs.get(their)];
      if (isSection(was) && (mine === undefined || other === undefined)) {
        // A section without members is often left out.
        const [own, others] = [mine ?? NO_MEMBERS, other ?? NO_MEMBERS];
        this.value(was, own, others, [...at, our ?? name], [...from, name]);
      } else if (our === undefined || mine === undefined) {
        // What was taken out here and has another name there is out.
        if (their !== undefined && !isSame(was, other))
          this.conflict([...at, their], [...from, their]);
      } else if (their === undefined || other === undefined) {
        if (isSame(was, mine)) this.removals.push([...at, our]);
        else this.conflict([...at, our], [...from, name]);
      } else {
        const isTheirs = their !== name && our === name && !ours.has(their);
        const now = isTheirs ? their : our;
        if (isTheirs) this.renames.push({ keys: [...at, our], name: their });
        this.value(was, mine, other, [...at, now], [...from, their]);
      }
    }
    for (const [name, other] of theirs) {
      if (known.has(name)) continue;
      const mine = ours.get(name);
      if (mine === undefined) this.take([...at, name], [...from, name]);
      else this.value(undefined, mine, other, [...at, name], [...from, name]);
    }
    this.order(before, ours, theirs, at);
  }

  private value(was: Tree | undefined, mine: Tree, other: Tree, at: Keys, from: Keys): void {
    if (isSame(mine, other) || (was !== undefined && isSame(was, other))) return;
    // What has inflections goes with them: half of one side and half of the other is not a label.
    const hasInflections = at.at(-1) === 'label' || (at[0] === 'words' && at.length === 3);
    const isMine = was === undefined || !isSame(was, mine);
    const isWhole = hasInflections && isMine && textOf(mine) !== textOf(other);
    if (isTreeObject(mine) && isTreeObject(other) && !isWhole) {
      this.object(isTreeObject(was) ? was : (withDetails(was) ?? new Map()), mine, other, at, from);
      return;
    }
    if (was !== undefined && isSame(was, mine)) {
      this.take(at, from);
      return;
    }
    if (isWhole || !this.details(was, mine, other, at)) this.conflict(at, from);
  }

  /** Joins a text alone and one with details beside it, where each side changed another part. */
  private details(was: Tree | undefined, mine: Tree, other: Tree, at: Keys): boolean {
    const [before, ours, theirs] = [withDetails(was), withDetails(mine), withDetails(other)];
    if (!before || !ours || !theirs || isTreeObject(mine) === isTreeObject(other)) return false;
    const [old, own, their] = [before.get('text'), ours.get('text'), theirs.get('text')];
    if (own !== old && their !== old && own !== their) return false;
    const text = own === old ? their : own;
    const joined = plainOf(new Map([...ours, ...theirs])) as object;
    this.sets.push({ keys: at, raw: onOneLine({ ...joined, text }) });
    return true;
  }

  private take(at: Keys, from: Keys): void {
    const raw = rawIn(this.theirs, from);
    if (raw !== undefined) this.sets.push({ keys: at, raw });
  }

  private conflict(at: Keys, from: Keys): void {
    const raw = rawIn(this.theirs, from);
    this.conflicts.push({ keys: at, theirs: raw });
  }

  private order(before: TreeObject, ours: TreeObject, theirs: TreeObject, at: Keys): void {
    const isCommon = (name: string): boolean =>
      before.has(name) && ours.has(name) && theirs.has(name);
    const [was, our, their] = [before, ours, theirs].map((side) =>
      [...side.keys()].filter(isCommon).join('\n'),
    );
    if (our === was && their !== was) this.orders.push({ keys: at, names: [...theirs.keys()] });
  }
}

/** Our text with what has to be done to it: names first, which the other keys have already. */
function applied(text: string, { renames, sets, removals }: Join): string {
  const renamed = renames.reduce((now, { keys, name }) => renameIn(now, keys, name), text);
  return removals.reduce((now, keys) => removeIn(now, keys), setRaws(renamed, sets));
}

/**
 * Joins what two sides made of a catalog, text by text: what one side alone changed, added, took
 * out, renamed or put in order is as that side has it. The layout is ours.
 * @param marker how many signs a mark of a conflict has
 * @throws {Complaint} where a side cannot be read
 */
export function mergeCatalog(base: string, ours: string, theirs: string, marker: number): Merged {
  const [before, mine, other] = [
    readSide(base, 'the common ancestor'),
    readSide(ours, 'our side'),
    readSide(theirs, 'their side'),
  ];
  if (ours.trim() === '') return { text: theirs, conflicts: [] };
  const join = new Join(theirs);
  join.object(before, mine, other, [], []);
  const { conflicts, orders } = join;
  const done = applied(ours, join);
  if (conflicts.length === 0) {
    // Where nobody minds, lines keep comments and layout of both.
    const text = joinedLines(base, ours, theirs);
    if (text !== undefined && isSame(treeIn(text), treeIn(done))) return { text, conflicts: [] };
  }
  const joined = orders.reduce((text, { keys, names }) => reorderIn(text, keys, names), done);
  const commented = carryComments(base, theirs, joined);
  return {
    text: markConflicts(commented, conflicts, marker),
    conflicts: conflicts.map(({ keys }) => keys.join(' > ')),
  };
}

/** Parses a text; returns nothing where it cannot be read. */
function treeIn(text: string): TreeObject | undefined {
  try {
    return readSide(text, 'what was joined');
  } catch {
    return undefined;
  }
}
