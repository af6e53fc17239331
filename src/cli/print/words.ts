import { diffWordsWithSpace } from 'diff';

/** A run of words that stayed, went or came. */
export interface WordChange {
  readonly text: string;
  readonly change: 'same' | 'removed' | 'added';
}

/**
 * What changed between two texts, word by word; words as the language has them, also where it
 * writes no spaces.
 */
export function wordChanges(before: string, after: string, locale: string): WordChange[] {
  const intlSegmenter = new Intl.Segmenter(locale, { granularity: 'word' });
  return diffWordsWithSpace(before, after, { intlSegmenter }).map(({ value, added, removed }) => ({
    text: value,
    change: added ? 'added' : removed ? 'removed' : 'same',
  }));
}
