import path from 'node:path';
import { globSync } from 'tinyglobby';
import type { Locale } from '../core/locale/tag.js';
import type { Spot } from '../core/origin.js';
import { complaint, type FilePlace } from './complaint.js';
import { CONFIG_FILE, readConfig, type Config } from './config.js';
import { recover } from './edit/journal.js';
import { displayName, readText } from './files.js';
import { findWorkspace } from './find.js';
import { starterFile } from './installed.js';
import { jsonLocator } from './json.js';
import { Lines } from './position.js';
import { SpokenLocales } from './spoken.js';
import { yamlLocator } from './yaml.js';

export const isYaml = (file: string): boolean => /\.ya?ml$/i.test(file);

const STARTER = /^starter\/(.+)\.json$/;

/** The folder of a workspace and its settings; the files are known by name and read when somebody asks. */
export class WorkspaceFolder {
  /** The text of each file read, by its name in the workspace. */
  readonly sources = new Map<string, string>();
  private readonly locators = new Map<string, { offsetOf: (spot: Spot) => number; lines: Lines }>();
  private readonly spoken: SpokenLocales;

  protected constructor(
    /** The folder, as an absolute path. */
    readonly folder: string,
    readonly config: Config,
    /** The folder that names of files in sentences are relative to. */
    readonly shownFrom: string,
  ) {
    this.spoken = new SpokenLocales(config.languages);
  }

  protected static settings(from: string, shownFrom: string): { folder: string; config: Config; text: string } {
    const folder = findWorkspace(from);
    const file = path.join(folder, CONFIG_FILE);
    // A run that was killed while it wrote several files may have left some of them to write.
    recover(folder);
    const named = displayName(file, shownFrom);
    const text = readText(file, named, 'the settings of the workspace');
    return { folder, config: readConfig(text, named), text };
  }

  /**
   * Reads the settings of the workspace at or above a folder, and nothing else.
   * @throws {Complaint} when there is none, or they cannot be read
   */
  static openFolder(from: string, shownFrom: string = from): WorkspaceFolder {
    const { folder, config, text } = WorkspaceFolder.settings(from, shownFrom);
    const opened = new WorkspaceFolder(folder, config, shownFrom);
    opened.sources.set(CONFIG_FILE, text);
    return opened;
  }

  /** The files that globs of the settings name, in order. */
  files(globs: readonly string[]): string[] {
    const found = globs.flatMap((glob) => {
      const files = globSync([glob], { cwd: this.folder, followSymbolicLinks: false, expandDirectories: false });
      if (files.length === 0 && !/[*?{[(]/.test(glob))
        throw complaint('nothing-matches', [glob], { file: this.shown(CONFIG_FILE) });
      return files.sort();
    });
    return [...new Set(found)];
  }

  /** A file of the workspace as sentences name it. */
  shown(file: string): string {
    return displayName(path.join(this.folder, file), this.shownFrom);
  }

  /** Reads a file of the workspace and keeps its text, for places. */
  readFile(file: string, holds: string): string {
    const text = readText(path.join(this.folder, file), this.shown(file), holds);
    this.sources.set(file, text);
    return text;
  }

  /**
   * The locale of the workspace that serves a request for another: itself, or what is left of it when subtags are dropped.
   * @throws {Complaint} when the tag is none, or nothing serves it
   */
  locale(tag: string): Locale {
    return this.spoken.find(tag);
  }

  private sourceOf(file: string): string | undefined {
    const known = this.sources.get(file);
    if (known !== undefined) return known;
    const starter = STARTER.exec(file)?.[1];
    try {
      const onDisk = starter === undefined ? path.join(this.folder, file) : starterFile(starter);
      const text = readText(onDisk, file, 'texts');
      this.sources.set(file, text);
      return text;
    } catch {
      return undefined;
    }
  }

  private locator(file: string): { offsetOf: (spot: Spot) => number; lines: Lines } | undefined {
    let locator = this.locators.get(file);
    if (locator) return locator;
    const text = this.sourceOf(file);
    if (text === undefined) return undefined;
    const offsetOf = isYaml(file) ? yamlLocator(text) : jsonLocator(text);
    this.locators.set(file, (locator = { offsetOf, lines: new Lines(text) }));
    return locator;
  }

  /** Line and column of a spot, and the file as one would name it from where one stands. */
  place(spot: Spot): FilePlace {
    const locator = this.locator(spot.file);
    if (!locator) return { file: spot.file };
    // A starter catalog is no file of the workspace; its name says so, wherever one stands.
    const file = STARTER.test(spot.file) ? spot.file : this.shown(spot.file);
    return { file, ...locator.lines.position(locator.offsetOf(spot)) };
  }

  /** The line of a file that a spot stands in. */
  lineAt(spot: Spot): string | undefined {
    const locator = this.locator(spot.file);
    return locator?.lines.lineText(locator.lines.position(locator.offsetOf(spot)).line);
  }
}
