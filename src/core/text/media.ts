// The ways out for texts that come from anywhere: one function for each medium, which takes from a
// text what the medium would take for something else. HTML has `escapeHtml`, XML `xmlText`; JSON
// needs none.

/** U+2060, word joiner: it is not seen, and parts what would be read as one. */
const JOINER = '\u2060';

/** Commands of CI runners: at the start of a line, behind its blanks, or anywhere in it. */
const ORDERS = /^([^\S\r\n]*)(?=::)|#(?=#(?:\[|vso\[))/gm;

/** Text for logs of CI, which obey some lines (`::error::`, `##[error]`). */
export const forLog = (text: string): string =>
  text.replace(ORDERS, (found, blanks: string | undefined) =>
    blanks === undefined ? `#${JOINER}` : blanks + JOINER,
  );

/** All that a terminal takes for orders, but for line ends and tabs. */
const CONTROLS = /\r(?!\n)|[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]/g;

/**
 * Text for a terminal: what it would take for orders is shown as a sign.
 * @param kept orders of our own that stay, such as those of colours
 */
export function forTerminal(text: string, kept?: RegExp): string {
  const shown = (part: string): string => part.replace(CONTROLS, '\ufffd');
  if (!kept || !text.includes('\u001b')) return shown(text);
  const parts = text.split(kept);
  const orders = text.match(kept) ?? [];
  return parts.map((part, at) => shown(part) + (orders[at] ?? '')).join('');
}

/** Mentions of people and addresses, which pages make links of by themselves. */
const LINKED = /@(?=[\w-])|:(?=\/\/)|(?<=\bwww)\.|(?<=[A-Za-z0-9])(?=#\d)/gi;

const unlinked = (text: string): string => text.replace(LINKED, (sign) => sign + JOINER);

/** Text in one line: breaks are blanks, other controls are gone. */
const inLine = (text: string): string =>
  text.replace(/[\r\n\u0085\u2028\u2029]+/g, ' ').replace(CONTROLS, '');

/**
 * Text for Markdown (CommonMark 2.4, GitHub's tables), in a cell or a line: it is shown as it is,
 * and is not a layout, link or image.
 */
export const forMarkdown = (text: string): string =>
  unlinked(inLine(text))
    .replace(/[\\`*_{}[\]|#~!]/g, '\\$&')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;');

/**
 * A code span of Markdown, in a table too: its fence is longer than any inside of it (CommonMark
 * 6.1).
 */
export function markdownCode(text: string): string {
  const inner = inLine(text).replaceAll('|', '\\|');
  const longest = Math.max(0, ...(inner.match(/`+/g) ?? []).map(({ length }) => length));
  const fence = '`'.repeat(longest + 1);
  return longest === 0 ? fence + inner + fence : `${fence} ${inner} ${fence}`;
}

/**
 * Text for a plain message of SARIF, in which braces are placeholders and brackets make links
 * (SARIF 2.1.0 sections 3.11.5 and 3.11.6).
 */
export const forSarif = (text: string): string =>
  unlinked(inLine(text))
    .replace(/[\\[\]]/g, '\\$&')
    .replace(/[{}]/g, '$&$&');
