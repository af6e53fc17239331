/** U+2068, first strong isolate, and U+2069, pop directional isolate (UAX 9). */
const OPEN = '\u2068';
const CLOSE = '\u2069';

// Strong right-to-left letters stand in these blocks only (Unicode, Bidi_Class R and AL).
const RTL = /[\u0590-\u08FF\uFB1D-\uFDFF\uFE70-\uFEFC\u{10800}-\u{10FFF}\u{1E800}-\u{1EFFF}]/u;
const LTR =
  /(?![\u0590-\u08FF\uFB1D-\uFDFF\uFE70-\uFEFC\u{10800}-\u{10FFF}\u{1E800}-\u{1EFFF}])\p{L}/u;
/**
 * Digits with something between them: a date, a time, a code; in a sentence from the right its
 * parts would change places.
 */
const COMPOUND_NUMBER = /\p{Nd}[^\p{L}\p{Nd}]+\p{Nd}/u;

/**
 * Whether a text has a character at or behind the first block of right-to-left letters; a cheap no
 * for most texts.
 */
function reachesRtl(text: string): boolean {
  for (let at = 0; at < text.length; at++) if (text.charCodeAt(at) >= 0x590) return true;
  return false;
}

function runsAgainst(text: string, direction: 'ltr' | 'rtl'): boolean {
  if (direction === 'ltr') return reachesRtl(text) && RTL.test(text);
  // What is isolated already does not disturb the rest.
  const rest = text.includes(OPEN) ? text.replace(/\u2068[^\u2069]*\u2069/g, '') : text;
  return LTR.test(rest) || (!RTL.test(rest) && COMPOUND_NUMBER.test(rest));
}

/**
 * The text inside an isolate where its direction differs from the sentence's around it, else as it
 * is.
 */
export function isolated(text: string, direction: 'ltr' | 'rtl'): string {
  return runsAgainst(text, direction) ? OPEN + text + CLOSE : text;
}
