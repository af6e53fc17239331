/// <reference lib="dom" />

/**
 * A date, a time, or an id with digits: read as one word, though a browser may break it at its
 * hyphens.
 */
const ONE_WORD = /[^\s“”„«»「」()[\]]*\d[-/:+][^\s“”„«»「」()[\]]*[\p{L}\d]/gu;

/** The text as nodes, with words such as 2027-03-09 kept on one line. */
export function unbroken(text: string): Node[] {
  const nodes: Node[] = [];
  let at = 0;
  for (const { 0: word, index } of text.matchAll(ONE_WORD)) {
    const kept = document.createElement('span');
    kept.style.whiteSpace = 'nowrap';
    kept.textContent = word;
    nodes.push(document.createTextNode(text.slice(at, index)), kept);
    at = index + word.length;
  }
  nodes.push(document.createTextNode(text.slice(at)));
  return nodes;
}
