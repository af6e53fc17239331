import type { Catalog } from '../../core/catalog/catalog.js';
import type { Entry } from '../../core/catalog/entry.js';
import { overview } from '../../core/catalog/overview.js';
import { rowsOf } from '../../core/check/context.js';
import type { Locale } from '../../core/locale/tag.js';
import { complaint } from '../complaint.js';
import { CONFIG_FILE } from '../config.js';
import type { Workspace } from '../workspace.js';
import { addressId, catalogsFor, entryAt, type Address } from './address.js';
import type { TextEditor } from './texts.js';
import { addToYamlList } from './yaml-text.js';

/** A text that is wanted in a locale, and what its draft is made from. */
export interface Draft {
  readonly address: Address;
  readonly text: string;
  readonly from: string;
}

const has = (catalogs: readonly Catalog[], locale: Locale, address: Address): boolean =>
  catalogsFor(catalogs, locale, address).some((one) => entryAt(one, address));

/** The grammatical forms that labels of a locale have; nothing where it has no catalog yet, and nobody knows what it needs. */
function formsIn(catalogs: readonly Catalog[], locale: Locale): ReadonlySet<string> | undefined {
  const own = catalogs.filter((one) => one.locale === locale);
  if (own.length === 0) return undefined;
  return new Set(own.flatMap(({ fields }) => fields.flatMap(({ label }) => [...(label?.forms.keys() ?? [])])));
}

/** Every text that another locale has and this one lacks; grammatical forms of another language are no lack. */
export function lackingAgainst(workspace: Workspace, locale: Locale, from: Locale): { address: Address; entry: Entry }[] {
  const known = new Set<string>();
  const forms = formsIn(workspace.catalogs, locale);
  return overview(workspace.catalogs).flatMap((row) => {
    const entry = row.texts.get(from);
    const address: Address = { kind: row.kind, form: row.form, path: row.path, key: row.key };
    if (row.kind === 'label' && row.key !== '' && forms?.has(row.key) === false) return [];
    if (!entry || known.has(addressId(address)) || has(workspace.catalogs, locale, address)) return [];
    known.add(addressId(address));
    return [{ address, entry }];
  });
}

/** The starter's sentences for the rules that the forms use and the locale's own catalogs have none for. */
function starterDrafts(workspace: Workspace, locale: Locale): Draft[] {
  const starter = workspace.starterOf(locale);
  if (!starter)
    throw complaint('wrong-use', [`no starter catalog ships for ${locale}; fill from the original, or from a near locale`]);
  const keys = new Set(rowsOf([...workspace.forms.values()].map(({ form }) => form)).flatMap((row) => row.keys));
  const drafts: Draft[] = [];
  const add = (address: Address, entry: Entry | undefined): void => {
    if (entry && !has(workspace.catalogs, locale, address)) drafts.push({ address, text: entry.text, from: 'the starter' });
  };
  for (const key of keys) add({ kind: 'message', key }, starter.messages.get(key));
  for (const [id, { title, detail }] of starter.problems) {
    add({ kind: 'problem', key: `${id} title` }, title);
    add({ kind: 'problem', key: `${id} detail` }, detail);
  }
  return drafts;
}

/** Drafts of all that a locale lacks. */
export function draftsFor(workspace: Workspace, locale: Locale, from: string, form: string | undefined): Draft[] {
  const { original } = workspace.config;
  const drafts =
    from === 'starter'
      ? starterDrafts(workspace, locale)
      : lackingAgainst(workspace, locale, from === 'original' ? original : workspace.locale(from)).map(({ address, entry }) => ({
          ...{ address, text: entry.text, from: entry.locale },
        }));
  return form === undefined ? drafts : drafts.filter(({ address }) => address.form === form);
}

/** Makes a locale one of the workspace's languages. */
export function addLanguage(workspace: Workspace, editor: TextEditor, locale: Locale): void {
  editor.edits.change(CONFIG_FILE, (text) => {
    const added = addToYamlList(text, 'languages', locale);
    if (added === text)
      throw complaint('wrong-use', [
        `"languages" in zeitwort.yaml is no list that a language can be added to; add ${locale} by hand`,
      ]);
    return added;
  });
}

/** Writes drafts into the catalogs; where they are made from the original, their state is noted as initial. */
export function writeDrafts(
  workspace: Workspace,
  editor: TextEditor,
  locale: Locale,
  drafts: readonly Draft[],
  into?: string,
): void {
  for (const { address, text, from } of drafts) {
    const file = editor.fileForDraft(locale, address, into);
    editor.set(file, address, text);
    const original = editor.originalOf(address);
    if (locale !== workspace.config.original && original !== undefined && from !== 'the starter')
      editor.mark(file, address, 'initial', text, original);
  }
}
