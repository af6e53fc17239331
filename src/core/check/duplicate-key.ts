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

function* acrossFiles(catalogs: readonly Catalog[]): Generator<Remark> {
  const first = new Map<string, Origin>();
  for (const catalog of catalogs) {
    for (const [name, origin] of named(catalog)) {
      const id = `${catalog.locale} ${catalog.form ?? ''} ${name}`;
      const earlier = first.get(id);
      if (!earlier) first.set(id, origin);
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
  *find({ subject }) {
    yield* subject.remarks.filter(({ kind }) => kind === 'duplicate-key');
    yield* acrossFiles(subject.catalogs);
  },
};
