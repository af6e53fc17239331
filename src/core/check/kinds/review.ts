import type { Kind } from '../subject/kind.js';
import { aboutText, type CheckedText } from '../subject/checked-text.js';
import type { Context, Reviewed } from '../subject/context.js';

function reviewed(checked: CheckedText, { subject }: Context): Reviewed | undefined {
  const { entry } = checked;
  // An original was made from nothing; of it is noted at most that it is a draft.
  const original = entry.locale === subject.original ? entry : checked.original;
  return original && subject.reviewOf?.(entry, original);
}

const quoted = (text: string): string => JSON.stringify(text);

export const stale: Kind = {
  kind: 'stale',
  severity: 'warning',
  about:
    'The original changed after the translation was made from it; the two may now say different things.',
  remedy:
    'Compare the two originals in the sentence, correct the translation, and mark it with `zeitwort review`.',
  example:
    '"Please give a title." → "Please give a short title."   // the German text is of the first',
  look: (context, report) =>
    context.subject.reviewOf && {
      text: (checked) => {
        const review = reviewed(checked, context);
        if (!review || review.current || checked.entry.locale === context.subject.original) return;
        const now = checked.original?.text ?? '';
        const before =
          review.source === undefined
            ? ''
            : ` It was ${quoted(review.source)} and is ${quoted(now)}.`;
        report({
          message: `The original in ${context.subject.original} changed after this was translated.${before} Mend the translation, then mark it with "zeitwort review".`,
          ...aboutText(checked),
        });
      },
    },
};

export const unreviewed: Kind = {
  kind: 'unreviewed',
  severity: 'info',
  about:
    'A text is a draft, or a translation was changed, and nobody has marked it as reviewed since. Texts of which nothing is noted are left alone.',
  remedy: 'Read it beside the original, and mark it with `zeitwort review`.',
  example: 'de  title  required  translated      // in the review file',
  look: (context, report) =>
    context.subject.reviewOf && {
      text: (checked) => {
        const review = reviewed(checked, context);
        if (!review?.current || review.state === 'reviewed' || review.state === 'final') return;
        const isOriginal = checked.entry.locale === context.subject.original;
        if (isOriginal && review.state !== 'initial') return;
        report({
          message: isOriginal
            ? 'This text is a draft that nobody has looked at. Write another text, or mark it with "zeitwort review".'
            : `This translation is "${review.state}" and not yet reviewed. Read it, and mark it with "zeitwort review".`,
          ...aboutText(checked),
        });
      },
    },
};
