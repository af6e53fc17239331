import type { Catalog } from '../catalog/catalog.js';
import type { Locale } from '../locale/tag.js';
import type { Subject } from './context.js';

/** What a catalog has texts for, whatever they say; nothing where one of them is broken, since lookups pass it over. */
function outline({ form, messages, fields }: Catalog): string | undefined {
  const parts: string[] = [form ?? '', ...messages.keys()];
  for (const entry of messages.values()) if (entry.error) return undefined;
  for (const { path, label, messages: own } of fields) {
    parts.push('\n', path);
    if (label) {
      if (label.base.error) return undefined;
      parts.push(label.gender === undefined ? 'label' : 'label, gender', ...label.forms.keys());
    }
    for (const [key, entry] of own) {
      if (entry.error) return undefined;
      parts.push(':', key);
    }
  }
  return parts.join('\t');
}

/**
 * Locales whose catalogs have texts for just the same, in well-kept workspaces nearly all: a lookup ends at the same place in
 * each of them, and so has to be made in one only.
 */
export class Likeness {
  private readonly first = new Map<Locale, Locale>();

  constructor({ catalogs, locales, languages, original, texts }: Subject) {
    const outlines = new Map<Locale, string | undefined>();
    for (const catalog of catalogs) {
      const own = outline(catalog);
      const before = outlines.has(catalog.locale) ? outlines.get(catalog.locale) : '';
      outlines.set(catalog.locale, own === undefined || before === undefined ? undefined : `${before}\f${own}`);
    }
    const leaders = new Map<string, Locale>();
    for (const locale of new Set([...languages, ...locales])) {
      const chain = texts.chain(locale);
      const known = outlines.get(locale);
      // Only locales that go straight to another language: what serves as their own is then in their own catalogs.
      const next = chain[1];
      if (known === undefined || locale === original || chain.length > 2) continue;
      if (next !== undefined && texts.serves(next, locale)) continue;
      const id = `${next ?? ''}\f${texts.starterKeys(locale).join('\t')}\f${known}`;
      const leader = leaders.get(id);
      if (leader === undefined) leaders.set(id, locale);
      else this.first.set(locale, leader);
    }
  }

  /** The locale whose lookups end where those of this one do; often itself. */
  leader(locale: Locale): Locale {
    return this.first.get(locale) ?? locale;
  }
}
