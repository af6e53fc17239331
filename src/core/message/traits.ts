/** What a text holds at all, as bits: checks that look for something rare ask these first, and most texts have none of it. */
export const TRAIT = {
  /** Anything that is no ASCII. */
  wide: 1,
  /** A digit, or a letter that may be one in another script. */
  digit: 2,
  /** `<` or `&`. */
  markup: 4,
  /** What names in code have: an underscore, a dot, slash or bracket before a letter, a capital inside a word. */
  code: 8,
  /** Two spaces, a space at an end or before a mark, a line break, or a space that is not ASCII. */
  space: 16,
  /** Letters that run from the right. */
  rightToLeft: 32,
  /** Greek or Cyrillic letters. */
  lookAlike: 64,
} as const;

const isLower = (unit: number): boolean => unit >= 0x61 && unit <= 0x7a;
const isUpper = (unit: number): boolean => unit >= 0x41 && unit <= 0x5a;
const isDigit = (unit: number): boolean => unit >= 0x30 && unit <= 0x39;

const SPACE = 0x20;
const OPEN = 0x7b;
const UNDERSCORE = 0x5f;

function wideTraits(unit: number): number {
  let traits: number = TRAIT.wide;
  if (unit >= 0x370 && unit <= 0x52f) traits |= TRAIT.lookAlike;
  else if (unit >= 0x590) {
    traits |= TRAIT.digit;
    if (unit <= 0x8ff || (unit >= 0xfb1d && unit <= 0xfefc)) traits |= TRAIT.rightToLeft;
  }
  if (unit === 0xa0 || (unit >= 0x1680 && unit <= 0x205f) || unit === 0x3000 || unit === 0xfeff) traits |= TRAIT.space;
  return traits;
}

function asciiTraits(unit: number, before: number): number {
  if (isDigit(unit)) return TRAIT.digit | (isCodeMark(before) ? TRAIT.code : 0);
  if (isUpper(unit)) return isLower(before) || isCodeMark(before) ? TRAIT.code : 0;
  if (isLower(unit)) return isCodeMark(before) ? TRAIT.code : 0;
  if (unit <= SPACE) return unit < SPACE || before === SPACE ? TRAIT.space : 0;
  if (unit === UNDERSCORE) return TRAIT.code;
  if (unit === 0x3c || unit === 0x26) return TRAIT.markup;
  // , . : ; ? !
  const mark = unit === 0x2c || unit === 0x2e || unit === 0x3a || unit === 0x3b || unit === 0x3f || unit === 0x21;
  return mark && before === SPACE ? TRAIT.space : 0;
}

/** . / [ ] */
const isCodeMark = (unit: number): boolean => unit === 0x2e || unit === 0x2f || unit === 0x5b || unit === 0x5d;

/** The traits of a text, in one pass. */
export function traitsOf(text: string): number {
  let traits = 0;
  let before = SPACE;
  // Names of arguments are no words of the text.
  let inName = false;
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at);
    if (unit === OPEN) inName = true;
    else if (inName && !isLower(unit) && !isUpper(unit) && !isDigit(unit) && unit !== UNDERSCORE) inName = false;
    if (!inName) traits |= unit >= 0x80 ? wideTraits(unit) : asciiTraits(unit, before);
    if (unit >= 0x80 && isCodeMark(before)) traits |= TRAIT.code;
    before = unit;
  }
  return before === SPACE ? traits | TRAIT.space : traits;
}
