import type { Entry } from '../catalog/entry.js';
import type { Locale } from '../locale/tag.js';
import { TRAIT } from '../message/traits.js';
import { printPath, type Pattern } from '../path/path.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';

interface Gap {
  readonly entry: Entry;
  readonly name: string;
  readonly form: string;
  /** The paths whose labels lack the form. */
  readonly labels: Set<string>;
}

const asks = (entry: Entry): boolean => entry.signature.wordForms.length > 0;

function gaps(context: Context, locales: readonly Locale[]): Gap[] {
  const { rows, subject } = context;
  const found = new Map<string, Gap>();
  const ids = new Map<Entry, number>();
  for (const [at, row] of rows.entries()) {
    const { field, use } = row;
    const { id } = row.form;
    for (const locale of locales) {
      const entry = context.messagesIn(locale)[at]?.entry;
      if (!entry || !subject.texts.serves(entry.locale, locale)) continue;
      const wanted = entry.signature.wordForms;
      if (wanted.length === 0) continue;
      if (!ids.has(entry)) ids.set(entry, ids.size);
      for (const { name, word, form } of wanted) {
        const pattern: Pattern | undefined = word === 'label' ? field.pattern : use.counterpart;
        const label = pattern && subject.texts.label(id, pattern, locale);
        // Without any label of this locale there is another finding already.
        if (!label || !subject.texts.serves(label.base.locale, locale)) continue;
        if (form === 'gender' ? label.gender !== undefined : label.forms.has(form)) continue;
        const key = `${ids.get(entry) ?? 0} ${name}`;
        const gap = found.get(key) ?? { entry, name, form, labels: new Set() };
        gap.labels.add(printPath(pattern));
        found.set(key, gap);
      }
    }
  }
  return [...found.values()];
}

export const missingForm: Kind = {
  kind: 'missing-form',
  severity: 'warning',
  about: 'A message asks for a grammatical form that a label lacks; the label stands there uninflected.',
  remedy: 'Add the form to each label that the sentence lists.',
  example: '"required": "Bitte {label_accusative} angeben."  // a label without "accusative"',
  texts: (context, report) => {
    const found = new Set<Locale>();
    return {
      needs: TRAIT.argument,
      sorts: ['message'],
      each: ({ entry }) => {
        if (asks(entry)) found.add(entry.locale);
      },
      end: () => {
        for (const { entry, name, form, labels } of gaps(context, context.servedBy(found, asks)))
          report({
            locale: entry.locale,
            message: `{${name}} asks for a form that ${labels.size === 1 ? 'this label lacks' : 'these labels lack'}: ${[...labels].join(', ')}. Add "${form}".`,
            spot: { ...entry.origin, at: 'value', offset: entry.arguments.get(name)?.start ?? 0 },
          });
      },
    };
  },
};
