import { directionOf } from '../../locale/tag.js';
import type { Sentence } from '../../violation/sentence.js';
import type { Answer } from '../answer.js';
import type { Shape, ShapeOptions } from './shape.js';
import { keyed } from '../../base/keyed.js';

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

const classOf = ({ class: name }: { readonly class?: string | undefined }): string =>
  name === undefined ? '' : ` class="${escapeHtml(name)}"`;

function entries(
  { sentences, details, more: rest }: Answer,
  { html: { layout, message } }: ShapeOptions,
): string {
  const tag = layout === 'list' ? 'li' : 'p';
  const [open, close] = message
    ? [`<${message.element}${classOf(message)}>`, `</${message.element}>`]
    : ['', ''];
  const one = ({ text, case: { pointer, code } }: Sentence, at: number): string => {
    const developer = details?.[at];
    const more = developer ? ` data-developer="${escapeHtml(JSON.stringify(developer))}"` : '';
    return `<${tag} data-pointer="${escapeHtml(pointer)}" data-code="${escapeHtml(code)}"${more}>${open}${escapeHtml(text)}${close}</${tag}>`;
  };
  const others = rest > 0 ? `<${tag} data-more="${rest}">… (+${rest})</${tag}>` : '';
  const all = sentences.map(one).join('') + others;
  return layout === 'list' && all !== '' ? `<ul>${all}</ul>` : all;
}

/**
 * A fragment of HTML: title, detail and what broke, all escaped, in an element and with a class of
 * the user's choice.
 */
export const html: Shape = {
  name: 'html',
  mediaType: 'text/html; charset=utf-8',
  write(answer, options) {
    const { element } = options.html;
    const detail = answer.detail === '' ? '' : `<p>${escapeHtml(answer.detail)}</p>`;
    const attributes = `lang="${answer.locale}" dir="${directionOf(answer.locale)}"${classOf(options.html)}`;
    return `<${element} ${attributes}><p><strong>${escapeHtml(answer.title)}</strong></p>${detail}${entries(answer, options)}</${element}>`;
  },
};
