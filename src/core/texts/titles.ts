import type { Locale } from '../locale/tag.js';
import type { Entry } from './entry.js';
import type { Address, Scope } from './purpose.js';
import type { Table } from './table.js';

/** One text of the catalogs in all its locales. */
export interface OverviewRow extends Address {
  readonly texts: ReadonlyMap<Locale, Entry>;
}

/** The labels that schemas give, by path: each with the forms whose fields are called so. */
function titlesByPath(
  table: Table,
): Map<string, { readonly entry: Entry; readonly form: string | undefined }[]> {
  const { cells } = table.column(table.original);
  const byPath = new Map<string, { entry: Entry; form: string | undefined }[]>();
  for (const scope of table.purposes.scopesOf('title')) {
    for (const [path, field] of scope.fields) {
      const entry = cells[field.known('label', '')?.id ?? -1];
      if (!entry || entry.error) continue;
      const there = byPath.get(path) ?? [];
      byPath.set(path, there);
      there.push({ entry, form: scope.form });
    }
  }
  return byPath;
}

/**
 * Labels of the original that stand in schemas as titles and in no catalog, as rows beside the
 * written ones: they are texts for translators like all others. One that all forms share is for all
 * forms.
 * @param rows the written labels by form and path
 */
export function titleRows(
  table: Table,
  rows: (form: string | undefined, path: string) => OverviewRow | undefined,
): OverviewRow[] {
  const { original } = table;
  return [...titlesByPath(table)].flatMap(([path, titles]) => {
    const general = rows(undefined, path);
    if (general?.texts.has(original)) return [];
    const isWritten = (form: string): boolean =>
      table.purposes.writtenFor(form).some((scope) => rows(scope.form, path)?.texts.has(original));
    const open = titles.filter(({ form }) => form === undefined || !isWritten(form));
    const [first] = open;
    if (!first) return [];
    const isOne =
      open.length === titles.length && open.every(({ entry }) => entry.text === first.entry.text);
    const wanted = isOne ? [{ entry: first.entry, form: undefined }] : open;
    return wanted.map(({ entry, form }): OverviewRow => {
      const written = rows(form, path) ?? general;
      const texts = new Map<Locale, Entry>([...(written?.texts ?? []), [original, entry]]);
      return { kind: 'label', form, path, key: '', texts };
    });
  });
}

/** Returns a schema's title for the field of an address. */
export function titleOf(table: Table, { kind, form, path, key }: Address): Entry | undefined {
  if (kind !== 'label' || key !== '' || path === undefined) return undefined;
  const scopes: readonly Scope[] =
    form === undefined
      ? table.purposes.scopesOf('title')
      : [table.purposes.known('title', form)].flatMap((one) => one ?? []);
  const { cells } = table.column(table.original);
  for (const scope of scopes) {
    const entry = cells[scope.fields.get(path)?.known('label', '')?.id ?? -1];
    if (entry) return entry;
  }
  return undefined;
}
