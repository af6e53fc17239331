import { getOrMake } from '../../base/get-or-make.js';
import type { Remark } from '../../finding.js';
import type { Catalog } from '../../texts/catalog.js';
import type { Entry } from '../../texts/entry.js';
import { goesWithAnother, type Purpose } from '../../texts/purpose.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';

/**
 * The catalogs that speak of one form, or of all, in one language, where texts of them stand in
 * each other's way.
 */
function crowded({ catalogs, table }: Context): Catalog[][] {
  const groups = new Map<string, Catalog[]>();
  for (const catalog of catalogs) {
    if (table.column(catalog.locale).covered.length === 0) continue;
    const id = `${catalog.locale} ${catalog.form ?? ''}`;
    getOrMake(groups, id, () => []).push(catalog);
  }
  return [...groups.values()];
}

function* covering(catalogs: readonly Catalog[]): Generator<Remark> {
  const first = new Map<Purpose, Entry>();
  for (const { texts, locale } of catalogs) {
    for (const entry of texts) {
      const { purpose, file, slot } = entry;
      if (goesWithAnother(purpose)) continue;
      const earlier = first.get(purpose);
      if (!earlier) first.set(purpose, entry);
      else {
        const where = earlier.file === file ? 'further up in this file' : `in ${earlier.file} too`;
        yield {
          kind: 'duplicate-key',
          locale,
          message: `"${slot.keys.join(' > ')}" stands ${where}; this one, read later, holds. Remove one of the two.`,
          spot: { ...entry.origin, at: 'key' },
        };
      }
    }
  }
}

export const duplicateKey: Kind = {
  kind: 'duplicate-key',
  severity: 'error',
  about:
    'A key occurs twice, in one file or in two files of one locale; only the later one is used.',
  remedy: 'Remove the one that is not wanted.',
  example: '"required": "…",\n"required": "…"                     // the first is never used',
  *find(context) {
    yield* context.subject.remarks.filter(({ kind }) => kind === 'duplicate-key');
    for (const group of crowded(context)) yield* covering(group);
  },
};
