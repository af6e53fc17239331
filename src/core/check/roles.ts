import type { Catalog, FieldTexts } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { OverviewRow } from '../catalog/overview.js';
import type { Remark } from '../finding.js';
import type { MessageNode, TextNode, Message } from '../message/tree.js';
import type { Context, Row } from './context.js';

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

/** Every text of the workspace's catalogs with what it is there for; `Context.roles` keeps them. */
export function* rolesOf(context: Context): Generator<Role> {
  for (const catalog of context.subject.catalogs) {
    const forms = new Set(context.formsOf(catalog));
    for (const [key, entry] of catalog.messages)
      yield { catalog, entry, kind: 'message', key, rows: context.rowsWith(key).filter((row) => forms.has(row.form)) };
    for (const [field, linked] of context.linksOf(catalog)) {
      const rows = [...linked].flatMap((one) => context.rowsOf(one)).filter((row) => forms.has(row.form));
      for (const [key, entry] of field.messages)
        yield { catalog, entry, kind: 'message', key, field, rows: rows.filter(({ keys }) => keys.includes(key)) };
      if (field.label) {
        yield { catalog, entry: field.label.base, kind: 'label', key: '', field, rows: [] };
        for (const [key, entry] of field.label.forms) yield { catalog, entry, kind: 'label', key, field, rows: [] };
      }
      for (const [key, entry] of field.choices) yield { catalog, entry, kind: 'choice', key, field, rows: [] };
    }
    for (const [id, { title, detail }] of catalog.problems) {
      if (title) yield { catalog, entry: title, kind: 'problem', key: `${id} title`, rows: [] };
      if (detail) yield { catalog, entry: detail, kind: 'problem', key: `${id} detail`, rows: [] };
    }
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

/** Where a remark about one of several translations belongs. */
export function aboutTranslation({ kind, form, path, key }: OverviewRow, entry: Entry): Omit<Remark, 'kind' | 'message'> {
  return {
    locale: entry.locale,
    ...(form === undefined ? {} : { form }),
    ...(path === undefined ? {} : { path }),
    ...(kind === 'message' ? { rule: key } : {}),
    spot: { ...entry.origin, at: 'value' },
  };
}

/** Every node of a message, those in cases too. */
export function* nodesOf(message: Message): Generator<MessageNode> {
  for (const node of message) {
    yield node;
    if ('cases' in node) for (const { message: inner } of node.cases) yield* nodesOf(inner);
  }
}

/** What a message writes itself. */
export function* textNodesOf(message: Message): Generator<TextNode> {
  for (const node of nodesOf(message)) if (node.kind === 'text') yield node;
}
