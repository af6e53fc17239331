import type { Catalog } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
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

function hasSome(catalog: Catalog): boolean {
  for (const entry of catalog.messages.values()) if (asks(entry)) return true;
  for (const { messages } of catalog.fields) for (const entry of messages.values()) if (asks(entry)) return true;
  return false;
}

/** The locales in which some text asks for a form; in the others nothing has to be looked up. */
function asking({ subject }: Context): readonly Locale[] {
  const found = new Set<Locale>();
  for (const catalog of subject.catalogs) if (!found.has(catalog.locale) && hasSome(catalog)) found.add(catalog.locale);
  return subject.locales.filter((locale) =>
    subject.texts.chain(locale).some((one) => found.has(one) || [...subject.texts.starterMessages(one)].some(asks)),
  );
}

function gaps(context: Context): Gap[] {
  const { rows, subject } = context;
  const found = new Map<string, Gap>();
  const ids = new Map<Entry, number>();
  const locales = asking(context);
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
  find: (context) =>
    gaps(context).map(({ entry, name, form, labels }): Remark => ({
      kind: 'missing-form',
      locale: entry.locale,
      message: `{${name}} asks for a form that ${labels.size === 1 ? 'this label lacks' : 'these labels lack'}: ${[...labels].join(', ')}. Add "${form}".`,
      spot: { ...entry.origin, at: 'value', offset: entry.arguments.get(name)?.start ?? 0 },
    })),
};
