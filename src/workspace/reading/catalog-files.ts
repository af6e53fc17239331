import type { Remark } from '../../core/finding.js';
import { isPseudo } from '../../core/locale/pseudo.js';
import { LocaleError, parseLocale, type Locale } from '../../core/locale/tag.js';
import { printMessage } from '../../core/message/print.js';
import type { Spot } from '../../core/origin.js';
import { printPath } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import type { Catalog } from '../../core/texts/catalog.js';
import { Entry } from '../../core/texts/entry.js';
import type { Purposes } from '../../core/texts/purpose.js';
import { readCatalog } from '../../core/texts/read.js';
import type { Column, Table, TextSource } from '../../core/texts/table.js';
import type { SchemaForm } from '../../exchange/schema/read.js';
import type { Title } from '../../exchange/schema/walk.js';
import { complaint, type Complaint, type FileLocation } from '../disk/complaint.js';
import { reviewFileOf } from '../disk/files.js';
import { isShared, type WorkspaceFolder } from './folder.js';
import { starterText } from '../disk/installed.js';
import { mayRepeatKeys, parseJson } from '../documents/json.js';
import { jsonLocator } from '../documents/json-places.js';
import { positionAt } from '../documents/position.js';
import { fingerprint, reviewOf } from './review-file.js';

/**
 * The locale of a catalog that names it first, as nearly all do; then the rest need not be parsed
 * to know it.
 */
