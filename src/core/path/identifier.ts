// Character classes of Unicode cost milliseconds to compile, so the ASCII that nearly all names are
// made of is tried first.
const ASCII_ID = /^[A-Za-z0-9][\w.:-]*$/;
const ASCII_NAME = /^[A-Za-z]\w*$/;

/**
 * Whether a text can be the id of a rule: letters, digits and `-`, `_`, `.`, `:`, a letter or digit
 * first.
 */
export function isRuleId(text: string): boolean {
  return ASCII_ID.test(text) || /^[\p{L}\p{N}][\p{L}\p{N}_.:-]*$/u.test(text);
}

/** Whether a text can be part of an argument's name: letters, digits and `_`, a letter first. */
export function isArgumentName(text: string): boolean {
  return ASCII_NAME.test(text) || /^\p{L}[\p{L}\p{N}_]*$/u.test(text);
}

/**
 * A name as part of an argument's: other characters than letters and digits become `_`, and a digit
 * does not come first.
 */
export function argumentWord(name: string): string {
  if (ASCII_NAME.test(name)) return name;
  const word = selectKey(name);
  return /^\p{N}/u.test(word) ? `_${word}` : word;
}

/**
 * A key that a message can compare: other characters than letters and digits are `_` (`date-time` →
 * `date_time`).
 */
export function selectKey(text: string): string {
  return ASCII_NAME.test(text) ? text : text.replace(/[^\p{L}\p{N}]/gu, '_');
}
