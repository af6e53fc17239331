import type { Catalog } from './catalog.js';
import type { Entry } from './entry.js';
import { goesWithAnother } from './purpose.js';

/** The texts of a catalog that are as they were before, as the objects that they were: what was worked out of them holds. */
export function renewed(catalog: Catalog, before: Catalog): Catalog {
  if (catalog.form !== before.form || catalog.locale !== before.locale) return catalog;
  const known = new Map(before.texts.map((entry) => [entry.slot, entry]));
  // What goes with a text that is another one now is no part of the one before.
  const loose = new Set<Entry>();
  const texts = catalog.texts.map((entry): Entry => {
    const same = known.get(entry.slot);
    return same?.isLike(entry) ? same : entry;
  });
  for (const entry of texts) {
    const { inline } = entry.details;
    for (const form of [...(inline ? [inline] : []), ...entry.forms.values()]) loose.add(form);
  }
  return {
    ...catalog,
    texts: texts.map((entry, at) => (isApart(entry) && !loose.has(entry) ? (catalog.texts[at] ?? entry) : entry)),
  };
}

const isApart = ({ purpose }: Entry): boolean => goesWithAnother(purpose);
