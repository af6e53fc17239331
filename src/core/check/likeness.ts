import { AlikeCatalog, structureOf } from '../catalog/alike.js';
import type { Catalog } from '../catalog/catalog.js';
import type { Locale } from '../locale/tag.js';
import type { Subject } from './context.js';

const sameKeys = (one: ReadonlyMap<string, unknown>, other: ReadonlyMap<string, unknown>): boolean => {
  if (one === other) return true;
  if (one.size !== other.size) return false;
  const keys = other.keys();
  for (const key of one.keys()) if (key !== keys.next().value) return false;
  return true;
};

/** Whether a catalog has a text that is broken; lookups pass it over. */
function hasBroken(catalog: Catalog): boolean {
  if (catalog instanceof AlikeCatalog && !catalog.isWhole) return catalog.hasBroken;
  const { messages, fields } = catalog;
  for (const entry of messages.values()) if (entry.error) return true;
  for (const { label, messages: own } of fields) {
    if (label?.base.error) return true;
    for (const entry of own.values()) if (entry.error) return true;
  }
  return false;
}

/** Whether two catalogs have texts for just the same, in the same order. */
function areAlike(one: Catalog, other: Catalog): boolean {
  if (one === other) return true;
  if (one.form !== other.form || one.fields.length !== other.fields.length || !sameKeys(one.messages, other.messages))
    return false;
  if (!sameKeys(one.problems, other.problems)) return false;
  for (const [id, { title, detail }] of one.problems) {
    const twin = other.problems.get(id);
    if (!title !== !twin?.title || !detail !== !twin?.detail) return false;
  }
  for (const [at, field] of one.fields.entries()) {
    const twin = other.fields[at];
    if (twin?.path !== field.path || !sameKeys(field.messages, twin.messages) || !sameKeys(field.choices, twin.choices))
      return false;
    const [label, its] = [field.label, twin.label];
    if ((label === undefined) !== (its === undefined)) return false;
    if (label && its && ((label.gender === undefined) !== (its.gender === undefined) || !sameKeys(label.forms, its.forms)))
      return false;
  }
  return true;
}

/** Locales whose own files have texts for just the same, and among them those that also fall back on the same. */
interface Group {
  readonly locale: Locale;
  readonly files: readonly Catalog[];
  readonly leaders: { readonly locale: Locale; readonly about: string }[];
}

/**
 * Locales whose catalogs have texts for just the same, in well-kept workspaces nearly all: a lookup ends at the same place in
 * each of them, and so has to be made in one only.
 */
export class Likeness {
  private readonly first = new Map<Locale, Locale>();
  private readonly firstOfShape = new Map<Locale, Locale>();

  constructor({ catalogs, locales, languages, original, texts }: Subject) {
    const own = new Map<Locale, Catalog[]>();
    for (const catalog of catalogs) {
      const list = own.get(catalog.locale);
      if (list) list.push(catalog);
      else own.set(catalog.locale, [catalog]);
    }
    const groups: Group[] = [];
    for (const locale of new Set([...languages, ...locales])) {
      const files = own.get(locale);
      if (!files || files.some(hasBroken)) continue;
      const isOfShape = (one: Group): boolean =>
        one.files.length === files.length &&
        files.every((file, at) => {
          const twin = one.files[at];
          return twin !== undefined && areAlike(structureOf(file), structureOf(twin));
        });
      let group = groups.find(isOfShape);
      if (!group) groups.push((group = { locale, files, leaders: [] }));
      this.firstOfShape.set(locale, group.locale);
      const chain = texts.chain(locale);
      // Only locales that go straight to another language: what serves as their own is then in their own catalogs.
      const next = chain[1];
      if (locale === original || chain.length > 2 || (next !== undefined && texts.serves(next, locale))) continue;
      const about = `${next ?? ''} ${texts.starterKeys(locale).join(' ')}`;
      const leader = group.leaders.find((one) => one.about === about);
      if (leader) this.first.set(locale, leader.locale);
      else group.leaders.push({ locale, about });
    }
  }

  /** The locale whose lookups end where those of this one do; often itself. */
  leader(locale: Locale): Locale {
    return this.first.get(locale) ?? locale;
  }

  /**
   * The locale whose own files have texts for just the same, whatever it falls back on: lookups that end in the files of the one
   * end at the same place in those of the other.
   */
  shape(locale: Locale): Locale {
    return this.firstOfShape.get(locale) ?? locale;
  }
}
