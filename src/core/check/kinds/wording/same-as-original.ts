import type { Kind } from '../../subject/kind.js';
import { aboutText } from '../../subject/checked-text.js';

export const sameAsOriginal: Kind = {
  kind: 'same-as-original',
  severity: 'warning',
  about:
    'A message of several words is the same as the original in another language: it was copied and never translated.',
  remedy: 'Translate it.',
  example: '"required": "Please give a title."   // in the German catalog',
  look: ({ subject }, report) => ({
    // Names may be the same in two languages; sentences hardly ever are.
    sorts: ['message', 'problem'],
    concerns: ({ original }) => original !== undefined,
    text: (checked) => {
      const { entry, original } = checked;
      if (original?.text !== entry.text) return;
      if (entry.locale === subject.original) return;
      if (subject.texts.serves(entry.locale, subject.original)) return;
      // That a draft is none of the translator's is known already.
      if (subject.reviewOf?.(entry, original)?.state === 'initial') return;
      const words = checked.textNodes.flatMap(({ text }) => text.match(/\p{L}{2,}/gu) ?? []);
      if (words.length < 3) return;
      report({
        message: `This text is the original in ${subject.original}, word by word. Translate it.`,
        ...aboutText(checked),
      });
    },
  }),
};
