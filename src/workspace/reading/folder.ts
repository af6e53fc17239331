import path from 'node:path';
import type { Locale } from '../../core/locale/tag.js';
import type { Spot } from '../../core/origin.js';
import { complaint, type FileLocation } from '../disk/complaint.js';
import { CONFIG_FILE } from '../disk/find.js';
import { readConfig, type Config } from './config.js';
import { House } from './house.js';
import { displayName, isYaml } from '../disk/files.js';
import { placeOfGlob } from '../disk/globs.js';
import { starterText } from '../disk/installed.js';
import { jsonLocator } from '../documents/json-places.js';
import { Lines } from '../documents/position.js';
import { Disk, NOTHING_UNSAVED, type Storage, type Unsaved } from '../disk/storage.js';
import type { Offer } from '../../core/locale/chain.js';
import { PARENTS } from '../../core/locale/parents.js';
import { SpokenLocales } from '../../render/spoken.js';
import { yamlLocator } from '../documents/yaml.js';

/** Whether a file of a workspace lies outside of its folder, where others read it too. */
export const isShared = (file: string): boolean => file.startsWith('../');

/**
 * The total length of the texts whose locators are kept, in characters. Findings come file by file,
 * so that those of the last files are enough.
 */
const MOST_LOCATED = 8_000_000;

const STARTER = /^starter\/(.+)\.json$/;

/** Finds places in one file. */
interface Locator {
  readonly offsetOf: (spot: Spot) => number;
  readonly lines: Lines;
  /** The length of the text. */
  readonly length: number;
  /** The name of the file in sentences. */
  readonly shown: string;
}

/**
 * The folder of a workspace and its settings; the files are known by name and read when somebody
 * asks.
 */
export class WorkspaceFolder {
  /** The text of each file read, by its name in the workspace. */
  readonly sources = new Map<string, string>();
  /** Of the files asked for last. */
  private readonly locators = new Map<string, Locator>();
  private located = 0;
  /**
   * The folder below which all its texts lie: itself, or one around it that other workspaces share.
   */
  readonly root: string;
  /** The languages that answers are in. */
  readonly offer: Offer;
  private readonly spoken: SpokenLocales;

  protected constructor(
    /** The folder, as an absolute path. */
    readonly folder: string,
    readonly config: Config,
    /** The folder that names of files in sentences are relative to. */
    readonly shownFrom: string,
    readonly unsaved: Unsaved = NOTHING_UNSAVED,
    /** Where its files are read from. */
    readonly storage: Storage = new Disk(unsaved),
  ) {
    this.offer = { locales: config.locales, original: config.original, parents: PARENTS };
    this.spoken = new SpokenLocales(this.offer);
    this.root = path.join(folder, config.root);
  }

  protected static settings(
    from: string,
    shownFrom: string,
    storage: Storage,
  ): { folder: string; config: Config; text: string } {
    const folder = storage.workspaceAt(from);
    const file = path.join(folder, CONFIG_FILE);
    const named = displayName(file, shownFrom);
    const text = storage.text(file, folder, named, 'the settings of the workspace');
    return { folder, config: readConfig(text, named), text };
  }

  /**
   * Reads the settings of the workspace at or above a folder, and nothing else.
   * @throws {Complaint} when there is none, or they cannot be read
   */
  static openFolder(
    from: string,
    shownFrom: string = from,
    unsaved: Unsaved = NOTHING_UNSAVED,
    storage: Storage = new Disk(unsaved),
  ): WorkspaceFolder {
    const { folder, config, text } = WorkspaceFolder.settings(from, shownFrom, storage);
    const opened = new WorkspaceFolder(folder, config, shownFrom, unsaved, storage);
    opened.sources.set(CONFIG_FILE, text);
    return opened;
  }

  /** Globs that were looked for, and that nothing matches. */
  readonly unmatched = new Set<string>();
  /** The files of each glob. */
  private found = new Map<string, readonly string[]>();

  /** Takes over which files there are. */
  protected findFrom(earlier: WorkspaceFolder): void {
    this.found = earlier.found;
  }

