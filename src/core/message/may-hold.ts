/**
 * Bits for what a text may contain. Checks of something rare test these first: most texts have none
 * of it, and one pass over the text sets all bits.
 */
export const MAY_HOLD = {
  /** A digit of ASCII. */
  digit: 1,
  /** A tag or an entity may begin. */
  markup: 2,
  /**
   * A name out of the code: a dot, slash or bracket before a letter, an underscore, a capital
   * inside a word.
   */
  code: 4,
  /** Two spaces, one at an end or before a mark, a line break, or a space that is not ASCII. */
  space: 8,
  /** Words that run from the left and words that run from the right. */
  bothDirections: 16,
  /** A Greek or Cyrillic letter beside one of another script. */
  lookAlike: 32,
  /** An argument in braces, or a brace that should be one. */
  argument: 64,
  /** A sign that French sets a space beside. */
  pause: 128,
  /**
   * More than words and names in braces: cases, formats, quotations, faults. Only the parser knows;
   * see `Entry.mayHold`.
   */
  structured: 256,
  /** Something beside it: a limit, a note, an excuse. */
  details: 512,
} as const;

/** Noted on the way: a word that runs from the left, one that runs from the right. */
const FROM_LEFT = 1024;
const FROM_RIGHT = 2048;

/**
 * The kind of a code unit; for two in sequence, the pair decides. A sign that belongs to the letter
 * before is `onLetter`.
 */
const KIND = {
  other: 0,
  space: 1,
  mark: 2,
  dot: 3,
  joint: 4,
  digit: 5,
  underscore: 6,
  onLetter: 7,
  lowerLatin: 8,
  upperLatin: 9,
  lowerGreek: 10,
  upperGreek: 11,
  lowerCyrillic: 12,
  upperCyrillic: 13,
  fromRight: 14,
} as const;
const KIND_BITS = 4;
const KINDS = 1 << KIND_BITS;

const SCRIPTS = [
  [/\p{Script=Latin}/u, KIND.lowerLatin],
  [/\p{Script=Greek}/u, KIND.lowerGreek],
  [/\p{Script=Cyrillic}/u, KIND.lowerCyrillic],
] as const;

const RIGHT_TO_LEFT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc]/;

function kindOf(unit: number): number {
  const sign = String.fromCharCode(unit);
  if (sign === ' ') return KIND.space;
  if (sign === '.') return KIND.dot;
  if (/[,;:!?]/.test(sign)) return KIND.mark;
  if (/[[\]/]/.test(sign)) return KIND.joint;
  if (/[0-9]/.test(sign)) return KIND.digit;
  if (sign === '_') return KIND.underscore;
  if (RIGHT_TO_LEFT.test(sign)) return KIND.fromRight;
  if (/\p{M}/u.test(sign)) return KIND.onLetter;
  const script = SCRIPTS.find(([regex]) => regex.test(sign))?.[1];
  if (script === undefined) return KIND.other;
  return /\p{Lu}/u.test(sign) ? script + 1 : script;
}

function ofUnit(unit: number): number {
  const sign = String.fromCharCode(unit);
  if (/[0-9]/.test(sign)) return MAY_HOLD.digit;
  if (/[<&]/.test(sign)) return MAY_HOLD.markup;
  if (sign !== ' ' && /\s/.test(sign)) return MAY_HOLD.space;
  if (sign === '_') return MAY_HOLD.code;
  if (/[:;!?«»]/.test(sign)) return MAY_HOLD.pause;
  // Half of a letter beyond the first plane: its other half is not looked at.
  if (unit >= 0xd800 && unit < 0xe000) return MAY_HOLD.code | MAY_HOLD.bothDirections;
  // Capitals of scripts that hardly anything is written in.
  if (/[^\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}]/u.test(sign) && /\p{Lu}/u.test(sign))
    return MAY_HOLD.code;
  return sign === '{' || sign === '}' ? MAY_HOLD.argument : 0;
}

const isLetter = (kind: number): boolean => kind >= KIND.lowerLatin && kind < KIND.fromRight;

function ofPair(before: number, kind: number): number {
  if (before === KIND.space)
    return kind === KIND.space || kind === KIND.mark || kind === KIND.dot ? MAY_HOLD.space : 0;
  const isName = isLetter(kind) || kind === KIND.digit || kind === KIND.underscore;
  if (before === KIND.dot || before === KIND.joint) return isName ? MAY_HOLD.code : 0;
  if (before === KIND.fromRight) return kind === KIND.fromRight ? FROM_RIGHT : 0;
  if (!isLetter(before) || !isLetter(kind)) return 0;
  // Of each script the small letters have an even number, and the capitals the next.
  const capitalInside = before % 2 === 0 && kind % 2 === 1 ? MAY_HOLD.code : 0;
  return FROM_LEFT | capitalInside | (before >> 1 === kind >> 1 ? 0 : MAY_HOLD.lookAlike);
}

let pairs: Uint16Array | undefined;
/**
 * By unit: its kind in the low bits, above them what it holds by itself, and a mark that it is
 * known.
 */
let units: Uint16Array | undefined;
const KNOWN = 0x8000;

/**
 * By two kinds that follow each other: what stands before the next one, and above it what the two
 * may hold.
 */
const pairTable = (): Uint16Array =>
  Uint16Array.from({ length: KINDS * KINDS }, (_, at) => {
    const [before, kind] = [at >> KIND_BITS, at & (KINDS - 1)];
    return (kind === KIND.onLetter ? before : kind) | (ofPair(before, kind) << KIND_BITS);
  });

/** Works out a unit with those around it: texts are of few scripts. */
function learn(unit: number, known: Uint16Array): number {
  const first = unit & 0xff00;
  for (let one = first; one < first + 256; one++)
    known[one] = KNOWN | kindOf(one) | (ofUnit(one) << KIND_BITS);
  return known[unit] ?? 0;
}

/**
 * Returns the bits of a text: a bit that is not set means that the text does not contain it.
 * @param plain whether braces hold only names, which are then passed over
 */
export function whatMayBeIn(text: string, plain: boolean): number {
  // Every unit of every text comes by here, so nothing in this loop is worked out twice, and
  // constants are in reach.
  const table = (pairs ??= pairTable());
  const known = (units ??= new Uint16Array(0x10000));
  const brace = plain ? 0x7b : -1;
  const { length } = text;
  // A space at an end is as one beside another.
  let before: number = KIND.space;
  let holds = 0;
  for (let at = 0; at < length; at++) {
    const unit = text.charCodeAt(at);
    const own = known[unit] || learn(unit, known);
    const pair = table[(before << 4) | (own & 15)] ?? 0;
    holds |= ((own >> 4) & 0xff) | (pair >> 4);
    before = pair & 15;
    if (unit === brace) at = text.indexOf('}', at);
  }
  if ((holds & FROM_LEFT) !== 0 && (holds & FROM_RIGHT) !== 0) holds |= MAY_HOLD.bothDirections;
  return (holds & 0xff) | (before === KIND.space ? MAY_HOLD.space : 0);
}
