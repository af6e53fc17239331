import { getOrMake } from '../../core/base/get-or-make.js';
import { rowsOf, type Row } from '../../core/check/subject/context.js';
import { refusalOf, refusalText } from '../../core/desk/refusal.js';
import type { Entry } from '../../core/texts/entry.js';
import { overview } from '../../core/texts/overview.js';
import type { Locale } from '../../core/locale/tag.js';
import { TRANSLATION_STATES, type TranslationState } from '../../core/texts/state.js';
import { stateOf, type ReadState, type ReadUnit } from '../../exchange/translations/unit.js';
import { shortId } from '../../exchange/translations/short-id.js';
import { suggestion } from '../../core/text/closest.js';
import { isArgumentName } from '../../core/path/identifier.js';
import type { Workspace } from '../reading/workspace.js';
import { speaksOf } from '../../core/texts/form-set.js';
import type { Address } from '../../core/texts/purpose.js';
import { EarlierTexts } from './earlier.js';
import { placedFingerprint, readExported, sameText, type Exported } from './exported.js';
import { unitKey } from '../reading/address.js';
import { inflectionNote } from './exporting.js';
import { inflectionsOf } from './inflections.js';
import { translationsOf, type Translation } from './reviewing.js';
import type { TextEditor } from './texts.js';

export interface ImportedText {
  readonly address: Address;
  readonly before: string | undefined;
  readonly after: string;
}

/** A remark about a returned row. */
export interface RowRemark {
  readonly key: string;
  readonly why: string;
}

/** A text that somebody here and the translator changed, each in another way. */
export interface BothChanged {
  readonly key: string;
  readonly kept: string | undefined;
  readonly returned: string;
}

/** The decision about one text. */
export interface Decision {
  readonly key: string;
  readonly known: Known;
  /** The text that goes in; absent where it stays. */
  readonly text?: string | undefined;
  /** The state that is noted; absent where that stays. */
  readonly state?: TranslationState | undefined;
  /** The original that the translator saw. */
  readonly source: string;
  readonly note?: string | undefined;
}

/** The decisions about all texts of a returned file. */
export interface Returned {
  readonly decisions: readonly Decision[];
  /** Rows that cannot go in. */
  readonly refused: readonly RowRemark[];
  /** Rows that go in, or change nothing, and that somebody should look at. */
  readonly remarks: readonly RowRemark[];
  readonly both: readonly BothChanged[];
  /** Questions and notes of the translator. */
  readonly notes: readonly RowRemark[];
  /** The returned rows, by the text's current key; by their own key where there is none. */
  readonly rows: ReadonlyMap<string, ReadUnit>;
}

export interface Imported {
  readonly changed: readonly ImportedText[];
  /** How many states were noted anew, of texts that stayed. */
  readonly states: number;
  /** Texts that went in although their original is another now than the translator saw. */
  readonly moved: readonly Address[];
}

const MOST_SUGGESTIONS = 20;

interface Known {
  readonly address: Address;
  readonly source: Entry;
  readonly target: string | undefined;
  /** How far the translation is; absent where there is none, or nothing to be out of date with. */
  readonly translation?: Translation | undefined;
  /** Whether it is a form of a label, made from the label itself. */
  readonly isInflection?: boolean;
}

/** All texts that a locale can have, by the word that stands for them. */
function knownTexts(workspace: Workspace, locale: Locale): Map<string, Known> {
  const { original } = workspace.config;
  const translations = new Map(
    translationsOf(workspace)
      .filter((one) => one.locale === locale)
      .map((one) => [unitKey(one.address), one] as const),
  );
  const written = overview(workspace.table).flatMap(({ texts, ...address }) => {
    const source = texts.get(original);
    const key = unitKey(address);
    const target = texts.get(locale)?.text;
    const known = { address, source, target, translation: translations.get(key) };
    return source ? [[key, { ...known, source }] as const] : [];
  });
  const inflections = inflectionsOf(workspace, locale).map(
    ({ address, label, text }) =>
      [unitKey(address), { address, source: label, target: text, isInflection: true }] as const,
  );
  return new Map<string, Known>([...inflections, ...written]);
}

