import type { Catalog } from '../core/texts/catalog.js';
import type { Entry } from '../core/texts/entry.js';
import type { Workspace } from '../workspace/reading/workspace.js';

const idOf = (keys: readonly (string | number)[]): string => JSON.stringify(keys);

const known = new WeakMap<Catalog, ReadonlyMap<string, Entry>>();

/**
 * The texts of a catalog by the keys that lead to them, with and without the `text` of an object.
 */
function byKeys(catalog: Catalog): ReadonlyMap<string, Entry> {
  let entries = known.get(catalog);
  if (!entries) {
    const made = new Map<string, Entry>();
    for (const entry of catalog.texts) {
      made.set(idOf(entry.slot.keys), entry);
      if (entry.details.inObject) made.set(idOf(entry.origin.keys), entry);
    }
    known.set(catalog, (entries = made));
  }
  return entries;
}

/** The catalog in a file of a workspace; nothing where that is none. */
export const catalogIn = ({ table }: Workspace, file: string): Catalog | undefined =>
  table.catalogs.find((catalog) => catalog.file === file);

/** The text that keys in a file lead to, or that they lead into, such as its note. */
export function entryAt(
  workspace: Workspace,
  file: string,
  keys: readonly (string | number)[],
): Entry | undefined {
  const catalog = catalogIn(workspace, file);
  if (!catalog) return undefined;
  const entries = byKeys(catalog);
  for (let length = keys.length; length > 0; length--) {
    const entry = entries.get(idOf(keys.slice(0, length)));
    if (entry) return entry;
  }
  return undefined;
}
