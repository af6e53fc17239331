import type { Locale } from '../locale/tag.js';
import type { Entry } from './entry.js';
import type { Address, Purpose } from './purpose.js';
import type { Table } from './table.js';

/** One text of the catalogs in all its locales. */
export interface OverviewRow extends Address {
  readonly texts: ReadonlyMap<Locale, Entry>;
}

function groupOf(groups: Map<string, OverviewRow[]>, ...about: (string | undefined)[]): OverviewRow[] {
  const id = JSON.stringify(about);
  let group = groups.get(id);
  if (!group) groups.set(id, (group = []));
  return group;
}

/** The written texts side by side, in the order in which they are first met; forms of a label stand with it. */
export function overview(table: Table): OverviewRow[] {
  const rows = new Map<Purpose, OverviewRow & { texts: Map<Locale, Entry> }>();
  const groups = new Map<string, OverviewRow[]>();
  for (const { texts, locale } of table.catalogs) {
    const { cells } = table.column(locale);
    for (const entry of texts) {
      const { purpose } = entry;
      // What a later text stands in front of is of no use to anybody.
      if (cells[purpose.id] !== entry) continue;
      let row = rows.get(purpose);
      if (!row) {
        const { kind, form, path, key } = purpose;
        rows.set(purpose, (row = { kind, form, path, key, texts: new Map() }));
        // Of a field its label comes first, wherever a file has it.
        if (kind !== 'label' && path !== undefined) groupOf(groups, form, path, 'label');
        groupOf(groups, form, path, kind).push(row);
      }
      row.texts.set(locale, entry);
    }
  }
  return [...groups.values()].flat();
}
