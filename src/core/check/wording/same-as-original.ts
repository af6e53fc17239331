import { overview } from '../../catalog/overview.js';
import type { Kind } from '../kind.js';
import { aboutTranslation, textNodesOf } from '../roles.js';

export const sameAsOriginal: Kind = {
  kind: 'same-as-original',
  severity: 'warning',
  about: 'A message of several words is the same as the original in another language: it was copied and never translated.',
  remedy: 'Translate it.',
  *find({ subject }) {
    for (const row of overview(subject.catalogs)) {
      const original = row.texts.get(subject.original);
      // Names may be the same in two languages; sentences hardly ever are.
      if (!original || (row.kind !== 'message' && row.kind !== 'problem')) continue;
      const words = [...textNodesOf(original.tree)].flatMap(({ text }) => text.match(/\p{L}{2,}/gu) ?? []);
      if (words.length < 3) continue;
      for (const [locale, entry] of row.texts) {
        if (locale === subject.original || subject.texts.serves(locale, subject.original) || entry.text !== original.text)
          continue;
        yield {
          kind: 'same-as-original',
          message: `This text is the original in ${subject.original}, word by word. Translate it.`,
          ...aboutTranslation(row, entry),
        };
      }
    }
  },
};
