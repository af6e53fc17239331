import { checkTexts } from '../check/check.js';
import { offersOf, placeArguments } from '../check/kinds/offers.js';
import { Context, rowsOf, type Row, type Subject } from '../check/subject/context.js';
import type { KindSetting } from '../check/subject/settings.js';
import type { Finding } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import { parsePattern } from '../path/path.js';
import { FormIndex } from '../rules/form-index.js';
import type { Form } from '../rules/form.js';
import type { Catalog } from '../texts/catalog.js';
import { Entry } from '../texts/entry.js';
import { Texts } from '../texts/ladder.js';
import { Phrase } from '../texts/phrase.js';
import { Purposes, type Address, type Purpose } from '../texts/purpose.js';
import { readCatalog } from '../texts/read.js';
import { Table } from '../texts/table.js';
import { Terms } from '../texts/terms.js';
import { titleOf } from '../texts/titles.js';
import { Sentences } from '../violation/sentence.js';
import type { DeskCatalog, DeskData, DeskText } from './data.js';
import { thawedForm } from './frozen.js';
import { refusalOf, type Refusal } from './refusal.js';
import { examplesOfProblem, SampleSayer } from './said.js';
import { typedCatalogs } from './typed.js';

/** A finished sentence, and where it is said. */
export interface Said {
  readonly text: string;
  readonly form?: string;
  readonly path?: string;
}

/** The view of a translation while somebody types it. */
export interface Look {
  /** Why it would not be taken in. */
  readonly refusal: Refusal | undefined;
  readonly findings: readonly Finding[];
  readonly sentences: readonly Said[];
}

/** So many rules are tried to find some that say a text, and so many of these are shown. */
const MOST_TRIED = 400;
const MOST_SHOWN = 4;
const MOST_SENTENCES = 12;
const MOST_OFFERED = 40;

/** A character that no text has, to find where a text is used. */
const MARK = '\uE000';

/** The data that stays the same while texts are typed. */
class Ground {
  readonly forms: readonly Form[];
  readonly rows: readonly Row[];
  readonly purposes = new Purposes();
  readonly catalogs: ReadonlyMap<string, Catalog>;
  readonly titles: readonly Catalog[];
  readonly settings: readonly KindSetting[];
  readonly terms: Terms;
  readonly problems: ReadonlyMap<string, Readonly<Record<string, unknown>>>;
  readonly problemArguments: ReadonlyMap<string, readonly string[]>;
  /** One object, by which a check knows that what hangs on it still holds. */
  readonly statuses: ReadonlyMap<string, number>;
  readonly indexes: ReadonlyMap<string, FormIndex>;
  private readonly layers: ReadonlyMap<Catalog, DeskCatalog['layer']>;

  constructor(readonly data: DeskData) {
    const { purposes } = this;
    this.forms = data.forms.map(thawedForm);
    this.rows = rowsOf(this.forms);
    this.indexes = new Map(this.forms.map((form) => [form.id, new FormIndex(form)]));
    this.layers = new Map(
      data.catalogs.map(({ layer, file, locale, root }) => [
        readCatalog(root, file, locale, layer, purposes).catalog,
        layer,
      ]),
    );
    this.catalogs = new Map(this.of('written').map((catalog) => [catalog.file, catalog]));
    this.titles = data.titles.map(({ form, path, text }) => {
      const { purpose } = purposes.scope('title', form).field(path).slot('label', '');
      const source = { file: '', locale: data.original };
      const texts = [new Entry(text, source, { purpose, keys: [] })];
      return { ...source, form, texts, fields: [], problems: [], remarks: [] };
    });
    this.settings = data.checks.map(({ paths, ...one }) => ({
      ...one,
      ...(paths ? { paths: paths.map(parsePattern) } : {}),
    }));
    this.terms = new Terms(
      data.concepts.map(({ terms, ...concept }) => ({ ...concept, terms: new Map(terms) })),
    );
    this.problems = new Map(data.problems);
    this.problemArguments = new Map(data.problems.map(([id, params]) => [id, Object.keys(params)]));
    this.statuses = new Map(data.statuses);
  }

  /** The catalogs of a layer, of one locale where one is given. */
  of(layer: DeskCatalog['layer'], locale?: Locale): Catalog[] {
    return [...this.layers]
      .filter(([one, own]) => own === layer && (locale ?? one.locale) === one.locale)
      .map(([catalog]) => catalog);
  }
}

/** The texts as they would be if what somebody typed stood in the catalogs. */
class World {
  readonly table: Table;
  readonly context: Context;
  readonly sayer: SampleSayer;