/**
 * An inflection of a known label that nobody asked for, such as one that a translator added.
 */
function furtherForm(
  workspace: Workspace,
  locale: Locale,
  key: string,
  known: ReadonlyMap<string, Known>,
): Known | undefined {
  const [, label, form] = /^(.*\|label\|)([^|\\]+)$/s.exec(key) ?? [];
  const base = label === undefined ? undefined : known.get(label);
  if (!base || form === undefined || !isArgumentName(form) || form === 'text') return undefined;
  const address = { ...base.address, key: form };
  return {
    address,
    source: base.source,
    target: workspace.table.at(locale, address)?.text,
    isInflection: true,
  };
}

/** Why a translation cannot go in; nothing where it can. */
function problemOf(
  workspace: Workspace,
  text: string,
  locale: Locale,
  { address: { form, path, key }, source, translation, isInflection = false }: Known,
  anyway = false,
): string | undefined {
  const rows = (): Row[] => {
    const forms = [...workspace.forms.values()].map((one) => one.form);
    return rowsOf(forms.filter(({ id }) => speaksOf(form, id))).filter(
      (row) => row.keys.includes(key) && (path === undefined || row.field.path === path),
    );
  };
  const room = translation?.room ?? source.details.room;
  const refusal = refusalOf(text, locale, { source, key, isInflection, room, rows }, anyway);
  return refusal && refusalText(refusal);
}

/** How what came back is taken. */
export interface TakeOptions {
  /** Where both changed: what the translator wrote, or what is here; else neither. */
  readonly take?: 'returned' | 'kept' | undefined;
  /** Whether a text goes in that loses an argument, or is too long. */
  readonly anyway?: boolean | undefined;
}

/** A row, and the text that it is of. */
interface ReturnedRow {
  readonly unit: ReadUnit;
  readonly key: string;
  /** The key of the text when it was exported. */
  readonly exportedAs: string;
  readonly known: Known;
  readonly exported: Exported | undefined;
}

/** Decides what becomes of the rows of a file that came back. */
class Returning {
  private readonly known: Map<string, Known>;
  private readonly byId: Map<string, string>;
  private readonly earlier: EarlierTexts;
  readonly refused: RowRemark[] = [];
  readonly remarks: RowRemark[] = [];
  readonly both: BothChanged[] = [];
  readonly notes: RowRemark[] = [];
  readonly decisions: Decision[] = [];
  readonly rows = new Map<string, ReadUnit>();
  /** The keys of the texts that go in. */
  private readonly written = new Set<string>();

  constructor(
    private readonly workspace: Workspace,
    private readonly locale: Locale,
    private readonly options: TakeOptions,
  ) {
    this.known = knownTexts(workspace, locale);
    // A tool that does not keep the names of units keeps their ids.
    this.byId = new Map([...this.known.keys()].map((key) => [shortId(key), key]));
    this.earlier = new EarlierTexts(workspace.folder, locale);
  }

  private refuse(key: string, why: string): void {
    this.refused.push({ key, why });
  }

  /** The text that a row is of, also where its place is called otherwise by now. */
  private find(
    unit: ReadUnit,
    exported: Exported | undefined,
  ): Pick<ReturnedRow, 'key' | 'known' | 'exportedAs'> | undefined {
    const key = this.known.has(unit.key) ? unit.key : (this.byId.get(unit.key) ?? unit.key);
    const found = this.known.get(key) ?? furtherForm(this.workspace, this.locale, key, this.known);
    if (found) return { key, known: found, exportedAs: key };
    const kindOf = (name: string): string | undefined => /\|(\w+)\|[^|]*$/.exec(name)?.[1];
    const moved = [...this.known].filter(
      ([name, { source, target }]) =>
        exported !== undefined &&
        kindOf(name) === kindOf(key) &&
        (unit.source === undefined || sameText(unit.source, source.text)) &&
        placedFingerprint(this.locale, key, target) === exported.fingerprint,
    );
    const [only] = moved;
    return only && moved.length === 1
      ? { key: only[0], known: only[1], exportedAs: key }
      : undefined;
  }

