/**
 * What a text may hold at all, as bits. Checks that look for something rare ask for these first: most texts have none of it, and
 * one walk over the text's units tells all of them.
 */
export const TRAIT = {
  /** A digit of ASCII. */
  digit: 1,
  /** A tag or an entity may begin. */
  markup: 2,
  /** A name out of the code: a dot, slash or bracket before a letter, an underscore, a capital inside a word. */
  code: 4,
  /** Two spaces, one at an end or before a mark, a line break, or a space that is not ASCII. */
  space: 8,
  /** Letters that run from the right. */
  rightToLeft: 16,
  /** Greek or Cyrillic letters. */
  lookAlike: 32,
  /** An argument in braces, or a brace that should be one. */
  argument: 64,
  /** A sign that French sets a space beside. */
  pause: 128,
  /** More than words and names in braces: cases, formats, quotations, faults. Only the parser tells; see `Entry.traits`. */
  structured: 256,
} as const;

/** What a unit can be; of two that follow each other, the pair decides. */
const KIND = { other: 0, space: 1, mark: 2, dot: 3, joint: 4, lower: 5, upper: 6, digit: 7, underscore: 8 } as const;
const KINDS = 9;

function kindOf(unit: number): number {
  const sign = String.fromCharCode(unit);
  if (sign === ' ') return KIND.space;
  if (sign === '.') return KIND.dot;
  if (/[,;:!?]/.test(sign)) return KIND.mark;
  if (/[[\]/]/.test(sign)) return KIND.joint;
  if (/[a-z]/.test(sign)) return KIND.lower;
  if (/[A-Z]/.test(sign)) return KIND.upper;
  if (/[0-9]/.test(sign)) return KIND.digit;
  return sign === '_' ? KIND.underscore : KIND.other;
}

const ASCII = 128;
const BRACE = 0x7b;

function ofUnit(unit: number): number {
  const sign = String.fromCharCode(unit);
  if (/[0-9]/.test(sign)) return TRAIT.digit;
  if (/[<&]/.test(sign)) return TRAIT.markup;
  if (/[\t\n\r]/.test(sign)) return TRAIT.space;
  if (sign === '_') return TRAIT.code;
  if (/[:;!?]/.test(sign)) return TRAIT.pause;
  return sign === '{' || sign === '}' ? TRAIT.argument : 0;
}

function ofPair(before: number, kind: number): number {
  const isWord = kind === KIND.lower || kind === KIND.upper || kind === KIND.digit || kind === KIND.underscore;
  if (before === KIND.space) return kind === KIND.space || kind === KIND.mark || kind === KIND.dot ? TRAIT.space : 0;
  if ((before === KIND.dot || before === KIND.joint) && isWord) return TRAIT.code;
  return before === KIND.lower && kind === KIND.upper ? TRAIT.code : 0;
}

let steps: Uint16Array | undefined;

/** By the kind of the unit before and the unit: the traits of the two in the low byte, and above it the kind of this one. */
function stepTable(): Uint16Array {
  const units = Array.from({ length: ASCII }, (_, unit) => ({ kind: kindOf(unit), traits: ofUnit(unit) }));
  return Uint16Array.from(
    Array.from({ length: KINDS }).flatMap((_, before) =>
      units.map(({ kind, traits }) => traits | ofPair(before, kind) | (kind << 8)),
    ),
  );
}

const isWithin = (unit: number, ...ranges: readonly (readonly [number, number])[]): boolean =>
  ranges.some(([first, last]) => unit >= first && unit <= last);

/** Of a unit beyond ASCII, what it may be in some script. */
function ofWide(unit: number): number {
  // Most letters of Latin, Greek and Cyrillic texts have no other trait than that they may be capitals.
  if (unit < 0x590) {
    if (unit === 0xa0) return TRAIT.space;
    if (unit === 0xab || unit === 0xbb) return TRAIT.pause;
    return (unit >= 0x370 && unit < 0x530 ? TRAIT.lookAlike : 0) | TRAIT.code;
  }
  const spaces = isWithin(unit, [0x1680, 0x205f], [0x3000, 0x3000], [0xfeff, 0xfeff]) ? TRAIT.space : 0;
  const capitals = isWithin(unit, [0x10a0, 0x1fff], [0x2c00, 0x2dff], [0xa640, 0xabff], [0xd800, 0xdfff], [0xff21, 0xff5a]);
  const lookAlike = capitals || isWithin(unit, [0x2126, 0x2126], [0xfe2e, 0xfe2f]) ? TRAIT.lookAlike : 0;
  const fromTheRight = isWithin(unit, [0x590, 0x8ff], [0xfb1d, 0xfefc]) ? TRAIT.rightToLeft : 0;
  return spaces | (capitals ? TRAIT.code : 0) | lookAlike | fromTheRight;
}

/**
 * The traits of a text: those that are not there it has not, those that are it may have.
 * @param plain whether braces hold only names, which are then passed over
 */
export function traitsOf(text: string, plain: boolean): number {
  // Every unit of every text comes by here, so nothing in this loop is worked out twice.
  const table = (steps ??= stepTable());
  const { length } = text;
  // The row of the table for what stands before; a space at an end is as one beside another.
  let row = KIND.space * ASCII;
  let traits = 0;
  for (let at = 0; at < length; at++) {
    const unit = text.charCodeAt(at);
    if (unit >= ASCII) {
      traits |= ofWide(unit);
      row = KIND.other;
      continue;
    }
    const step = table[row + unit] ?? 0;
    traits |= step;
    row = (step >> 8) << 7;
    if (unit === BRACE && plain) at = text.indexOf('}', at);
  }
  return (traits & 0xff) | (row === KIND.space * ASCII ? TRAIT.space : 0);
}