  constructor(
    private readonly ground: Ground,
    readonly typed: readonly Catalog[] = [],
    earlier?: World,
  ) {
    const { data, catalogs, purposes, titles, terms, indexes } = ground;
    const { original, locale, zone, shorten } = data;
    const all = new Map([...catalogs, ...typed.map((one) => [one.file, one] as const)]);
    this.table = new Table(
      {
        files: [...all.values()],
        original,
        read: (file) => all.get(file) ?? never(file),
        starter: (tag) => ground.of('starter', tag)[0],
        house: (tag) => ground.of('house', tag),
        titles: (tag) => (tag === original ? titles : []),
        kept: (tag) => (tag === locale ? undefined : earlier?.table.column(tag)),
      },
      purposes,
    );
    const texts = new Texts(
      this.table,
      { original, fallbacks: new Map(data.fallbacks) },
      true,
      (form) => {
        const index = indexes.get(form);
        return index?.form.joins && index;
      },
    );
    const subject: Subject = {
      forms: ground.forms,
      indexOf: ({ id }) => indexes.get(id) ?? never(id),
      texts,
      locales: [locale],
      allLocales: [original, locale],
      original,
      problems: ground.statuses,
      problemArguments: ground.problemArguments,
      settings: '',
      terms,
      remarks: [],
    };
    this.context = new Context(subject, earlier?.context);
    const sentences = new Map<string, Sentences>();
    this.sayer = new SampleSayer((form) => {
      const known =
        sentences.get(form) ??
        new Sentences(texts, indexes.get(form) ?? never(form), { zone, shorten });
      sentences.set(form, known);
      return known;
    });
  }

  entryAt(address: Address): Entry | undefined {
    return this.table.at(this.ground.data.locale, address);
  }

  purposeOf(address: Address): Purpose | undefined {
    return this.table.purposes.find(address);
  }

  /** Returns the world with one more text. */
  with(address: Address, text: string): World {
    const { locale } = this.ground.data;
    const about = { file: 'typed now', locale, purposes: this.ground.purposes };
    const typed = typedCatalogs([{ address, text }], about, (at) => this.entryAt(at));
    return new World(this.ground, [...this.typed, ...typed], this);
  }
}

function never(name: string): never {
  throw new Error(`nothing is called ${name}`);
}

/** Of rules that say a text, a few that differ: plain and nested, and of different fields. */
function fewOf(rows: readonly Row[]): Row[] {
  const depth = ({ field }: Row): number =>
    field.pattern.filter((segment) => typeof segment === 'symbol').length;
  const byDepth = new Map(rows.toReversed().map((row) => [depth(row), row]));
  const first = [...byDepth].sort(([one], [other]) => one - other).map(([, row]) => row);
  const seen = new Set(first.map(({ field }) => field.path));
  const others = rows.filter(({ field: { path } }) => !seen.has(path) && seen.add(path));
  return [...first, ...others].slice(0, MOST_SHOWN);
}

/** Where a translator works: shows what becomes of texts while they are typed. */
export class Desk {
  private readonly ground: Ground;
  private readonly plain: World;
  private readonly byKey: ReadonlyMap<string, DeskText>;
  private readonly rows = new Map<string, readonly Row[]>();
  /** The other texts that were typed, as they were when a text was begun. */
  private around: { readonly key: string; readonly world: World } | undefined;

  constructor(readonly data: DeskData) {
    this.ground = new Ground(data);
    this.plain = new World(this.ground);
    this.byKey = new Map(data.texts.map((one) => [one.key, one]));
  }

  /** The rules that say a text. */
  rowsOf(text: DeskText): readonly Row[] {
    const known = this.rows.get(text.key) ?? this.findRows(text);
    this.rows.set(text.key, known);
    return known;
  }

  private findRows({ address, source, target = source }: DeskText): readonly Row[] {
    const { plain } = this;
    const { kind, key } = address;
    if (kind === 'problem') return [];
    const purpose = plain.purposeOf(address);
    if (kind === 'message' || kind === 'inline')
      return purpose ? plain.context.rowsFor(purpose) : [];
    if (kind === 'label' && key === 'gender') {
      const { sayer } = plain;
      const { locale } = this.data;
      const agreeing = this.saying(
        address,
        'none',
        (now, row) => now !== (sayer.said(row, locale) ?? ''),
      );
      return agreeing.length > 0 ? agreeing : this.saying({ ...address, key: '' }, MARK);
    }
    return this.saying(address, `${MARK}${target}`);
  }

  /**
   * Returns the rules that use a text: only sentences show where labels, words and frames stand.
   * @param text the marked text to look for
   */
  private saying(
    address: Address,
    text: string,
    says: (now: string, row: Row) => boolean = (now) => now.includes(MARK),
  ): readonly Row[] {
    const { plain, ground } = this;
    const { locale } = ground.data;
    const { sayer } = plain.with(address, text);
    const found: Row[] = [];
    for (const row of ground.rows.slice(0, MOST_TRIED)) {
      if (says(sayer.said(row, locale) ?? '', row)) found.push(row);
      if (found.length === 2 * MOST_SHOWN) break;
    }
    return found;
  }

