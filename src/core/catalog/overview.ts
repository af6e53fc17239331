import type { Locale } from '../locale/tag.js';
import type { Catalog } from './catalog.js';
import type { Entry } from './entry.js';

export type TextKind = 'message' | 'label' | 'choice' | 'problem';

/** One text of the catalogs in all its locales. */
export interface OverviewRow {
  readonly kind: TextKind;
  /** The one form that it is for; absent where it is for all. */
  readonly form?: string | undefined;
  /** The field's path pattern, of a field's own texts. */
  readonly path?: string | undefined;
  /** The rule's key, the label's grammatical form (`""` for the label itself), the value, or the problem and its part. */
  readonly key: string;
  readonly texts: ReadonlyMap<Locale, Entry>;
}

function* rowsOf(catalog: Catalog): Generator<Omit<OverviewRow, 'texts'> & { entry: Entry }> {
  const { form } = catalog;
  for (const [key, entry] of catalog.messages) yield { kind: 'message', form, key, entry };
  for (const { path, label, messages, choices } of catalog.fields) {
    if (label) {
      yield { kind: 'label', form, path, key: '', entry: label.base };
      for (const [key, entry] of label.forms) yield { kind: 'label', form, path, key, entry };
    }
    for (const [key, entry] of messages) yield { kind: 'message', form, path, key, entry };
    for (const [key, entry] of choices) yield { kind: 'choice', form, path, key, entry };
  }
  for (const [id, { title, detail }] of catalog.problems) {
    if (title) yield { kind: 'problem', form, key: `${id} title`, entry: title };
    if (detail) yield { kind: 'problem', form, key: `${id} detail`, entry: detail };
  }
}

/** The texts of several catalogs side by side, in the order in which they are first met; forms of a label stand with it. */
export function overview(catalogs: readonly Catalog[]): OverviewRow[] {
  const rows = new Map<string, OverviewRow & { texts: Map<Locale, Entry> }>();
  for (const catalog of catalogs) {
    for (const { entry, ...row } of rowsOf(catalog)) {
      const id = JSON.stringify([row.kind, row.form, row.path, row.key]);
      const kept = rows.get(id) ?? { ...row, texts: new Map<Locale, Entry>() };
      kept.texts.set(catalog.locale, entry);
      rows.set(id, kept);
    }
  }
  const groups = new Map<string, OverviewRow[]>();
  for (const row of rows.values()) {
    const group = JSON.stringify([row.form, row.path, row.kind]);
    groups.set(group, [...(groups.get(group) ?? []), row]);
  }
  return [...groups.values()].flat();
}
