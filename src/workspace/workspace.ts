import { existsSync } from 'node:fs';
import { CatalogFamily } from '../core/catalog/alike.js';
import { readCatalog } from '../core/catalog/read.js';
import type { Catalog, FieldTexts } from '../core/catalog/catalog.js';
import { Entry } from '../core/catalog/entry.js';
import { printMessage } from '../core/message/print.js';
import { printPath } from '../core/path/path.js';
import { Texts } from '../core/catalog/texts.js';
import type { Remark } from '../core/finding.js';
import { LocaleError, parseLocale, type Locale } from '../core/locale/tag.js';
import type { Origin, Spot } from '../core/origin.js';
import { isObject } from '../core/reading.js';
import type { FormIndex } from '../core/rules/form-index.js';
import type { SchemaForm } from '../exchange/schema/read.js';
import { suggestion } from '../core/text/closest.js';
import { Sentences } from '../core/violation/sentence.js';
import type { AnswerOptions } from '../core/body/answer.js';
import type { Shape, ShapeOptions } from '../core/body/shapes/shape.js';
import { complaint, type FilePlace } from './complaint.js';
import { CONFIG_FILE, type Config } from './config.js';
import type { FormTable } from './forms.js';
import { isInside, readText } from './files.js';
import { WorkspaceFolder } from './folder.js';
import { starterFile } from './installed.js';
import { jsonLocator, mayRepeatKeys, parseJson } from './json.js';
import { tooDeepAt } from './nesting.js';
import { positionAt } from './position.js';
import { RuleBook, type RuleFiles } from './rule-book.js';

/** What a schema calls its fields, as a catalog of the lowest rank. */
function titleCatalog(form: string, { parts: { titles } }: SchemaForm, locale: Locale): Catalog {
  const fields = titles.map(({ pattern, text, origin }): FieldTexts => ({
    ...{ pattern, path: printPath(pattern), messages: new Map(), choices: new Map(), origin },
    label: {
      base: new Entry(printMessage([{ kind: 'text', text, start: 0, end: text.length }]), locale, origin),
      forms: new Map(),
    },
  }));
  return { file: '', locale, form, messages: new Map(), fields, problems: new Map(), excused: [], remarks: [] };
}

/** Five would do; what is deeper is told of before anything descends into it. */
const DEEPEST_CATALOG = 100;

/** Catalogs of so many characters are large; in smaller ones nothing is gained by not reading them. */
const LARGE = 50_000;

/** A shape, and how the workspace sets it. */
export interface BodyStyle {
  readonly shape: Shape;
  readonly options: ShapeOptions;
}

/** A workspace with its files read: forms, catalogs and the one index of all texts. */
export class Workspace extends WorkspaceFolder {
  /** The forms, out of sheets and schemas. */
  readonly book: RuleBook;
  private readonly noticed: (readonly Remark[])[] = [];
  readonly catalogs: readonly Catalog[];
  readonly texts: Texts;
  /** Files of catalogs in which a key may stand twice: the parser swallowed a name, or there are comments. */
  readonly suspects = new Set<string>();
  private readonly made = new Map<string, Sentences>();
  private readonly family = new CatalogFamily();

  private constructor(
    folder: string,
    config: Config,
    shownFrom: string,
    /** The reading before, and the files that changed since: the others are taken from it. */
    private earlier?: { readonly workspace: Workspace; readonly changed: ReadonlySet<string> },
  ) {
    super(folder, config, shownFrom);
    this.book = new RuleBook(this.files(config.rules), this.ruleFiles());
    this.catalogs = this.files(config.texts).map((file) => this.readTexts(file));
    this.texts = new Texts(
      this.catalogs,
      (locale) => (config.starter ? this.starterOf(locale) : undefined),
      config,
      (id, locale) => {
        const schema = locale === config.original ? this.schemas.get(id) : undefined;
        return schema && titleCatalog(id, schema, locale);
      },
    );
  }

  /**
   * Opens the workspace at or above a folder.
   * @param from where to start looking
   * @param shownFrom the folder that names of files in sentences are relative to
   * @throws {Complaint} when there is none, or a file of it cannot be read
   */
  static open(from: string, shownFrom: string = from): Workspace {
    return Workspace.read(from, shownFrom);
  }

  /**
   * Opens the workspace anew after some of its files changed; the others are not read again.
   * @throws {Complaint} when a file of it cannot be read
   */
  reopen(changed: ReadonlySet<string>): Workspace {
    return Workspace.read(this.folder, this.shownFrom, { workspace: this, changed });
  }

  private static read(from: string, shownFrom: string, earlier?: NonNullable<Workspace['earlier']>): Workspace {
    const { folder, config, text } = WorkspaceFolder.settings(from, shownFrom);
    const workspace = new Workspace(folder, config, shownFrom, earlier);
    workspace.sources.set(CONFIG_FILE, text);
    // Else every reading would keep all that were before it.
    workspace.earlier = undefined;
    return workspace;
  }

  private ruleFiles(): RuleFiles {
    return {
      read: (file, holds) => this.readFile(file, holds),
      shown: (file) => this.shown(file),
      isThere: (file) => isInside(this.folder, file),
      before: (file) => this.unchanged(file, ({ book }) => book.sheets.get(file)),
    };
  }

  get forms(): FormTable {
    return this.book.forms;
  }

