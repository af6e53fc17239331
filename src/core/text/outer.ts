// Values out of JSON that somebody else wrote. `String` and `Number` call what an object has as
// `toString` and `valueOf`, which may be no function, and then they throw.

/**
 * A value that should be a word: a text, a number or the like as it is; an object or a list is
 * none, and an empty text.
 */
export const wordOf = (value: unknown): string =>
  typeof value === 'object' && value !== null ? '' : String(value);

/** A value that should be a number, or a text that is one; NaN for everything else. */
export const numberOf = (value: unknown): number =>
  typeof value === 'number' || typeof value === 'string' || typeof value === 'bigint'
    ? Number(value)
    : NaN;
