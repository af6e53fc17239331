import { keyed } from '../base/keyed.js';

const ESCAPES: Readonly<Record<string, string>> = keyed({
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
});

/** Text as it can stand in HTML, between tags and in quoted attributes. */
export const escapeHtml = (text: string): string =>
  text.toWellFormed().replace(/[&<>"']/g, (character) => ESCAPES[character] ?? character);

/** Text for XML 1.0: what it cannot hold at all is left out. */
export const xmlText = (text: string): string =>
  text
    .toWellFormed()
    .replace(/[&<>"]/g, (character) => ESCAPES[character] ?? character)

    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '');
