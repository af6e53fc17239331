import { getOrMake } from '../../core/base/get-or-make.js';
import path from 'node:path';
import { complaint } from '../disk/complaint.js';
import { CONFIG_FILE } from '../disk/find.js';
import { readConfig } from '../reading/config.js';
import { reviewFileOf, textFrom } from '../disk/files.js';
import { isShared } from '../reading/folder.js';
import { filesMatching, placeOfGlob, type FolderEntry } from '../disk/globs.js';
import type { Storage } from '../disk/storage.js';
import { Repository, type GitFile } from './repository.js';

/**
 * The files of a workspace as they are in a commit or in the index: read in memory, never written
 * to the disk.
 */
export class Revision implements Storage {
  private readonly contents = new Map<string, Buffer>();
  private readonly folders = new Map<string, Map<string, FolderEntry>>();

  private constructor(
    private readonly repository: Repository,
    /**
     * The top of the work tree as the folder of the workspace is written, so that names of files
     * need no links followed.
     */
    private readonly top: string,
    private readonly files: ReadonlyMap<string, GitFile>,
  ) {
    for (const name of files.keys()) this.list(name);
  }

  /**
   * The workspace in a folder as a revision has it.
   * @param revision absent for what is staged
   * @throws {Complaint} when git does not know the revision, or the workspace is not in it
   */
  static of(folder: string, revision?: string): Revision {
    const purpose = revision === undefined ? 'what is staged' : `what ${revision} holds`;
    const repository = Repository.around(folder, purpose);
    const commit = revision === undefined ? undefined : repository.commit(revision);
    const name = repository.nameOf(folder) ?? '';
    const top = name === '' ? folder : path.resolve(folder, ...name.split('/').map(() => '..'));
    const own = repository.files(commit, [name]);
    const settings = name === '' ? CONFIG_FILE : `${name}/${CONFIG_FILE}`;
    if (!own.has(settings))
      throw complaint('wrong-use', [
        revision === undefined
          ? 'the zeitwort.yaml of this folder is not in git; add it'
          : `there is no zeitwort.yaml in this folder at ${revision}; name a later revision`,
      ]);
    const alone = new Revision(repository, top, own);
    const shared = alone.sharedPlaces(folder, settings, purpose);
    return shared.length === 0
      ? alone
      : new Revision(repository, top, new Map([...own, ...repository.files(commit, shared)]));
  }

  /**
   * The folders of texts that the settings share with other workspaces, as names in the repository.
   */
  private sharedPlaces(folder: string, settings: string, purpose: string): string[] {
    let texts: readonly string[] = [];
    try {
      ({ texts } = readConfig(this.bytesOf(settings).toString('utf8'), CONFIG_FILE));
    } catch {
      // Opening the workspace reports settings that cannot be read.
    }
    return texts.filter(isShared).map((glob) => {
      const place = path.relative(this.top, path.resolve(folder, placeOfGlob(glob)));
      if (place === '..' || place.startsWith(`..${path.sep}`))
        throw complaint('wrong-use', [
          `git cannot tell ${purpose} of "${glob}": it lies outside of this repository`,
        ]);
      return place.split(path.sep).join('/');
    });
  }

  /** Adds a file to the listings of the folders around it. */
  private list(name: string): void {
    const parts = name.split('/');
    for (const [at, part] of parts.entries()) {
      const folder = parts.slice(0, at).join('/');
      const entries = getOrMake(this.folders, folder, () => new Map());
      entries.set(part, { name: part, isFolder: at < parts.length - 1 });
    }
  }

  private nameOf(file: string): string {
    return path.relative(this.top, file).split(path.sep).join('/');
  }

  private bytesOf(name: string): Buffer {
    const known = this.contents.get(name);
    if (known) return known;
    this.fetch([name]);
    return this.contents.get(name) ?? Buffer.alloc(0);
  }

  /** Reads files that will be asked for, all by one process. */
  private fetch(names: readonly string[]): void {
    const wanted = names.flatMap((name) => {
      const id = this.files.get(name)?.id;
      return id === undefined || this.contents.has(name) ? [] : [{ name, id }];
    });
    const bytes = this.repository.bytes([...new Set(wanted.map(({ id }) => id))]);
    for (const { name, id } of wanted) this.contents.set(name, bytes.get(id) ?? Buffer.alloc(0));
  }

  workspaceAt(from: string): string {
    return path.resolve(from);
  }

  text(file: string, _root: string, named: string, holds: string): string {
    const name = this.nameOf(file);
    const known = this.files.get(name);
    if (!known) throw complaint('not-found', [named]);
    if (known.id === undefined)
      throw complaint(
        'wrong-content',
        ['git has no one text of this file, perhaps since a merge is open; finish that first'],
        {
          file: named,
        },
      );
    return textFrom(this.bytesOf(name), named, holds);
  }

  has(file: string): boolean {
    return this.files.has(this.nameOf(file));
  }

  isInside(file: string): boolean {
    return this.has(file);
  }

  matching(folder: string, glob: string): string[] {
    const found = filesMatching(folder, glob, (place) => [
      ...(this.folders.get(this.nameOf(place))?.values() ?? []),
    ]);
    const whole = found
      .flatMap((file) => [file, reviewFileOf(file)])
      .map((file) => this.nameOf(path.join(folder, file)));
    this.fetch(whole);
    return found;
  }
}
