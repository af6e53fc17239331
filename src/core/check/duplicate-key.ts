import { structureOf } from '../catalog/alike.js';
import type { Catalog } from '../catalog/catalog.js';
import type { Remark } from '../finding.js';
import type { Origin } from '../origin.js';
import type { Kind } from './kind.js';

/** Each text of a catalog with a name that is the same for texts that stand in each other's way. */
function* named(catalog: Catalog): Generator<[string, Origin]> {
  for (const [key, { origin }] of catalog.messages) yield [JSON.stringify(['messages', key]), origin];
  for (const field of catalog.fields) {
    if (field.label) yield [JSON.stringify([field.path, 'label']), field.label.base.origin];
    for (const [key, { origin }] of field.messages) yield [JSON.stringify([field.path, 'messages', key]), origin];
    for (const [key, { origin }] of field.choices) yield [JSON.stringify([field.path, 'choices', key]), origin];
  }
  for (const [id, { title, detail }] of catalog.problems) {
    if (title) yield [JSON.stringify(['problems', id, 'title']), title.origin];
    if (detail) yield [JSON.stringify(['problems', id, 'detail']), detail.origin];
  }
}

/** Whether a catalog has a path in two spellings. */
const hasTwins = (catalog: Catalog): boolean => {
  const { fields } = structureOf(catalog);
  return new Set(fields.map(({ path }) => path)).size < fields.length;
};

/** Catalogs in which a key may meet another: of one reach, and several or with one path in two spellings. */
function crowded(catalogs: readonly Catalog[]): Catalog[][] {
  const groups = new Map<string, Catalog[]>();
  for (const catalog of catalogs) {
    const id = `${catalog.locale} ${catalog.form ?? ''}`;
    const group = groups.get(id);
    if (group) group.push(catalog);
    else groups.set(id, [catalog]);
  }
  return [...groups.values()].filter((group) => group.length > 1 || group.some(hasTwins));
}

function* acrossFiles(catalogs: readonly Catalog[]): Generator<Remark> {
  const first = new Map<string, Origin>();
  for (const catalog of catalogs) {
    for (const [name, origin] of named(catalog)) {
      const earlier = first.get(name);
      if (!earlier) first.set(name, origin);
      else {
        const key = origin.keys.filter((one) => one !== 'text').join(' > ');
        const where = earlier.file === origin.file ? 'further up in this file' : `in ${earlier.file} too`;
        yield {
          kind: 'duplicate-key',
          locale: catalog.locale,
          message: `"${key}" stands ${where}; this one, read later, holds. Remove one of the two.`,
          spot: { ...origin, at: 'key' },
        };
      }
    }
  }
}

export const duplicateKey: Kind = {
  kind: 'duplicate-key',
  severity: 'error',
  about: 'A key stands twice, in one file or in two of the same locale; only the later one is ever used.',
  remedy: 'Remove the one that is not wanted.',
  example: '"required": "…",\n"required": "…"                     // the first is never used',
  *find({ subject }) {
    yield* subject.remarks.filter(({ kind }) => kind === 'duplicate-key');
    for (const group of crowded(subject.catalogs)) yield* acrossFiles(group);
  },
};