  /** The rows that are of a text, each text once. */
  private rowsOf(units: readonly ReadUnit[]): ReturnedRow[] {
    const rows = new Map<string, ReturnedRow[]>();
    for (const unit of units) {
      this.rows.set(unit.key, unit);
      if (unit.broken !== undefined) {
        this.refuse(unit.key, unit.broken);
        continue;
      }
      const exported = readExported(unit.exported);
      const found = this.find(unit, exported);
      if (!found) {
        // To look for what each of thousands may have meant helps nobody.
        const isFew = this.refused.length < MOST_SUGGESTIONS;
        const near = isFew ? suggestion(unit.key, this.known.keys()) : '';
        this.refuse(unit.key, `there is no such text in the original${near}`);
        continue;
      }
      this.rows.set(found.key, unit);
      getOrMake(rows, found.key, (): ReturnedRow[] => []).push({ unit, exported, ...found });
    }
    return [...rows.values()].flatMap(([first, ...more]) => {
      if (!first) return [];
      const differ = more.some(({ unit }) => !sameText(unit.target, first.unit.target));
      if (!differ) return [first];
      this.refuse(first.key, `it stands ${more.length + 1} times, with different texts; keep one`);
      return [];
    });
  }

  /** Whether the translator left a text as it was exported. */
  private isUntouched(row: ReturnedRow): boolean {
    const { unit, key, known, exported } = row;
    const { target = '' } = unit;
    if (exported) return this.isExported(row, target);
    if (sameText(target, known.target)) return true;
    // Nothing says what was exported: what the catalog had in some commit may have been.
    const file = known.translation?.file;
    return file !== undefined && this.earlier.had(file, key, target);
  }

  /** Whether the catalog has a text that is no longer the one that was exported. */
  private hasMoved(row: ReturnedRow): boolean {
    const { target, translation } = row.known;
    if (row.exported) return !this.isExported(row, target);
    return target !== undefined && translation?.state !== 'initial';
  }

  private note({ unit: { note = '' }, key, known }: ReturnedRow): string | undefined {
    const sent = known.isInflection
      ? inflectionNote(known.address.key)
      : (known.translation?.note ?? known.source.details.note ?? '');
    const own = note.trim();
    if (own === '' || sameText(own, sent)) return undefined;
    this.notes.push({ key, why: own });
    return own;
  }

  private decide(row: ReturnedRow): void {
    const { unit, key, known, exported } = row;
    const { target = '', state: word } = unit;
    const note = this.note(row);
    const stated = stateOf(word);
    if (word !== undefined && word !== '' && stated === undefined)
      this.remarks.push({
        key,
        why: `"${word}" is not a state; there are ${TRANSLATION_STATES.join(', ')}`,
      });
    const source = unit.source ?? known.source.text;
    const decision = { key, known, source, note };
    if (target.trim() === '') {
      if (known.target !== undefined && !this.isExported(row, undefined))
        this.remarks.push({ key, why: 'it came back blank; the text stays' });
      if (note !== undefined) this.decisions.push(decision);
      return;
    }
    const isSame = sameText(target, known.target);
    if (isSame || this.isUntouched(row)) {
      const state = isSame ? stateOfSame(row, stated) : undefined;
      if (state ?? note) this.decisions.push({ ...decision, state });
      return;
    }
    const problem = problemOf(this.workspace, target, this.locale, known, this.options.anyway);
    if (problem !== undefined) {
      this.refuse(key, problem);
      return;
    }
    if (this.hasMoved(row) && this.options.take !== 'returned') {
      if (this.options.take === undefined)
        this.both.push({ key, kept: known.target, returned: target });
      return;
    }
    const label = known.isInflection ? unitKey({ ...known.address, key: '' }) : undefined;
    if (label !== undefined && !this.willHave(label)) {
      this.refuse(key, 'the label itself has no text yet; give that too');
      return;
    }
    if (known.isInflection && !this.known.has(key))
      this.remarks.push({ key, why: 'no text asks for this inflection' });
    const state = unit.isDraft ? 'initial' : (saidAnew(stated, exported) ?? 'translated');
    this.decisions.push({ ...decision, text: target, state });
    this.written.add(key);
  }