  /** The files that globs of the settings name, in order. */
  files(globs: readonly string[]): string[] {
    const found = globs.flatMap((glob) => {
      const files = this.found.get(glob) ?? this.storage.matching(this.folder, glob);
      this.found.set(glob, files);
      if (files.length === 0) this.unmatched.add(glob);
      if (files.length === 0 && !/[*?{[(]/.test(glob))
        throw complaint('nothing-matches', [glob], { file: this.shown(CONFIG_FILE) });
      return files;
    });
    return [...new Set(found)];
  }

  /**
   * The folders that files of the workspace may be in: its own, those around it that its texts are
   * shared in, and the house's.
   */
  get watched(): string[] {
    return [
      this.folder,
      ...this.config.texts
        .filter(isShared)
        .map((glob) => path.join(this.folder, placeOfGlob(glob))),
      ...(this.house ? [this.house.folder] : []),
    ];
  }

  private opened: House | undefined;

  /**
   * The texts of the house that the settings name, if they name one.
   * @throws {Complaint} when there is none
   */
  get house(): House | undefined {
    if (this.config.house === undefined) return undefined;
    if (!this.opened) {
      this.opened = House.open(this.config.house, this);
      this.sources.set(this.opened.settingsFile, this.opened.text);
    }
    return this.opened;
  }

  /** A file of the workspace as sentences name it. */
  shown(file: string): string {
    return displayName(path.join(this.folder, file), this.shownFrom);
  }

  /**
   * Reads a file of the workspace and keeps its text, for places.
   * @throws {Complaint} when it is none, or lies elsewhere once links are followed
   */
  readFile(file: string, holds: string): string {
    const text = this.readOwn(file, this.shown(file), holds);
    this.sources.set(file, text);
    return text;
  }

  /** Where a file of the workspace must lie: in its folder, those shared below the root. */
  rootOf(file: string): string {
    return isShared(file) ? this.root : this.folder;
  }

  private readOwn(file: string, named: string, holds: string): string {
    if (this.house?.has(file)) return this.house.textOf(file, named, holds);
    return this.storage.text(path.join(this.folder, file), this.rootOf(file), named, holds);
  }

  /**
   * Takes over what an earlier reading knows of files that have not changed since: their texts, and
   * where things stand in them.
   */
  protected keepFrom(earlier: WorkspaceFolder, files: Iterable<string>): void {
    for (const file of files) {
      const text = earlier.sources.get(file);
      if (text === undefined) continue;
      this.sources.set(file, text);
      const locator = earlier.locators.get(file);
      if (locator) this.keepLocator(file, locator);
    }
  }

  /**
   * The locale of the workspace that serves a request for another: itself, or what is left of it
   * when subtags are dropped.
   * @throws {Complaint} when the tag is none, or nothing serves it
   */
  locale(tag: string): Locale {
    return this.spoken.find(tag);
  }

  /**
   * The text of a file of the workspace, or of a starter catalog; nothing where it cannot be read.
   */
  textOf(file: string): string | undefined {
    const known = this.sources.get(file);
    if (known !== undefined) return known;
    const starter = STARTER.exec(file)?.[1];
    try {
      const text = starter === undefined ? this.readOwn(file, file, 'texts') : starterText(starter);
      if (text === undefined) return undefined;
      this.sources.set(file, text);
      return text;
    } catch {
      return undefined;
    }
  }

  private locator(file: string): Locator | undefined {
    let locator = this.locators.get(file);
    if (locator) return locator;
    const text = this.textOf(file);
    if (text === undefined) return undefined;
    const offsetOf = isYaml(file) ? yamlLocator(text) : jsonLocator(text);
    // A starter catalog is not a file of the workspace; its name says so, wherever one stands.
    const shown = STARTER.test(file) ? file : this.shown(file);
    locator = { offsetOf, lines: new Lines(text), shown, length: text.length };
    this.keepLocator(file, locator);
    return locator;
  }

  private keepLocator(file: string, locator: Locator): void {
    for (const [oldest, { length }] of this.locators) {
      if (this.located + locator.length <= MOST_LOCATED) break;
      this.locators.delete(oldest);
      this.located -= length;
    }
    this.locators.set(file, locator);
    this.located += locator.length;
  }

  /** Line and column of a spot, and the file as one would name it from where one stands. */
  place(spot: Spot): FileLocation {
    const locator = this.locator(spot.file);
    return locator
      ? { file: locator.shown, ...locator.lines.position(locator.offsetOf(spot)) }
      : { file: spot.file };
  }

  /**
   * Where a spot begins in the text of its file, in units of UTF-16 from 0; nothing where there is
   * no such file.
   */
  offsetOf(spot: Spot): number | undefined {
    return this.locator(spot.file)?.offsetOf(spot);
  }

  /** A line of a file, from 1. */
  lineText(file: string, line: number): string | undefined {
    return this.locator(file)?.lines.lineText(line);
  }
}
