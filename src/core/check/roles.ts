import type { Catalog, FieldTexts } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import type { Context, Row } from './context.js';

const NO_ROWS: readonly Row[] = [];

/** One text of a catalog, and what it is there for. */
export interface Role {
  readonly catalog: Catalog;
  readonly entry: Entry;
  readonly kind: 'message' | 'label' | 'choice' | 'problem';
  /** The message's key, the label's form (empty for itself), the value, or the problem and its part. */
  readonly key: string;
  readonly field?: FieldTexts;
  /** The rules that a message is for; empty for one that nothing uses. */
  readonly rows: readonly Row[];
}

/** Every text of a catalog with what it is there for. */
export function* rolesOf(context: Context, catalog: Catalog): Generator<Role> {
  for (const [key, entry] of catalog.messages)
    yield { catalog, entry, kind: 'message', key, rows: context.rowsFor(catalog, key) };
  for (const field of catalog.fields) {
    for (const [key, entry] of field.messages)
      yield { catalog, entry, kind: 'message', key, field, rows: context.rowsFor(catalog, key, field.path) };
    if (field.label) {
      yield { catalog, entry: field.label.base, kind: 'label', key: '', field, rows: NO_ROWS };
      for (const [key, entry] of field.label.forms) yield { catalog, entry, kind: 'label', key, field, rows: NO_ROWS };
    }
    for (const [key, entry] of field.choices) yield { catalog, entry, kind: 'choice', key, field, rows: NO_ROWS };
  }
  for (const [id, { title, detail }] of catalog.problems) {
    if (title) yield { catalog, entry: title, kind: 'problem', key: `${id} title`, rows: NO_ROWS };
    if (detail) yield { catalog, entry: detail, kind: 'problem', key: `${id} detail`, rows: NO_ROWS };
  }
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
