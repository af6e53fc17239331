/**
 * The rule of a violation that a validator gives no name, and the key of the text that is true of
 * every violation.
 */
export const UNNAMED = 'unnamed';

const GENERAL = '.general';

/**
 * The keys of the texts for a violation, in the order in which they are tried: the message, the
 * text that says the same without parameters, the one that is true of every violation.
 * @param keys the keys of the message
 */
export const withStandIns = (keys: readonly string[]): readonly (readonly string[])[] => [
  keys,
  keys.map((key) => `${key}${GENERAL}`),
  [UNNAMED],
];

/** The key of the message that a text stands in for; nothing where it is not a general text. */
export const generalOf = (key: string): string | undefined =>
  key.endsWith(GENERAL) ? key.slice(0, -GENERAL.length) : undefined;