const NAMES_LOCALE_FIRST =
  /^\uFEFF?\s*\{\s*(?:"\$schema"\s*:\s*"[^"\\]*"\s*,\s*)?"locale"\s*:\s*"([A-Za-z0-9-]{2,40})"\s*[,}]/;

/** The names of fields in rule files. */
export interface FieldNames {
  readonly schemas: ReadonlyMap<string, SchemaForm>;
  /** Labels in sheets, by form. */
  readonly labels: ReadonlyMap<string, readonly Title[]>;
}

/** The reading of a workspace before, and the files that changed since. */
export interface EarlierTexts {
  readonly files: CatalogFiles;
  readonly changed: ReadonlySet<string>;
  readonly table: Table;
  /** Whether settings are the same, and rules. */
  readonly sameSettings: boolean;
  readonly sameRules: boolean;
}

/**
 * The files of a workspace's texts, those that ship, and what schemas call their fields; each is
 * parsed when it is asked for.
 */
export class CatalogFiles implements TextSource {
  readonly files: readonly { readonly file: string; readonly locale: Locale }[];
  readonly original: Locale;
  /** Files in which a key may stand twice: the parser swallowed a name, or there are comments. */
  readonly suspects = new Set<string>();
  private readonly roots = new Map<
    string,
    { readonly root: LooseObject; readonly locale: Locale }
  >();
  private readonly catalogs = new Map<string, Catalog>();
  /** The files of the house's texts. */
  readonly ofHouse: readonly { readonly file: string; readonly locale: Locale }[];
  private readonly locales: ReadonlyMap<string, Locale>;
  /** Files that were taken over from the reading before. */
  readonly unchanged = new Set<string>();
  private readonly columns: ReadonlyMap<Locale, Column>;
  /** The forms whose fields have names in the table so far; absent where all have. */
  namedForms: Set<string> | undefined;

  /** @throws {Complaint} when a file cannot be read, or its locale is not known */
  constructor(
    private readonly folder: WorkspaceFolder,
    private readonly rules: FieldNames,
    private readonly earlier?: EarlierTexts,
  ) {
    this.original = folder.config.original;
    this.files = folder
      .files(folder.config.texts)
      .map((file) => ({ file, locale: this.localeOf(file) }));
    const { house } = folder;
    this.ofHouse = (house?.files(house.config.texts) ?? []).map((file) => ({
      file,
      locale: this.localeOf(file),
    }));
    this.locales = new Map(
      [...this.files, ...this.ofHouse].map(({ file, locale }) => [file, locale]),
    );
    this.columns = this.earlier?.sameSettings
      ? this.keptColumns(this.earlier)
      : new Map<Locale, Column>();
    // Else every reading would keep all that were before it.
    this.earlier = undefined;
  }

  /** Those that were read. */
  get known(): readonly Catalog[] {
    return [...this.catalogs.values()];
  }

  /** Returns the remarks made while catalogs were read. */
  remarks(): readonly Remark[] {
    return this.files.flatMap(({ file, locale }) =>
      (this.catalogs.get(file)?.remarks ?? []).map((remark) => ({ locale, ...remark })),
    );
  }

  private localeOf(file: string): Locale {
    const known = this.takeOver(file);
    if (known) return known.locale;
    const text = this.folder.readFile(file, 'a catalog');
    const tag = NAMES_LOCALE_FIRST.exec(text)?.[1];
    if (tag !== undefined) {
      try {
        return parseLocale(tag);
      } catch {
        // The finding has its own place.
      }
    }
    const parsed = this.parse(file, text);
    this.roots.set(file, parsed);
    return parsed.locale;
  }

  /** Returns the last reading of a file that has not changed since. */
  private takeOver(file: string): Catalog | undefined {
    const { earlier } = this;
    const catalog = earlier?.files.catalogs.get(file);
    if (!earlier || !catalog || earlier.changed.has(file)) return undefined;
    this.unchanged.add(file);
    this.catalogs.set(file, catalog);
    if (earlier.files.suspects.has(file)) this.suspects.add(file);
    return catalog;
  }

  /** The columns of languages in which no file, and no review of one, changed, came or went. */
  private keptColumns({ files, changed, table, sameRules }: EarlierTexts): Map<Locale, Column> {
    // What rules call their fields is in the original's language.
    const touched = new Set<Locale>(sameRules ? [] : [this.original]);
    const [now, before] = [this, files].map((one) => [...one.files, ...one.ofHouse]);
    const names = new Set(now?.map(({ file }) => file));
    const nowhere = new Set(before?.map(({ file }) => file));
    for (const { file, locale } of [...(now ?? []), ...(before ?? [])])
      if (
        changed.has(file) ||
        changed.has(reviewFileOf(file)) ||
        !names.has(file) ||
        !nowhere.has(file)
      )
        touched.add(locale);
    return new Map(
      table
        .known()
        .filter(({ locale }) => !touched.has(isPseudo(locale) ? this.original : locale))
        .map((column) => [column.locale, column]),
    );
  }

  kept(locale: Locale): Column | undefined {
    return this.columns.get(locale);
  }

  /** @throws {Complaint} */
  private parse(file: string, text: string): { root: LooseObject; locale: Locale } {
    const named = this.folder.shown(file);
    const fail = (
      message: string,
      place: Omit<Spot, 'file'>,
      kind: 'wrong-content' | 'wrong-tag' = 'wrong-content',
    ): Complaint => {
      const at: FileLocation = {
        file: named,
        ...positionAt(text, jsonLocator(text)({ file, ...place })),
      };
      return complaint(kind, [message], at);
    };
    const root = parseJson(text, named, true);
    if (!isObject(root))
      throw fail('a catalog is an object with the key "locale"', { keys: [], at: 'value' });
    const spot = { keys: ['locale'], at: 'value' } as const;
    if (typeof root.locale !== 'string')
      throw fail('"locale" is missing; it names the language of the texts, such as "de"', spot);
    try {
      return { root, locale: parseLocale(root.locale) };
    } catch (error) {
      throw error instanceof LocaleError ? fail(error.message, spot, 'wrong-tag') : error;
    }
  }

  /** @throws {Complaint} when the file is not a catalog */
  read(file: string, purposes: Purposes, layer: 'written' | 'house' = 'written'): Catalog {
    const ready = this.catalogs.get(file);
    if (ready) return ready;
    const text = this.folder.sources.get(file) ?? this.folder.readFile(file, 'a catalog');
    const { root, locale } = this.roots.get(file) ?? this.parse(file, text);
    this.roots.delete(file);
    if (this.locales.get(file) !== locale)
      throw complaint(
        'wrong-content',
        ['"locale" stands twice in this catalog; keep one of the two'],
        {
          file: this.folder.shown(file),
          ...positionAt(text, jsonLocator(text)({ file, keys: ['locale'], at: 'key', nth: 1 })),
        },
      );
    const { catalog, members } = readCatalog(root, file, locale, layer, purposes);
    if (mayRepeatKeys(text, members)) this.suspects.add(file);
    const known =
      layer === 'written' && isShared(file) ? { ...catalog, shared: true as const } : catalog;
    this.catalogs.set(file, known);
    return known;
  }

  /**
   * The texts of a catalog that the review beside it calls drafts, as long as nobody has written
   * others.
   */
  *drafts({ file, texts }: Catalog): Generator<Entry> {
    if (this.folder.config.drafts === 'served') return;
    const review = reviewOf(file, this.folder);
    if (!review?.lines.some(({ state }) => state === 'initial')) return;
    for (const entry of texts) {
      const line = review.of(entry);
      if (line?.state === 'initial' && line.text === fingerprint(entry.text)) yield entry;
    }
  }

  house(locale: Locale, purposes: Purposes): readonly Catalog[] {
    return this.ofHouse
      .filter((one) => one.locale === locale)
      .map(({ file }) => this.read(file, purposes, 'house'));
  }

  starter(locale: Locale, purposes: Purposes): Catalog | undefined {
    if (!this.folder.config.starter) return undefined;
    return this.shipped(locale, purposes);
  }

  /** The catalog that ships for a locale, whether the workspace wants it or not. */
  shipped(locale: Locale, purposes: Purposes): Catalog | undefined {
    const text = starterText(locale);
    if (text === undefined) return undefined;
    const named = `starter/${locale}.json`;
    const root = parseJson(text, named, false);
    this.folder.sources.set(named, text);
    return isObject(root)
      ? readCatalog(root, named, locale, 'starter', purposes).catalog
      : undefined;
  }

  /** Returns the names of a form's fields in schemas and sheets; sheets win. */
  private namesIn(form: string): readonly Title[] {
    const { schemas, labels } = this.rules;
    const own = labels.get(form) ?? [];
    const said = new Set(own.map(({ pattern }) => printPath(pattern)));
    const titles = schemas.get(form)?.parts.titles ?? [];
    return [...own, ...titles.filter(({ pattern }) => !said.has(printPath(pattern)))];
  }

  titles(locale: Locale, purposes: Purposes): readonly Catalog[] {
    if (locale !== this.original) return [];
    const { schemas, labels } = this.rules;
    const forms = this.namedForms ?? new Set([...schemas.keys(), ...labels.keys()]);
    return Array.from(forms, (form) => this.titlesOf(form, purposes));
  }

  /** Returns what schemas and sheets call the fields of a form, in the original's language. */
  titlesOf(form: string, purposes: Purposes): Catalog {
    const locale = this.original;
    const scope = purposes.scope('title', form);
    const texts = this.namesIn(form).map(({ pattern, text, origin }) => {
      const { purpose } = scope.field(printPath(pattern)).slot('label', '');
      const written = printMessage([{ kind: 'text', text, start: 0, end: text.length }]);
      const keys = origin.keys.map(String);
      return new Entry(written, { file: origin.file, locale }, { purpose, keys });
    });
    return { file: '', locale, form, texts, fields: [], problems: [], remarks: [] };
  }
}
