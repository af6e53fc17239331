import type { Catalog } from '../catalog/catalog.js';
import type { Entry } from '../catalog/entry.js';
import type { Remark } from '../finding.js';
import { closest } from '../text/closest.js';
import type { Context } from './context.js';
import type { Kind } from './kind.js';

function* unusedOf(
  messages: ReadonlyMap<string, Entry>,
  used: ReadonlySet<string>,
  owner: string,
  about: Partial<Remark>,
): Generator<Remark> {
  for (const [key, { origin, locale }] of messages) {
    if (used.has(key)) continue;
    const near = closest(key, used);
    const keys = origin.keys.at(-1) === 'text' && origin.keys.at(-2) === key ? origin.keys.slice(0, -1) : origin.keys;
    yield {
      kind: 'unused-message',
      locale,
      rule: key,
      ...about,
      message: `No rule of ${owner} uses "${key}". ${near ? `Did you mean "${near}"?` : 'Remove it, or declare the rule.'}`,
      spot: { ...origin, keys, at: 'key' },
    };
  }
}

function* unusedIn(catalog: Catalog, context: Context): Generator<Remark> {
  const { form, locale } = catalog;
  const forms = context.formsOf(catalog);
  if (form !== undefined && forms.length === 0) {
    const near = closest(
      form,
      context.subject.forms.map(({ id }) => id),
    );
    yield {
      kind: 'unused-message',
      locale,
      form,
      message: `There is no form "${form}", so nothing in this file is ever used. ${near ? `Did you mean "${near}"?` : 'Correct its id.'}`,
      spot: { file: catalog.file, keys: ['form'], at: 'value' },
    };
    return;
  }
  const rows = context.rows.filter((row) => forms.includes(row.form));
  const owner = form === undefined ? 'any form' : `the form "${form}"`;
  yield* unusedOf(catalog.messages, new Set(rows.flatMap(({ keys }) => keys)), owner, form === undefined ? {} : { form });
  for (const [texts, fields] of context.linksOf(catalog)) {
    const used = new Set([...fields].flatMap((field) => context.rowsOf(field).flatMap(({ keys }) => keys)));
    yield* unusedOf(texts.messages, used, `the field "${texts.path}"`, {
      path: texts.path,
      ...(form === undefined ? {} : { form }),
    });
  }
}

export const unusedMessage: Kind = {
  kind: 'unused-message',
  severity: 'warning',
  about: 'A message stands under a key that no rule uses, often a misspelt one.',
  remedy: 'Correct the key, or remove the message.',
  *find(context) {
    for (const catalog of context.subject.catalogs) yield* unusedIn(catalog, context);
  },
};
