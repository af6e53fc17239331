import { getOrMake } from '../../core/base/get-or-make.js';
import { existsSync, lstatSync, realpathSync } from 'node:fs';
import path from 'node:path';
import picomatch from 'picomatch';
import { complaint } from './complaint.js';
import { heldText, isInside, leadsOut, readText } from './files.js';
import { findWorkspace } from './find.js';
import { filesMatching } from './globs.js';

/**
 * Texts of files by their paths that are read in place of what stands on disk: what an editor has
 * open.
 */
export type Unsaved = ReadonlyMap<string, string>;

export const NOTHING_UNSAVED: Unsaved = new Map();

/**
 * Where the files of a workspace are read from: the disk, or a revision of git. Files and folders
 * are absolute paths.
 */
export interface Storage {
  /** The folder of the workspace at or above a folder. @throws {Complaint} when there is none */
  workspaceAt(from: string): string;
  /**
   * The text of a file.
   * @param root the folder that it must lie below, links followed
   * @param named what sentences call it
   * @param holds what it should hold, for the sentence about an empty one
   * @throws {Complaint} when there is none, or it lies elsewhere
   */
  text(file: string, root: string, named: string, holds: string): string;
  /** Whether there is a file of that name. */
  has(file: string): boolean;
  /** Whether there is one, and it lies below a folder once links are followed. */
  isInside(file: string, root: string): boolean;
  /**
   * The files that a glob names from a folder, in order, relative to it with forward slashes.
   * @throws {Complaint}
   */
  matching(folder: string, glob: string): string[];
}

/** Whether no link stands between a folder and another inside it. */
function isWithoutLinks(root: string, folder: string): boolean {
  try {
    return realpathSync(folder) === path.join(realpathSync(root), path.relative(root, folder));
  } catch {
    return false;
  }
}

/** The files on disk, with what an editor has open in place of them. */
export class Disk implements Storage {
  /** By root and folder, whether no link stands between the two: folders are looked at once. */
  private readonly plainFolders = new Map<string, Map<string, boolean>>();

  constructor(private readonly unsaved: Unsaved = NOTHING_UNSAVED) {}

  /** Whether a file is not a link, in a folder below the root without a link on the way. */
  private isPlainly(file: string, root: string): boolean {
    const folder = path.dirname(file);
    const known = getOrMake(this.plainFolders, root, () => new Map());
    const plain = getOrMake(known, folder, () => isWithoutLinks(root, folder));
    return plain && lstatSync(file, { throwIfNoEntry: false })?.isFile() === true;
  }

  workspaceAt(from: string): string {
    return findWorkspace(from);
  }

  text(file: string, root: string, named: string, holds: string): string {
    if (!this.isPlainly(file, root) && leadsOut(root, file))
      throw complaint('linked-outside', [named]);
    const text = this.unsaved.get(file);
    return text === undefined
      ? readText(file, named, holds, 'plain')
      : heldText(text, named, holds);
  }

  has(file: string): boolean {
    return existsSync(file);
  }

  isInside(file: string, root: string): boolean {
    return isInside(root, file);
  }

  matching(folder: string, glob: string): string[] {
    return filesMatching(folder, glob);
  }
}

/** The files on disk, and files of a workspace that are not written yet. */
export class Overlaid extends Disk {
  /** @param drafts texts by their names in the folder, with forward slashes */
  constructor(
    private readonly folder: string,
    private readonly drafts: ReadonlyMap<string, string>,
  ) {
    super();
  }

  private draft(file: string): string | undefined {
    return this.drafts.get(path.relative(this.folder, file).split(path.sep).join('/'));
  }

  override workspaceAt(): string {
    return this.folder;
  }

  override text(file: string, root: string, named: string, holds: string): string {
    return this.draft(file) ?? super.text(file, root, named, holds);
  }

  override has(file: string): boolean {
    return this.draft(file) !== undefined || super.has(file);
  }

  override isInside(file: string, root: string): boolean {
    return this.draft(file) !== undefined || super.isInside(file, root);
  }

  override matching(folder: string, glob: string): string[] {
    const isNamed = picomatch(glob);
    const drafted =
      folder === this.folder ? [...this.drafts.keys()].filter((file) => isNamed(file)) : [];
    return [...new Set([...drafted, ...super.matching(folder, glob)])].sort();
  }
}
