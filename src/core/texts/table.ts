import { wordInflections } from '../message/word-inflections.js';
import { isPseudo } from '../locale/pseudo.js';
import type { Locale } from '../locale/tag.js';
import type { Catalog } from './catalog.js';
import type { Entry } from './entry.js';
import { pseudoEntry } from './pseudo.js';
import { Purposes, type Address, type Purpose } from './purpose.js';

/** Where a table gets its texts from; each is read when it is first asked for. */
export interface TextSource {
  /** The written catalogs in their order; of two texts for the same the later holds. */
  readonly files: readonly { readonly file: string; readonly locale: Locale }[];
  /** The locale that pseudo-locales are made of. */
  readonly original: Locale;
  readonly read: (file: string, purposes: Purposes) => Catalog;
  /** Returns the starter of a locale. */
  readonly starter: (locale: Locale, purposes: Purposes) => Catalog | undefined;
  /** The texts of the house in a locale. */
  readonly house?: (locale: Locale, purposes: Purposes) => readonly Catalog[];
  /** Returns the titles of fields in schemas, in a locale. */
  readonly titles: (locale: Locale, purposes: Purposes) => readonly Catalog[];
  /** The texts of a catalog that are drafts. */
  readonly drafts?: (catalog: Catalog) => Iterable<Entry>;
  /**
   * The column of a locale as an earlier reading had it, where nothing that it is made of changed
   * since.
   */
  readonly kept?: (locale: Locale) => Column | undefined;
}

/** The state of a cell, as bits; its text is not read. */
export const STATE = {
  /** A text stands there and can be said. */
  filled: 1,
  /** It breaks the syntax of messages; lookups pass it over. */
  broken: 2,
  /** It asks for an inflection of a label. */
  asksForm: 4,
  /** It asks for what was given. */
  asksValue: 8,
  /** More than words and names in braces: only the parser knows the rest. */
  open: 16,
  /** Nobody has looked at it yet: it is not a text for clients. */
  draft: 32,
} as const;

function stateOf(entry: Entry): number {
  if (entry.error) return STATE.broken;
  const { signature } = entry;
  return (
    STATE.filled |
    (wordInflections(signature).length > 0 ? STATE.asksForm : 0) |
    (signature.names.has('value') ? STATE.asksValue : 0)
  );
}

/** All texts of one locale: for each purpose the one that holds. */
export class Column {
  /** By the purpose's number. A label is here with its inflections, and these on their own too. */
  readonly cells: (Entry | undefined)[] = [];
  /** Texts that a later one for the same stands in front of, in the order read. */
  readonly covered: Entry[] = [];
  private states = new Uint8Array(0);
  private readonly drafts = new Set<Entry>();

  constructor(readonly locale: Locale) {}

  /** @internal */
  add(texts: readonly Entry[]): this {
    const { cells } = this;
    for (const entry of texts) {
      const { id } = entry.slot.purpose;
      const before = cells[id];
      if (before) this.cover(before);
      cells[id] = entry;
    }
    return this;
  }

  /**
   * A label goes with its inflections, a message with its text for beside the input: what a later
   * one has is all that there is of it.
   */
  private cover(entry: Entry): void {
    this.covered.push(entry);
    const { inline } = entry.details;
    for (const form of inline ? [inline] : entry.inflections.values()) {
      const { id } = form.slot.purpose;
      if (this.cells[id] !== form) continue;
      this.cells[id] = undefined;
      this.covered.push(form);
    }
  }

  /** @internal */
  addDrafts(drafts: Iterable<Entry>): void {
    for (const entry of drafts) this.drafts.add(entry);
  }

  private stateOf(entry: Entry): number {
    return stateOf(entry) | (this.drafts.size > 0 && this.drafts.has(entry) ? STATE.draft : 0);
  }

  /**
   * Works out the states of texts that were added.
   * @internal
   */
  settle(): this {
    const { length } = this.cells;
    const settled = this.states;
    this.states = new Uint8Array(length);
    this.states.set(settled);
    for (let id = 0; id < length; id++) {
      const entry = this.states[id] === 0 ? this.cells[id] : undefined;
      if (entry) this.states[id] = entry.isPlain ? this.stateOf(entry) : STATE.open;
    }
    return this;
  }

  /**
   * Adds to counts of texts that can be said, and to the states of any language, both by the
   * purpose's number.
   * @param mask what is looked at of a state (`WITH_DRAFTS`, `WITHOUT_DRAFTS`)
   */
  addTo(counts: Uint32Array, states: Uint8Array, mask: number): void {
    const { length } = this.states;
    for (let id = 0; id < length; id++) {
      const state = this.state(id);
      if (state === 0) continue;
      states[id] = (states[id] ?? 0) | state;
      if ((state & mask) === STATE.filled) counts[id] = (counts[id] ?? 0) + 1;
    }
  }

