/**
 * What a text may hold at all. Checks that look for something rare ask these first: most texts have none of it, and a regular
 * expression without classes of Unicode tells so in a fraction of a microsecond.
 */
export const MAY_HOLD = {
  /** A digit, of any script. */
  digit: /[0-9]|[^\x00-\u058f]/,
  markup: /[<&]/,
  /** Anything that is no ASCII. */
  wide: /[^\x00-\x7f]/,
  /** A name out of the code: a dot, slash or bracket before a letter, an underscore, a capital inside a word. */
  code: /[.[\]/]\w|_|[a-z][A-Z]|[^\x00-\x7f]/,
  /** Two spaces, one at an end or before a mark, a line break, or a space that is not ASCII. */
  space: / {2}|[\t\n\r]| [,.;:!?]|^ | $|[\u00a0\u1680-\u205f\u3000\ufeff]/,
  /** Letters that run from the right. */
  rightToLeft: /[\u0590-\u08ff\ufb1d-\ufefc]/,
  /** Greek or Cyrillic letters. */
  lookAlike: /[\u0370-\u052f]/,
} as const;
