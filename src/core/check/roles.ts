import type { Catalog, FieldTexts } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import type { Context, Row } from './context.js';
import type { Purpose } from './purposes.js';

/** One text of a catalog, and what it is there for. */
export interface Role {
  readonly catalog: Catalog;
  readonly entry: Entry;
  readonly kind: 'message' | 'label' | 'choice' | 'problem';
  /** The message's key, the label's form (empty for itself), the value, or the problem and its part. */
  readonly key: string;
  readonly field: FieldTexts | undefined;
  /** The same for the texts of all languages that are there for the same. */
  readonly purpose: Purpose;
  /** The rules that a message is for; empty for one that nothing uses. */
  readonly rows: readonly Row[];
}

/** Shows every text of a catalog, with what it is there for. */
export function eachRole(context: Context, catalog: Catalog, see: (role: Role) => void): void {
  const purposes = context.purposes(catalog);
  const show = (entry: Entry, kind: Role['kind'], key: string, field?: FieldTexts): void => {
    const purpose = purposes.of(kind, key, field?.path);
    see({ catalog, entry, kind, key, field, purpose, rows: purpose.rows });
  };
  for (const [key, entry] of catalog.messages) show(entry, 'message', key);
  for (const field of catalog.fields) {
    const { label, messages, choices } = field;
    if (messages.size > 0) for (const [key, entry] of messages) show(entry, 'message', key, field);
    if (label) {
      show(label.base, 'label', '', field);
      if (label.forms.size > 0) for (const [key, entry] of label.forms) show(entry, 'label', key, field);
    }
    if (choices.size > 0) for (const [key, entry] of choices) show(entry, 'choice', key, field);
  }
  for (const [id, { title, detail }] of catalog.problems) {
    if (title) show(title, 'problem', `${id} title`);
    if (detail) show(detail, 'problem', `${id} detail`);
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
