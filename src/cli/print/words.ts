import { diffWordsWithSpace } from 'diff';

/** A run of words that stayed, went or came. */
export interface WordChange {
  readonly text: string;
  readonly change: 'same' | 'removed' | 'added';
}

/**
 * Compares two texts word by word; the language decides what a word is, also where it writes no
 * spaces.
 */
export function wordChanges(before: string, after: string, locale: string): WordChange[] {
  const intlSegmenter = new Intl.Segmenter(locale, { granularity: 'word' });
  return diffWordsWithSpace(before, after, { intlSegmenter }).map(({ value, added, removed }) => ({
    text: value,
    change: added ? 'added' : removed ? 'removed' : 'same',
  }));
}
