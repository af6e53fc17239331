/**
 * A sentence with the mark at its end that it wants: one that asks something has its own already.
 */
export const ended = (sentence: string): string =>
  /[.?!…]$/u.test(sentence) ? sentence : `${sentence}.`;
