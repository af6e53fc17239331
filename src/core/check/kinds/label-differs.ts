import type { Pattern } from '../../path/path.js';
import type { Entry } from '../../texts/entry.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

interface Labelled {
  readonly form: string;
  readonly pattern: Pattern;
}

/** The places of one path in several forms, where not the same labels are looked for. */
function differing(context: Context): [string, readonly Labelled[]][] {
  const byPath = new Map<string, Labelled[]>();
  for (const form of context.subject.forms)
    for (const { pattern, path, uses } of form.fields) {
      if (path === '' || uses.length === 0) continue;
      const there = byPath.get(path);
      if (!there) byPath.set(path, [{ form: form.id, pattern }]);
      else if (there.every((one) => one.form !== form.id)) there.push({ form: form.id, pattern });
    }
  return [...byPath].filter(([path, places]) => {
    if (places.length === 1) return false;
    // Mostly a label is for all forms, and then there is nothing to compare.
    const ladders = places.map(({ form, pattern }) => context.labelLadder(form, path, pattern));
    return !ladders.every(
      (ladder) =>
        ladder.length === ladders[0]?.length && ladder.every((one, at) => one === ladders[0]?.[at]),
    );
  });
}

export const labelDiffers: Kind = {
  kind: 'label-differs',
  severity: 'info',
  about: 'Two forms have a field of one path, and call it differently in one language.',
  remedy:
    'If both mean the same, use one label for all forms. Otherwise excuse the finding, or switch it off for the path.',
  example: 'depot: "depot" in one form, "home depot" in another',
  *find(context) {
    const { subject, texts } = context;
    for (const [path, places] of context.once(differing)) {
      for (const locale of subject.locales) {
        const named = places.flatMap(({ form, pattern }): { form: string; entry: Entry }[] => {
          const entry = texts.label(form, pattern, locale);
          return entry && texts.serves(entry.locale, locale) ? [{ form, entry }] : [];
        });
        const [first] = named;
        const other = named.find(({ entry }) => entry.text !== first?.entry.text);
        if (!first || !other) continue;
        yield {
          kind: 'label-differs',
          locale,
          form: other.form,
          path,
          message: `${path} is called “${first.entry.text}” in ${first.form} and “${other.entry.text}” in ${other.form}. Where they mean the same, call it the same.`,
          spot: { ...other.entry.origin, at: 'value' },
        };
      }
    }
  },
};