  /** The forms that come from schemas, with what their payloads are held against. */
  get schemas(): ReadonlyMap<string, SchemaForm> {
    return this.book.schemas;
  }

  /** What the reading before made of a file that has not changed since. */
  private unchanged<T>(file: string, known: (workspace: Workspace) => T | undefined): T | undefined {
    const { earlier } = this;
    const text = earlier?.workspace.sources.get(file);
    if (!earlier || text === undefined || earlier.changed.has(file)) return undefined;
    const found = known(earlier.workspace);
    if (found !== undefined) this.sources.set(file, text);
    return found;
  }

  /** What was noticed while all files and forms were read. */
  remarks(): readonly Remark[] {
    return [...this.book.remarks(), ...this.noticed.flat()];
  }

  private readTexts(file: string): Catalog {
    const known = this.unchanged(file, ({ catalogs }) => catalogs.find((one) => one.file === file));
    if (known) {
      if (this.earlier?.workspace.suspects.has(file)) this.suspects.add(file);
      this.noticed.push(known.remarks.map((remark) => ({ locale: known.locale, ...remark })));
      return known;
    }
    const text = this.readFile(file, 'a catalog');
    const isLarge = text.length >= LARGE;
    const alike = isLarge ? this.family.match(text, file) : undefined;
    if (alike) return alike;
    const deep = tooDeepAt(text, DEEPEST_CATALOG);
    if (deep !== undefined)
      throw complaint('wrong-content', [`this is nested deeper than ${DEEPEST_CATALOG} levels; no text of a catalog is`], {
        file: this.shown(file),
        ...positionAt(text, deep),
      });
    const root = parseJson(text, this.shown(file), true);
    const at = (spot: Omit<Spot, 'file'>): FilePlace => ({
      file: this.shown(file),
      ...positionAt(text, jsonLocator(text)({ file, ...spot })),
    });
    if (!isObject(root))
      throw complaint('wrong-content', ['a catalog is an object with the key "locale"'], at({ keys: [], at: 'value' }));
    if (typeof root.locale !== 'string') {
      throw complaint(
        'wrong-content',
        ['"locale" is missing; it names the language of the texts, such as "de"'],
        at({ keys: ['locale'], at: 'value' }),
      );
    }
    let locale: Locale;
    try {
      locale = parseLocale(root.locale);
    } catch (error) {
      throw error instanceof LocaleError ? complaint('wrong-tag', [error.message], at({ keys: ['locale'], at: 'value' })) : error;
    }
    const { catalog, members } = this.family.read(root, file, locale, isLarge ? text : undefined);
    if (mayRepeatKeys(text, members)) this.suspects.add(file);
    this.noticed.push(catalog.remarks.map((remark) => ({ locale, ...remark })));
    return catalog;
  }

  /** The catalog that ships for a locale. */
  starterOf(locale: Locale): Catalog | undefined {
    const file = starterFile(locale);
    if (!existsSync(file)) return undefined;
    const named = `starter/${locale}.json`;
    const text = readText(file, named, 'a catalog');
    const root = parseJson(text, named, false);
    this.sources.set(named, text);
    return isObject(root) ? readCatalog(root, named, locale).catalog : undefined;
  }

  /** The catalogs of the workspace, and the starter catalogs of its languages. */
  allCatalogs(): readonly Catalog[] {
    const { languages, starter } = this.config;
    return [...this.catalogs, ...(starter ? languages.flatMap((locale) => this.starterOf(locale) ?? []) : [])];
  }

  /** What answers are made with, as the workspace file has it. */
  get answerOptions(): AnswerOptions {
    return this.answerOptionsFor({});
  }

  /** The same, where a command or caller wants it otherwise. */
  answerOptionsFor({
    each,
    audience,
  }: {
    each?: 'all' | 'first' | undefined;
    audience?: 'client' | 'developer' | undefined;
  }): AnswerOptions {
    const { zone, values, body, statuses } = this.config;
    const forDevelopers = (audience ?? body.audience) === 'developer';
    return {
      ...{ zone, limit: values.limit, each: each ?? body.each, most: body.most, typeBase: body.typeBase, statuses },
      ...(forDevelopers ? { developer: (origin: Origin) => this.place({ ...origin, at: 'value' }) } : {}),
    };
  }

  /** How bodies are laid out: the shape of that name, or the workspace's. */
  style(name: string = this.config.body.shape): BodyStyle {
    const { shapes, body } = this.config;
    const shape = shapes.get(name);
    if (!shape)
      throw complaint('wrong-use', [
        `there is no shape "${name}"${suggestion(name, shapes.keys())}; the shapes are ${[...shapes.keys()].join(', ')}`,
      ]);
    return { shape, options: body };
  }

  /**
   * A form of the workspace.
   * @throws {Complaint} when there is none of that id
   */
  form(id: string, place?: FilePlace): FormIndex {
    const form = this.forms.get(id);
    if (form) return form;
    throw complaint('unknown-form', [id, suggestion(id, this.forms.keys()), [...this.forms.keys()].join(', ')], place);
  }

  /** What puts the violations of a form into words. */
  sentences(form: FormIndex): Sentences {
    let sentences = this.made.get(form.form.id);
    if (!sentences) this.made.set(form.form.id, (sentences = new Sentences(this.texts, form, this.answerOptions)));
    return sentences;
  }
}
