import { overview } from '../../catalog/overview.js';
import type { Kind } from '../kind.js';
import { textNodesOf } from '../roles.js';

export const sameAsOriginal: Kind = {
  kind: 'same-as-original',
  severity: 'warning',
  about: 'A message of several words is the same as the original in another language: it was copied and never translated.',
  remedy: 'Translate it.',
  *find({ subject }) {
    for (const { kind, texts, form, path, key } of overview(subject.catalogs)) {
      const original = texts.get(subject.original);
      // Names may be the same in two languages; sentences hardly ever are.
      if (!original || (kind !== 'message' && kind !== 'problem')) continue;
      const words = [...textNodesOf(original.tree)].flatMap(({ text }) => text.match(/\p{L}{2,}/gu) ?? []);
      if (words.length < 3) continue;
      for (const [locale, entry] of texts) {
        if (locale === subject.original || subject.texts.serves(locale, subject.original) || entry.text !== original.text)
          continue;
        yield {
          kind: 'same-as-original',
          locale,
          ...(form === undefined ? {} : { form }),
          ...(path === undefined ? {} : { path }),
          ...(kind === 'message' ? { rule: key } : {}),
          message: `This text is the original in ${subject.original}, word by word. Translate it.`,
          spot: { ...entry.origin, at: 'value' },
        };
      }
    }
  },
};
