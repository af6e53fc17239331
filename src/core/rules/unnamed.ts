/**
 * The rule that stands for what a validator found and gave no name: a sentence that is true of
 * every mistake.
 */
export const UNNAMED = 'unnamed';
