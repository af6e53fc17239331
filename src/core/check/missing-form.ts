import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
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

/** The grammatical forms that a message asks for, of the field's own label and of the other field's. */
function asked(entry: Entry): { name: string; word: string; form: string }[] {
  return [...entry.arguments.keys()].flatMap((name) => {
    const [, word, form] = /^(label|counterpart)_(\w.*)$/u.exec(name) ?? [];
    return word === undefined || form === undefined || form === 'start' ? [] : [{ name, word, form }];
  });
}

function gaps({ rows, subject }: Context): Gap[] {
  const found = new Map<string, Gap>();
  const ids = new Map<Entry, number>();
  for (const {
    form: { id },
    field,
    use,
    keys,
  } of rows) {
    for (const locale of subject.locales) {
      const entry = subject.texts.message({ form: id, path: field.pattern, keys }, locale)?.entry;
      if (!entry || !subject.texts.serves(entry.locale, locale)) continue;
      if (!ids.has(entry)) ids.set(entry, ids.size);
      for (const { name, word, form } of asked(entry)) {
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
  find: (context) =>
    gaps(context).map(({ entry, name, form, labels }): Remark => ({
      kind: 'missing-form',
      locale: entry.locale,
      message: `{${name}} asks for a form that ${labels.size === 1 ? 'this label lacks' : 'these labels lack'}: ${[...labels].join(', ')}. Add "${form}".`,
      spot: { ...entry.origin, at: 'value', offset: entry.arguments.get(name)?.start ?? 0 },
    })),
};
