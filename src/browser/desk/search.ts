import { couldBe } from '../../core/audit/text-matcher.js';
import type { DeskText } from '../../core/desk/data.js';
import type { Locale } from '../../core/locale/tag.js';
import { Phrase } from '../../core/texts/phrase.js';
import { data, work } from './state.js';

/** A sentence that somebody saw is looked for from so many characters on. */
const SENTENCE = 8;

/** The searchable text of each text. */
const found = new WeakMap<DeskText, string>();
const wordsOf = (text: DeskText): string => {
  let known = found.get(text);
  if (known === undefined) {
    known = [text.source, text.key, text.about ?? '', text.note ?? ''].join('\n').toLowerCase();
    found.set(text, known);
  }
  return known;
};

/** Whether a text could have made a sentence that somebody saw, or is a word of it. */
function isIn(sentence: string, source: string, locale: Locale): boolean {
  const { tree, isPlain, error } = new Phrase(source, { file: '', locale });
  if (error) return false;
  const own = tree.flatMap((node) => (node.kind === 'text' ? [node.text] : [])).join('');
  if (own.trim().length < 3) return false;
  return isPlain && own === source ? sentence.includes(source) : couldBe(tree, sentence);
}

/** Whether somebody looks for a text: by a word, a key, or a sentence that it may have made. */
export function matches(text: DeskText, query: string): boolean {
  if (query === '') return true;
  const translation = work.textOf(text);
  const small = query.toLowerCase();
  if (wordsOf(text).includes(small) || translation.toLowerCase().includes(small)) return true;
  return (
    query.length >= SENTENCE &&
    (isIn(query, text.source, data.original) || isIn(query, translation, data.locale))
  );
}
