/** U+2068, first strong isolate, and U+2069, pop directional isolate (UAX 9). */
const OPEN = '\u2068';
const CLOSE = '\u2069';

// Strong right-to-left letters stand in these blocks only (Unicode, Bidi_Class R and AL).
const RTL = /[\u0590-\u08FF\uFB1D-\uFDFF\uFE70-\uFEFC\u{10800}-\u{10FFF}\u{1E800}-\u{1EFFF}]/u;
const { source } = RTL;
const LTR = new RegExp(`(?!${source})\\p{L}`, 'u');
/**
 * Those from the right but for digits, which have no direction of their own; of private use are the
 * marks that stand for others while packs are made.
 */
const FROM_RIGHT = new RegExp(`(?!\\p{Nd})${source}|\\p{Co}`, 'u');
/**
 * A digit beside a sign: in a sentence from the right the two would change places. Parentheses turn
 * with the sentence.
 */
const SIGN = `(?!${source})[^\\s()\\p{Co}\\p{L}\\p{Nd}]`;
const SIGNED = new RegExp(`\\p{Nd}${SIGN}|${SIGN}\\p{Nd}`, 'u');

function runsAgainst(text: string, direction: 'ltr' | 'rtl'): boolean {
  // What is isolated already does not disturb the rest.
  const rest = text.replace(/\u2068[^\u2069]*\u2069/g, '');
  if (direction === 'ltr') return RTL.test(rest);
  return (
    LTR.test(rest) ||
    SIGNED.test(rest) ||
    (rest === text && /\P{Nd}/u.test(text) && !FROM_RIGHT.test(text))
  );
}

/**
 * The text inside an isolate where its direction differs from the sentence's around it, else as it
 * is.
 */
export function isolated(text: string, direction: 'ltr' | 'rtl'): string {
  return runsAgainst(text, direction) ? OPEN + text + CLOSE : text;
}