  /** The state of a cell; 0 where no text stands there. */
  state(id: number): number {
    const state = this.states[id];
    if (state !== STATE.open) return state ?? 0;
    const entry = this.cells[id];
    return entry ? (this.states[id] = this.stateOf(entry)) : 0;
  }
}

/**
 * The texts of a workspace: purposes down, locales across. Everything that asks for texts asks
 * this, or the ladder over it. A column is read whole when it is first asked for and never changes;
 * another reading of the files is another table.
 */
export class Table {
  private readonly read = new Map<string, Catalog>();
  private readonly columns = new Map<Locale, Column>();
  private readonly starters = new Map<Locale, Catalog | undefined>();

  constructor(
    private readonly source: TextSource,
    readonly purposes: Purposes = new Purposes(),
  ) {}

  get original(): Locale {
    return this.source.original;
  }

  /** The written catalogs, in their order. */
  get catalogs(): readonly Catalog[] {
    return this.source.files.map(({ file }) => this.catalog(file));
  }

  /** The written catalogs of one locale; of the others none is read. */
  catalogsOf(locale: Locale): readonly Catalog[] {
    return this.source.files
      .filter((one) => one.locale === locale)
      .map(({ file }) => this.catalog(file));
  }

  private catalog(file: string): Catalog {
    let catalog = this.read.get(file);
    if (!catalog) this.read.set(file, (catalog = this.source.read(file, this.purposes)));
    return catalog;
  }

  /** The catalog that ships for a locale. */
  starter(locale: Locale): Catalog | undefined {
    if (!this.starters.has(locale))
      this.starters.set(locale, this.source.starter(locale, this.purposes));
    return this.starters.get(locale);
  }

  /** The columns that were asked for. */
  known(): readonly Column[] {
    return [...this.columns.values()];
  }

  column(locale: Locale): Column {
    let column = this.columns.get(locale);
    if (!column)
      this.columns.set(locale, (column = this.source.kept?.(locale) ?? this.made(locale)));
    return column;
  }

  private made(locale: Locale): Column {
    return isPseudo(locale) ? this.pseudo(locale) : this.readColumn(locale);
  }

  private readColumn(locale: Locale): Column {
    const column = new Column(locale);
    for (const catalog of this.catalogsOf(locale)) {
      column.add(catalog.texts);
      column.addDrafts(this.source.drafts?.(catalog) ?? []);
    }
    for (const { texts } of this.source.titles(locale, this.purposes)) column.add(texts);
    for (const { texts } of this.source.house?.(locale, this.purposes) ?? []) column.add(texts);
    column.add(this.starter(locale)?.texts ?? []);
    return column.settle();
  }

  /**
   * Adds the titles of one more form to the columns that were read already.
   * @param titles makes them, in the original's language
   */
  addTitles(titles: () => readonly Entry[]): void {
    if (!this.columns.has(this.original)) return;
    const made = titles();
    for (const [locale, column] of this.columns)
      if (locale === this.original) column.add(made).settle();
      else if (isPseudo(locale))
        column.add(made.map((entry) => pseudoEntry(entry, locale))).settle();
  }

  /** The original's column with every text made strange. */
  private pseudo(locale: Locale): Column {
    const column = new Column(locale);
    column.add(
      this.column(this.original).cells.flatMap((entry) =>
        entry ? [pseudoEntry(entry, locale)] : [],
      ),
    );
    return column.settle();
  }

  /** Reads all files and what ships for some locales, so that nothing is left to fail later. */
  readAll(locales: readonly Locale[]): void {
    for (const { file } of this.source.files) this.catalog(file);
    for (const { locale } of this.source.files) this.column(locale);
    for (const locale of locales) this.column(locale);
  }

  /** The text of a locale for a purpose. */
  cell(locale: Locale, purpose: Purpose | undefined): Entry | undefined {
    return purpose && this.column(locale).cells[purpose.id];
  }

  /** The written text that an address names. */
  at(locale: Locale, address: Address): Entry | undefined {
    const column = this.column(locale);
    const purpose = this.purposes.find(address);
    return purpose && column.cells[purpose.id];
  }

  /** Returns the entries at an address with those that they hide, the effective one first. */
  allAt(locale: Locale, address: Address): readonly Entry[] {
    const { cells, covered } = this.column(locale);
    const purpose = this.purposes.find(address);
    const holds = purpose && cells[purpose.id];
    const under = covered.filter((entry) => entry.slot.purpose === purpose).toReversed();
    return holds ? [holds, ...under] : under;
  }
}
