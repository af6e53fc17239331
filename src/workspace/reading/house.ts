import { existsSync, realpathSync } from 'node:fs';
import path from 'node:path';
import { complaint } from '../disk/complaint.js';
import { displayName } from '../disk/files.js';
import { CONFIG_FILE } from '../disk/find.js';
import { Disk, type Storage, type Unsaved } from '../disk/storage.js';
import { readConfig, type Config } from './config.js';

/** The workspace that reads a house. */
interface Around {
  readonly folder: string;
  /** The folder that a house named by a path must lie in, links followed. */
  readonly root: string;
  readonly shownFrom: string;
  readonly storage: Storage;
  readonly unsaved: Unsaved;
}

const isPath = (named: string): boolean => /^\.{1,2}(?:\/|$)/.test(named);

/** The folder of a house: one that a path names, or a package that is installed there or above. */
function folderOf(named: string, { folder, storage }: Around): string | undefined {
  if (isPath(named)) return path.resolve(folder, named);
  for (let at = folder; ; at = path.dirname(at)) {
    const installed = path.join(at, 'node_modules', ...named.split('/'));
    const settings = path.join(installed, CONFIG_FILE);
    if (storage.has(settings) || existsSync(settings)) return installed;
    if (at === path.dirname(at)) return undefined;
  }
}

/**
 * The texts of a house, which several workspaces share: a folder with a workspace file, texts and
 * terms, and without rules. It is read, and nothing of it is run or written.
 */
export class House {
  private readonly real: string;

  private constructor(
    /** The folder, as an absolute path. */
    readonly folder: string,
    private readonly around: Around,
    private readonly storage: Storage,
    readonly config: Config,
    /** Its settings as they stand in the file. */
    readonly text: string,
  ) {
    this.real = realpathOf(folder);
  }

  /**
   * Opens the house that the settings of a workspace name.
   * @throws {Complaint} when there is none, or its settings cannot be read
   */
  static open(named: string, around: Around): House {
    const folder = folderOf(named, around);
    const { storage } = around;
    const settings = path.join(folder ?? named, CONFIG_FILE);
    const shown = displayName(path.join(around.folder, CONFIG_FILE), around.shownFrom);
    if (folder === undefined || !(storage.has(settings) || existsSync(settings)))
      throw complaint(
        'wrong-content',
        [
          isPath(named)
            ? `"house": there is no ${CONFIG_FILE} in ${named}`
            : `"house": the package ${named} is not installed, or has no ${CONFIG_FILE}; install it`,
        ],
        { file: shown },
      );
    // A package may be a link, such as one to a neighbour in a repository of many packages.
    if (isPath(named) && !storage.isInside(settings, around.root))
      throw complaint('linked-outside', [displayName(settings, around.shownFrom)]);
    // A package is in no revision, and is read as it is installed.
    const from = storage.has(settings) ? storage : new Disk(around.unsaved);
    const name = displayName(settings, around.shownFrom);
    const text = from.text(settings, realpathOf(folder), name, 'the settings of a house');
    const config = readConfig(text, name);
    if (config.house !== undefined)
      throw complaint('wrong-content', ['a house has no house of its own; take "house" out'], {
        file: name,
      });
    return new House(folder, around, from, config, text);
  }

  /** A file of the house as files of the workspace are named. */
  private nameOf(file: string): string {
    const name = path.relative(this.around.folder, path.join(this.folder, file));
    return name.split(path.sep).join('/');
  }

  /** The files that globs of its settings name, named as files of the workspace are. */
  files(globs: readonly string[]): string[] {
    const found = globs.flatMap((glob) => this.storage.matching(this.folder, glob));
    return [...new Set(found)].map((file) => this.nameOf(file));
  }

  get settingsFile(): string {
    return this.nameOf(CONFIG_FILE);
  }

  /** Whether a file, named as files of the workspace are, is one of the house. */
  has(file: string): boolean {
    const whole = path.join(this.around.folder, file);
    return whole.startsWith(this.folder + path.sep);
  }

  /** @throws {Complaint} when the file cannot be read, or lies elsewhere */
  textOf(file: string, named: string, holds: string): string {
    return this.storage.text(path.join(this.around.folder, file), this.real, named, holds);
  }
}

function realpathOf(folder: string): string {
  try {
    return realpathSync(folder);
  } catch {
    return folder;
  }
}
