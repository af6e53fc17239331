import path from 'node:path';
import type { Remark } from '../../core/finding.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { suggestion } from '../../core/text/closest.js';
import { nameOfForms } from '../../core/texts/form-set.js';
import { Texts, type Graph } from '../../core/texts/ladder.js';
import { Purposes, type Purpose } from '../../core/texts/purpose.js';
import { Table } from '../../core/texts/table.js';
import type { SchemaForm } from '../../exchange/schema/read.js';
import { CatalogFiles } from './catalog-files.js';
import { complaint, type FileLocation } from '../disk/complaint.js';
import { CONFIG_FILE } from '../disk/find.js';
import { type Config } from './config.js';
import { WorkspaceFolder } from './folder.js';
import type { FormTable } from './forms.js';
import { RuleBook, type RuleFiles } from './rule-book.js';
import { Disk, NOTHING_UNSAVED, type Storage, type Unsaved } from '../disk/storage.js';

/** Files that changed since a workspace was read, by name. */
export interface Changes {
  readonly changed: ReadonlySet<string>;
  /** Whether no file can have come or gone, so that no folder need be looked through. */
  readonly sameFiles?: boolean;
  /** The open files of an editor; those of the last reading where absent. */
  readonly unsaved?: Unsaved;
}

/** The reading before, and the files that changed since: the others are taken from it. */
interface Earlier extends Changes {
  readonly workspace: Workspace;
}

/**
 * The settings, their text, and the source of all other files, from which a workspace is opened.
 */
interface Opening extends Pick<
  WorkspaceFolder,
  'folder' | 'config' | 'shownFrom' | 'unsaved' | 'storage'
> {
  readonly text: string;
}

/** The rules of the reading before, where no file of them changed. */
function sameRules(
  { workspace: { book, config }, changed }: Earlier,
  now: Config,
  names: readonly string[],
): RuleBook | undefined {
  if (config.blank !== now.blank || book.names.join('\n') !== names.join('\n')) return undefined;
  return [...changed].some((file) => book.asked.has(file)) ? undefined : book;
}

/**
 * A table keeps purposes that no file has any more; when so large a part of them is idle, all is
 * read anew.
 */
const IDLE = 0.5;

/**
 * A workspace that was read: its forms, and the table of its texts. It never changes; another
 * reading is another one.
 */
export class Workspace extends WorkspaceFolder {
  /** The forms, out of sheets and schemas. */
  readonly book: RuleBook;
  readonly catalogFiles: CatalogFiles;
  readonly table: Table;
  /** Which text is used where, for clients. */
  readonly texts: Texts;
  /** The texts with drafts among them, whether clients read drafts or not. */
  readonly allTexts: Texts;
  /** With fewer purposes than that, nobody need look for idle ones. */
  private idleFrom: number;

  private constructor({ folder, config, shownFrom, unsaved, storage }: Opening, earlier?: Earlier) {
    super(folder, config, shownFrom, unsaved, storage);
    if (earlier?.sameFiles && earlier.workspace.config === config) this.findFrom(earlier.workspace);
    const names = this.files(config.rules);
    const same = earlier && sameRules(earlier, config, names);
    if (same) this.keepFrom(earlier.workspace, same.asked);
    // A book asks for files later on too; what was before it is of use only now, and would be kept
    // with all that was before.
    const past: { earlier?: Earlier | undefined } = { earlier };
    this.book = same ?? new RuleBook(names, this.ruleFiles(past), config.blank === 'missing');
    past.earlier = undefined;
    const kept = earlier?.workspace.isIdle() ? undefined : earlier;
    this.catalogFiles = new CatalogFiles(
      this,
      this.book,
      kept && {
        files: kept.workspace.catalogFiles,
        changed: kept.changed,
        table: kept.workspace.table,
        sameSettings: kept.workspace.config === config,
        sameRules: same !== undefined,
      },
    );
    if (kept) this.keepFrom(kept.workspace, this.catalogFiles.unchanged);
    this.table = new Table(
      this.catalogFiles,
      kept ? kept.workspace.table.purposes : new Purposes(),
    );
    this.idleFrom = kept?.workspace.idleFrom ?? 0;
    const { book } = this;
    const graphs = (form: string): Graph | undefined => {
      const index = book.forms.get(form);
      return index?.form.joins && index;
    };
    this.allTexts = new Texts(this.table, config, true, graphs);
    this.texts =
      config.drafts === 'served' ? this.allTexts : new Texts(this.table, config, false, graphs);
  }

  /**
   * Opens the workspace at or above a folder.
   * @param from where to start looking
   * @param shownFrom the folder that names of files in sentences are relative to
   * @throws {Complaint} when there is none, or a file of it cannot be read
   */
  static open(
    from: string,
    shownFrom: string = from,
    unsaved: Unsaved = NOTHING_UNSAVED,
    storage: Storage = new Disk(unsaved),
  ): Workspace {
    return Workspace.read({
      ...WorkspaceFolder.settings(from, shownFrom, storage),
      shownFrom,
      unsaved,
      storage,
    });
  }