  /** Whether a text is the one that was exported. */
  private isExported({ exportedAs, exported }: ReturnedRow, text: string | undefined): boolean {
    return exported?.fingerprint === placedFingerprint(this.locale, exportedAs, text);
  }

  /** Whether a label has a text, or gets one. */
  private willHave(label: string): boolean {
    const isThere = this.known.get(label)?.target !== undefined;
    return isThere || this.written.has(label);
  }

  all(units: readonly ReadUnit[]): this {
    const rows = this.rowsOf(units);
    // Labels before their inflections, in whatever order a program wrote them.
    for (const row of rows) if (!row.known.isInflection) this.decide(row);
    for (const row of rows) if (row.known.isInflection) this.decide(row);
    return this;
  }
}

/** The state that a translator gave a text; nothing where it is as it was exported. */
function saidAnew(
  stated: ReadState | undefined,
  exported: Exported | undefined,
): TranslationState | undefined {
  // Where nothing says what it was, a draft that has another text is one no more.
  const before = exported ? exported.state : 'initial';
  return stated === before || stated === 'stale' ? undefined : stated;
}

/** The state to note of a text that stays as it is. */
function stateOfSame(
  { known: { translation }, exported }: ReturnedRow,
  stated: ReadState | undefined,
): TranslationState | undefined {
  if (!translation || stated === undefined || stated === 'stale') return undefined;
  const now = translation.stale ? 'stale' : translation.state;
  if (stated === now) return undefined;
  // What somebody noted since holds.
  return exported && (exported.state !== now || exported.state === stated) ? undefined : stated;
}

/**
 * The language that texts were exported for, where the import names another: unchanged texts show
 * it.
 */
export function exportedFor(
  units: readonly ReadUnit[],
  locale: Locale,
  locales: readonly Locale[],
): Locale | undefined {
  const marked = units.filter((unit) => readExported(unit.exported) !== undefined);
  const isOf =
    (one: Locale) =>
    ({ key, target, exported }: ReadUnit): boolean => {
      const { fingerprint } = readExported(exported) ?? {};
      return [target === '' ? undefined : target, undefined].some(
        (text) => placedFingerprint(one, key, text) === fingerprint,
      );
    };
  if (marked.some(isOf(locale))) return undefined;
  return locales.find((one) => marked.some(isOf(one)));
}

/** Decides what becomes of each row, by what was exported, what came back, and what is here. */
export const returned = (
  workspace: Workspace,
  locale: Locale,
  units: readonly ReadUnit[],
  options: TakeOptions = {},
): Returned => new Returning(workspace, locale, options).all(units);

/** Takes in what was decided. */
export function takeIn(
  editor: TextEditor,
  locale: Locale,
  decisions: readonly Decision[],
  into?: string,
): Imported {
  const changed: ImportedText[] = [];
  const moved: Address[] = [];
  let states = 0;
  for (const { known, text, state, source, note } of decisions) {
    const { address, target } = known;
    const file = editor.fileForDraft(locale, address, into);
    if (text !== undefined) {
      editor.set(file, address, text);
      changed.push({ address, before: target, after: text });
    }
    // Of a form there is nothing in the original that it could be out of date with.
    if (known.isInflection) continue;
    if (text !== undefined && source !== known.source.text) moved.push(address);
    const kept = text ?? target;
    if (kept === undefined) continue;
    const { translation } = known;
    editor.mark(
      file,
      address,
      state ?? translation?.state ?? 'translated',
      kept,
      state === undefined ? (translation?.before ?? known.source.text) : source,
      note,
    );
    if (text === undefined && state !== undefined) states++;
  }
  return { changed, states, moved };
}
