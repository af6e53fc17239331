import { AlikeCatalog } from '../catalog/alike.js';
import { eachText, type Catalog, type FieldTexts, type TextKind } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import type { Context, Row } from './context.js';
import type { Purpose } from './purposes.js';

/** One text of a catalog, and what it is there for. */
export interface Role {
  readonly catalog: Catalog;
  readonly entry: Entry;
  readonly kind: TextKind;
  /** The message's key, the label's form (empty for itself), the value, or the problem and its part. */
  readonly key: string;
  /** The field entry; its texts may be those of another language, its paths and keys are right. */
  readonly field: FieldTexts | undefined;
  /** The same for the texts of all languages that are there for the same. */
  readonly purpose: Purpose;
  /** The rules that a message is for; empty for one that nothing uses. */
  readonly rows: readonly Row[];
}

/** Shows every text of a catalog, with what it is there for. Of one that was not put together the texts are made to be seen. */
export function eachRole(context: Context, catalog: Catalog, see: (role: Role) => void): void {
  if (catalog instanceof AlikeCatalog && !catalog.isWhole) {
    const { slots } = catalog.template;
    const purposes = context.purposesOf(catalog.template);
    for (const [at, slot] of slots.entries()) {
      const purpose = purposes[at];
      if (!purpose) continue;
      const { kind, key, field } = slot;
      see({ catalog, entry: catalog.entry(slot), kind, key, field, purpose, rows: purpose.rows });
    }
    return;
  }
  const purposes = context.purposes(catalog);
  eachText(catalog, (entry, kind, key, field) => {
    const purpose = purposes.of(kind, key, field?.path);
    see({ catalog, entry, kind, key, field, purpose, rows: purpose.rows });
  });
}

/** Where a remark about a text belongs. */
export function aboutRole({ catalog, entry, key, kind, field }: Role, offset = 0): Omit<Remark, 'kind' | 'message'> {
  return {
    locale: catalog.locale,
    ...(catalog.form === undefined ? {} : { form: catalog.form }),
    ...(field === undefined ? {} : { path: field.path }),
    ...(kind === 'message' ? { rule: key } : {}),
    spot: { ...entry.origin, at: 'value', offset },
  };
}