  /**
   * Reads the rules and texts of a folder whose settings are read.
   * @throws {Complaint} when a file of it cannot be read
   */
  static in({ folder, shownFrom, unsaved, storage }: WorkspaceFolder): Workspace {
    return Workspace.open(folder, shownFrom, unsaved, storage);
  }

  /**
   * Opens the workspace anew after some of its files changed; the others are not read again.
   * @throws {Complaint} when a file of it cannot be read
   */
  reopen(changes: Changes): Workspace {
    const { folder, shownFrom, config, sources } = this;
    const unsaved = changes.unsaved ?? this.unsaved;
    const storage = new Disk(unsaved);
    const text = changes.changed.has(CONFIG_FILE) ? undefined : sources.get(CONFIG_FILE);
    const settings =
      text === undefined
        ? WorkspaceFolder.settings(folder, shownFrom, storage)
        : { folder, config, text };
    return Workspace.read(
      { ...settings, shownFrom, unsaved, storage },
      { workspace: this, ...changes },
    );
  }

  private static read(from: Opening, earlier?: Earlier): Workspace {
    const workspace = new Workspace(from, earlier);
    workspace.sources.set(CONFIG_FILE, from.text);
    return workspace;
  }

  private ruleFiles(past: { readonly earlier?: Earlier | undefined }): RuleFiles {
    return {
      read: (file, holds) => this.readFile(file, holds),
      shown: (file) => this.shown(file),
      isThere: (file) => this.storage.isInside(path.join(this.folder, file), this.folder),
      before: (file) => {
        const { earlier } = past;
        const text = earlier?.workspace.sources.get(file);
        if (!earlier || text === undefined || earlier.changed.has(file)) return undefined;
        const { sheets, roots } = earlier.workspace.book;
        const sheet = sheets.get(file);
        if (!sheet) return undefined;
        this.sources.set(file, text);
        return { sheet, root: roots.get(file) };
      },
    };
  }

  /** Whether much of what the table has numbers for is in no file any more. */
  private isIdle(): boolean {
    const { purposes } = this.table;
    if (purposes.all.length < this.idleFrom) return false;
    // What was not read, since something is wrong with it, is not asked for again.
    const used = new Set<Purpose>();
    for (const { texts } of this.catalogFiles.known)
      for (const { purpose } of texts) used.add(purpose);
    const idle = purposes.all.filter(
      (purpose) => purpose.layer === 'written' && !used.has(purpose),
    ).length;
    this.idleFrom = Math.max(2 * (purposes.all.length - idle), this.idleFrom);
    return idle > IDLE * purposes.all.length;
  }

  /**
   * Reads what schemas call the fields of a form when the form is asked for, not those of all forms
   * at once. For answers about single forms, before any text is asked for: a document may have a
   * thousand of them.
   */
  forAnswers(): this {
    const { catalogFiles, forms, table } = this;
    const named = (catalogFiles.namedForms = new Set<string>());
    forms.onMade = (id) => {
      named.add(id);
      table.addTitles(() => catalogFiles.titlesOf(id, table.purposes).texts);
    };
    return this;
  }

  get forms(): FormTable {
    return this.book.forms;
  }

  /** The forms that come from schemas, with what their payloads are held against. */
  get schemas(): ReadonlyMap<string, SchemaForm> {
    return this.book.schemas;
  }

  /** Returns the remarks made while all files were read. */
  remarks(): readonly Remark[] {
    this.readAll();
    return [...this.book.remarks(), ...this.catalogFiles.remarks()];
  }

  /**
   * Reads every catalog, so that nothing is left to fail later.
   * @throws {Complaint} when one cannot be read
   */
  readAll(): void {
    const { locales: languages } = this.config;
    this.table.readAll(languages.flatMap((locale) => this.texts.chain(locale)));
  }

  /**
   * The forms that a text is said to be for, as texts name them: one, or several with commas
   * between.
   * @throws {Complaint} when there is none of some id
   */
  formsNamed(said: string): string {
    if (this.forms.has(said)) return said;
    const ids = said.split(',').map((id) => id.trim());
    const name = nameOfForms(ids);
    // Of what is shared with other workspaces, some forms may be theirs.
    if (!this.table.catalogs.some(({ form }) => form === name)) for (const id of ids) this.form(id);
    return name;
  }

  /**
   * A form of the workspace.
   * @throws {Complaint} when there is none of that id
   */
  form(id: string, location?: FileLocation): FormIndex {
    const form = this.forms.get(id);
    if (form) return form;
    throw complaint(
      'unknown-form',
      [id, suggestion(id, this.forms.keys()), [...this.forms.keys()].join(', ')],
      location,
    );
  }
}
