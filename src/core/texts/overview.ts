import { getOrMake } from '../base/get-or-make.js';
import type { Locale } from '../locale/tag.js';
import type { Entry } from './entry.js';
import type { Purpose } from './purpose.js';
import type { Table } from './table.js';
import { titleRows, type OverviewRow } from './titles.js';

export type { OverviewRow };

const labelId = (form: string | undefined, path: string | undefined): string =>
  JSON.stringify([form, path]);

function groupOf(
  groups: Map<string, OverviewRow[]>,
  ...about: (string | undefined)[]
): OverviewRow[] {
  const id = JSON.stringify(about);
  return getOrMake(groups, id, () => []);
}

/**
 * The written texts side by side, in the order in which they are first met; forms of a label stand
 * with it. What schemas call their fields stands there as labels of the original.
 */
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
  const labels = new Map<string, OverviewRow & { texts: Map<Locale, Entry> }>();
  for (const row of rows.values())
    if (row.kind === 'label' && row.key === '') labels.set(labelId(row.form, row.path), row);
  for (const title of titleRows(table, (form, path) => labels.get(labelId(form, path)))) {
    const known = labels.get(labelId(title.form, title.path));
    if (known) for (const [locale, entry] of title.texts) known.texts.set(locale, entry);
    else groupOf(groups, title.form, title.path, 'label').unshift(title);
  }
  return [...groups.values()].flat();
}