  private worldAround(key: string, typed: ReadonlyMap<string, string>): World {
    if (this.around?.key === key) return this.around.world;
    const { locale } = this.data;
    const others = [...typed].flatMap(([one, text]) => {
      const known = this.byKey.get(one);
      return known && one !== key && text !== '' ? [{ address: known.address, text }] : [];
    });
    const about = { file: 'typed', locale, purposes: this.ground.purposes };
    const catalogs = typedCatalogs(others, about, (at) => this.plain.entryAt(at));
    const world = new World(this.ground, catalogs, this.plain);
    this.around = { key, world };
    return world;
  }

  /** Says that other texts were typed than those that the last look knew. */
  forget(): void {
    this.around = undefined;
  }

  /** Returns the arguments that a translation may use. */
  offers(text: DeskText): string[] {
    const { address, source } = text;
    const { data, plain } = this;
    const names = new Set(
      [source, text.target ?? ''].flatMap((one) => [
        ...new Phrase(one, { file: '', locale: data.original }).signature.names,
      ]),
    );
    if (address.kind === 'label' && !text.isInflection && address.path !== undefined)
      for (const name of placeArguments(parsePattern(address.path))) names.add(name);
    if (address.kind !== 'message' && address.kind !== 'inline') return [...names];
    const [row] = this.rowsOf(text);
    for (const name of row ? offersOf(row) : []) names.add(name);
    const { cells } = plain.table.column(data.locale);
    const inflections = cells.flatMap((entry) => [...(entry?.inflections.keys() ?? [])]);
    for (const name of new Set(inflections)) names.add(`label_${name}`);
    return [...names].slice(0, MOST_OFFERED);
  }

  /**
   * Looks at a translation.
   * @param typed all that was typed, by key
   */
  look(key: string, text: string, typed: ReadonlyMap<string, string>): Look {
    const known = this.byKey.get(key);
    if (!known || text.trim() === '') return { refusal: undefined, findings: [], sentences: [] };
    const { address } = known;
    const refusal = this.refusal(known, text);
    if (refusal?.kind === 'broken' || refusal?.kind === 'gender')
      return { refusal, findings: [], sentences: [] };
    const world = this.worldAround(key, typed).with(address, text);
    return {
      refusal,
      findings: this.findings(world, address),
      sentences: this.sentences(world, known),
    };
  }

  private refusal(known: DeskText, text: string): Refusal | undefined {
    const { original, locale } = this.data;
    const { address, isInflection = false, room } = known;
    const { table } = this.plain;
    const base = isInflection ? { ...address, key: '' } : address;
    const source = table.at(original, base) ?? titleOf(table, base);
    if (!source) return undefined;
    const about = { source, key: address.key, isInflection, room };
    return refusalOf(text, locale, { ...about, rows: () => this.rowsOf(known) });
  }

  private findings({ typed, context, table }: World, address: Address): Finding[] {
    const { locale } = this.data;
    const at =
      address.kind === 'label' && address.key === 'gender' ? { ...address, key: '' } : address;
    const entry = table.at(locale, at);
    const catalog = typed.find(({ texts }) => entry && texts.includes(entry));
    if (!entry || !catalog) return [];
    const found = checkTexts(context, catalog, [entry], { settings: this.ground.settings });
    return found.filter(({ severity }) => severity !== 'info');
  }

  private sentences(world: World, known: DeskText): Said[] {
    const { address } = known;
    const { locale } = this.data;
    const { sayer } = world;
    const entry = world.entryAt(address);
    const said = new Map<string, Said>();
    const add = (text: string | undefined, row?: Row): void => {
      if (text === undefined || said.has(text)) return;
      said.set(text, { text, ...(row ? { form: row.form.id, path: row.field.path } : {}) });
    };
    if (address.kind === 'problem') {
      const [id = ''] = address.key.split(' ');
      if (entry?.signature.names.size === 0) add(entry.format({}, entry.locale)({}));
      if (entry)
        for (const one of examplesOfProblem(entry, this.ground.problems.get(id) ?? {})) add(one);
      return [...said.values()];
    }
    const rows = this.rowsOf(known);
    const [first, ...more] = fewOf(rows);
    if (!first) return [];
    if ((address.kind === 'message' || address.kind === 'inline') && entry) {
      const inRows = [first, ...rows.filter((row) => row !== first)];
      for (const one of sayer.ofMessage(entry, inRows)) add(one);
      for (const row of more) add(sayer.ofMessage(entry, [row])[0], row);
    } else for (const row of [first, ...more]) add(sayer.said(row, locale), row);
    return [...said.values()].slice(0, MOST_SENTENCES);
  }
}
