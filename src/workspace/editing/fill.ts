import type { Entry } from '../../core/texts/entry.js';
import { overview } from '../../core/texts/overview.js';
import { rowsOf } from '../../core/check/subject/context.js';
import type { Locale } from '../../core/locale/tag.js';
import { parsePattern } from '../../core/path/path.js';
import { complaint } from '../disk/complaint.js';
import { CONFIG_FILE } from '../disk/find.js';
import { concerns } from '../reading/concerns.js';
import type { Workspace } from '../reading/workspace.js';
import { isInflection, Purposes, type Address, type TextKind } from '../../core/texts/purpose.js';
import { mendPlurals } from './fix.js';
import type { TextEditor } from './texts.js';
import { addToYamlList } from '../documents/yaml-text.js';

/** A text that is wanted in a locale, and what its draft is made from. */
export interface Draft {
  readonly address: Address;
  readonly text: string;
  readonly from: string;
}

/**
 * The inflections that labels of a locale have; nothing where it has no catalog yet, and
 * nobody knows what it needs.
 */
function formsIn({ table }: Workspace, locale: Locale): ReadonlySet<string> | undefined {
  const own = table.catalogsOf(locale);
  if (own.length === 0) return undefined;
  return new Set(
    own.flatMap(({ texts }) => texts.flatMap((entry) => [...entry.inflections.keys()])),
  );
}

/**
 * Every text that another locale has and this one lacks; inflections of another language are
 * no lack.
 */
export function lackingAgainst(
  workspace: Workspace,
  locale: Locale,
  from: Locale,
): { address: Address; entry: Entry }[] {
  const forms = formsIn(workspace, locale);
  const { allTexts } = workspace;
  /** Whether a label of a wider pattern serves: one for the field alone would stand before it. */
  const isServed = ({ kind, form = '', path, key }: Address): boolean => {
    if (kind !== 'label' || key !== '' || path === undefined) return false;
    const label = allTexts.label(form, parsePattern(path), locale);
    return (
      label !== undefined &&
      label.purpose.layer !== 'starter' &&
      allTexts.serves(label.locale, locale)
    );
  };
  return overview(workspace.table).flatMap(({ texts, ...address }) => {
    const entry = texts.get(from);
    if (isInflection(address) && forms?.has(address.key.split(' ').at(-1) ?? '') === false)
      return [];
    return entry && !texts.has(locale) && !isServed(address) ? [{ address, entry }] : [];
  });
}

/**
 * The starter's sentences for the rules that the forms use and the locale's own catalogs have none
 * for.
 */
function starterDrafts(workspace: Workspace, locale: Locale): Draft[] {
  const { table, catalogFiles, forms } = workspace;
  const starter = catalogFiles.shipped(locale, new Purposes());
  if (!starter)
    throw complaint('wrong-use', [
      `no starter catalog ships for ${locale}; fill from the original, or from a near locale`,
    ]);
  const keys = new Set(
    rowsOf([...forms.values()].map(({ form }) => form)).flatMap((row) => row.keys),
  );
  const drafts = (kind: TextKind): Draft[] =>
    starter.texts.flatMap(({ purpose, text }) => {
      const address: Address = { kind, key: purpose.key };
      return purpose.kind === kind && !table.at(locale, address)
        ? [{ address, text, from: 'the starter' }]
        : [];
    });
  const messages = new Map(drafts('message').map((draft) => [draft.address.key, draft]));
  const inlines = new Map(drafts('inline').map((draft) => [draft.address.key, draft]));
  const ofRules = [...keys].flatMap((key) =>
    [messages.get(key) ?? [], inlines.get(key) ?? []].flat(),
  );
  return [...ofRules, ...drafts('frame'), ...drafts('word'), ...drafts('problem')];
}

/** A text whose plurals have the cases of a language. */
const withOwnPlurals = (text: string, locale: Locale): string =>
  mendPlurals(mendPlurals(text, locale, true), locale, false);

/** Drafts of all that a locale lacks. */
export function draftsFor(
  workspace: Workspace,
  locale: Locale,
  from: string,
  form: string | undefined,
): Draft[] {
  const { original } = workspace.config;
  const drafts =
    from === 'starter'
      ? starterDrafts(workspace, locale)
      : lackingAgainst(
          workspace,
          locale,
          from === 'original' ? original : workspace.locale(from),
        ).map(({ address, entry }) => ({
          address,
          text: withOwnPlurals(entry.text, locale),
          from: entry.locale,
        }));
  if (form === undefined) return drafts;
  const isOfForms = concerns(workspace, form);
  return drafts.filter(({ address }) => isOfForms(address));
}

/** Makes a locale one of the workspace's languages. */
export function addLanguage(workspace: Workspace, editor: TextEditor, locale: Locale): void {
  editor.edits.change(CONFIG_FILE, (text) => {
    const added = addToYamlList(text, 'locales', locale);
    if (added === text)
      throw complaint('wrong-use', [
        `"locales" in zeitwort.yaml is not a list that a language can be added to; add ${locale} by hand`,
      ]);
    return added;
  });
}

/**
 * Writes drafts into the catalogs, and notes that they are such; what the starter says was looked
 * at already.
 */
export function writeDrafts(
  workspace: Workspace,
  editor: TextEditor,
  locale: Locale,
  drafts: readonly Draft[],
  into?: string,
): void {
  const isOriginal = locale === workspace.config.original;
  // A file that is named is for all forms, where anything is said of all.
  const general = drafts.filter(({ address }) => address.form === undefined);
  for (const { address, text, from } of [
    ...general,
    ...drafts.filter(({ address: { form } }) => form !== undefined),
  ]) {
    const file = editor.fileForDraft(locale, address, into);
    editor.set(file, address, text);
    if (from === 'the starter') continue;
    editor.mark(
      file,
      address,
      'initial',
      text,
      isOriginal ? text : (editor.originalOf(address) ?? text),
    );
  }
}
