import { getOrMake } from '../../base/get-or-make.js';
import { elementAround } from '../../path/places.js';
import type { Form } from '../../rules/form.js';
import type { Ladder } from '../../texts/climber.js';
import type { Entry } from '../../texts/entry.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

interface Named {
  readonly path: string;
  readonly ladder: Ladder;
}

/** The fields of a form that stand side by side and have rules: by the element that they are in. */
function sideBySide(form: Form, context: Context): Named[][] {
  const byPlace = new Map<string, Named[]>();
  for (const { pattern, path, in: part, uses } of form.fields) {
    if (uses.length === 0) continue;
    const key = `${part} ${elementAround(pattern)}`;
    const named = { path, ladder: context.labelLadder(form.id, path, pattern) };
    getOrMake(byPlace, key, () => []).push(named);
  }
  return [...byPlace.values()].filter(({ length }) => length > 1);
}

const groups = (context: Context): { readonly form: Form; readonly fields: readonly Named[] }[] =>
  context.subject.forms.flatMap((form) =>
    sideBySide(form, context).map((fields) => ({ form, fields })),
  );

export const sameLabel: Kind = {
  kind: 'same-label',
  severity: 'info',
  about:
    'Two fields of one form have the same label in one language, so a sentence does not say which of them it means.',
  remedy: 'Say more in one of the labels: "limit of the night", not "limit".',
  example: '"night.limit": { "label": "limit" }, "week.limit": { "label": "limit" }',
  *find(context) {
    const { subject, texts } = context;
    for (const { form, fields } of context.once(groups)) {
      for (const locale of subject.locales) {
        const climber = texts.climber(locale);
        const seen = new Map<string, { readonly path: string; readonly entry: Entry }>();
        for (const { path, ladder } of fields) {
          const end = climber.climb(ladder);
          const entry = climber.isOwn(end) ? climber.entry(ladder, end) : undefined;
          if (!entry) continue;
          const other = seen.get(entry.text);
          if (!other) seen.set(entry.text, { path, entry });
          // A label for several fields by a wide pattern is meant to be one.
          else if (other.entry !== entry)
            yield {
              kind: 'same-label',
              locale,
              form: form.id,
              path,
              message: `${path} is called “${entry.text}” as ${other.path} is, in one form. Say more in one of the two labels.`,
              spot: { ...entry.origin, at: 'value' },
            };
        }
      }
    }
  },
};
