import { getOrMake } from '../core/base/get-or-make.js';
import path from 'node:path';
import { checkAlone } from '../core/check/check.js';
import type { Context } from '../core/check/subject/context.js';
import { KINDS } from '../core/check/kinds.js';
import type { CheckResult } from '../core/check/subject/result.js';
import type { Finding } from '../core/finding.js';
import { WorkspaceCheck, type Run } from '../workspace/checking/check-workspace.js';
import { Complaint } from '../workspace/disk/complaint.js';
import { CONFIG_FILE } from '../workspace/disk/find.js';
import { isYaml, readText } from '../workspace/disk/files.js';
import { WorkspaceFolder } from '../workspace/reading/folder.js';
import type { Unsaved } from '../workspace/disk/storage.js';
import { Workspace } from '../workspace/reading/workspace.js';

/** More files than that are not broken at once while somebody edits. */
const MOST_BROKEN = 100;

/** The text of a file; nothing where it cannot be read. */
export function textOnDisk(file: string): string | undefined {
  try {
    return readText(file, file, 'text', 'plain');
  } catch {
    return undefined;
  }
}

/** Findings that a file is enough for. */
const ALONE: ReadonlySet<string> = new Set(
  KINDS.filter(({ alone }) => alone).map(({ kind }) => kind),
);

const LOCALE = /"locale"\s*:\s*"([A-Za-z]{2,8}(?:-[A-Za-z0-9]{1,8})*)"/;

/**
 * One workspace while it is edited. Open files are read in place of the files on disk. A file that
 * cannot be read, for example while a brace is missing, has a finding, and the last readable
 * version counts.
 */
export class Project {
  /** Files that cannot be read, by path. */
  private broken = new Map<string, Complaint>();
  /** The last reading, with stand-ins for what is broken; nothing where there was none yet. */
  private reading: Workspace | undefined;
  /** Names of files that changed since the reading. */
  private readonly unread = new Set<string>();
  /**
   * Names of files that stand-ins were read for: the next reading looks at them as if they had
   * changed.
   */
  private standing: ReadonlySet<string> = new Set();
  /** Files changed since the last check. */
  private readonly unchecked = new Set<string>();
  private mayHaveOthers = false;
  /** Whether the settings could never be read. */
  private isBlind = false;
  private wasTried = false;
  private checked: CheckResult | undefined;
  private checkedOf: Workspace | undefined;
  private readonly checks = new WorkspaceCheck();
  /** Findings of the file that is being typed in, from that file alone. */
  private typed: { readonly file: string; readonly found: readonly Finding[] } | undefined;

  constructor(
    readonly folder: string,
    /** Open files, by path; the same object while they change. */
    private readonly unsaved: Unsaved,
  ) {}

  /** The name of a file in the workspace. */
  nameOf(file: string): string {
    return path.relative(this.folder, file).split(path.sep).join('/');
  }

  pathOf(name: string): string {
    return path.join(this.folder, name);
  }

  /**
   * Whether a change of a file may matter: it lies in the workspace, or the workspace reads it from
   * elsewhere.
   */
  concerns(file: string): boolean {
    const name = this.nameOf(file);
    if (!name.startsWith('../') && !path.isAbsolute(name)) return true;
    return this.reading?.catalogFiles.files.some((one) => one.file === name) ?? false;
  }

  /** Takes note of a change. @param others whether files may have come or gone */
  change(file: string, others = false): void {
    const name = this.nameOf(file);
    this.unread.add(name);
    this.unchecked.add(name);
    if (others) this.mayHaveOthers = true;
  }

  /**
   * Takes note of files that are not on disk as they were read, that came, or that went.
   * @returns whether there are any
   */
  lookAgain(): boolean {
    const { reading } = this;
    if (!reading) return false;
    const before = this.unread.size;
    for (const [name, text] of reading.sources) {
      const file = this.pathOf(name);
      const now = this.unsaved.has(file) ? text : textOnDisk(file);
      if (now !== undefined && now !== text) this.change(file);
    }
    for (const name of this.comeOrGone(reading)) this.change(this.pathOf(name), true);
    return this.unread.size > before;
  }

  /** The files of rules and texts that are there now and were not, or were there and are not. */
  private comeOrGone({ config, sources }: Workspace): string[] {
    const globs = [...config.rules, ...config.texts];
    try {
      const there = WorkspaceFolder.openFolder(this.folder, this.folder, this.unsaved).files(globs);
      const read = this.reading?.files(globs) ?? [];
      return [
        ...there.filter((name) => !sources.has(name)),
        ...read.filter((name) => !there.includes(name)),
      ];
    } catch (error) {
      // A folder that can no longer be opened is reported when it is read.
      if (!(error instanceof Complaint)) throw error;
      return [CONFIG_FILE];
    }
  }

  /** The complaint of each file that cannot be read, by path. */
  get complaints(): ReadonlyMap<string, Complaint> {
    return this.broken;
  }

  /** The workspace as it is now; nothing as long as it could never be read. */
  current(): Workspace | undefined {
    if (this.wasTried && this.unread.size === 0) return this.reading;
    this.wasTried = true;
    this.broken = new Map();
    const texts = new Map(this.unsaved);
    const changed = new Set([...this.unread, ...this.standing]);
    this.unread.clear();
    let isRead = false;
    while (!isRead && this.broken.size < MOST_BROKEN) {
      try {
        this.reading = this.read(texts, changed);
        this.mayHaveOthers = false;
        isRead = true;
      } catch (error) {
        if (!(error instanceof Complaint)) throw error;
        if (!this.standIn(error, texts, changed)) break;
      }
    }
    if (!this.broken.has(this.pathOf(CONFIG_FILE))) this.isBlind = false;
    this.standing = isRead
      ? new Set(Array.from(this.broken.keys(), (file) => this.nameOf(file)))
      : changed;
    for (const name of this.standing) this.unchecked.add(name);
    return this.reading;
  }

  private read(unsaved: Unsaved, changed: ReadonlySet<string>): Workspace {
    const read = this.reading
      ? this.reading.reopen({ changed, sameFiles: !this.mayHaveOthers, unsaved })
      : Workspace.open(this.folder, this.folder, unsaved);
    read.readAll();
    // Forms are made when they are asked for, and may have to complain too.
    Array.from(read.forms.values());
    return read;
  }

  /**
   * Replaces broken files by their last readable version, or by an empty one; returns whether that
   * is possible.
   */
  private standIn(trouble: Complaint, texts: Map<string, string>, changed: Set<string>): boolean {
    const file = path.resolve(this.folder, trouble.location?.file ?? CONFIG_FILE);
    const isKnown = this.broken.has(file);
    this.broken.set(file, trouble);
    const name = this.nameOf(file);
    const text =
      isKnown || trouble.location === undefined
        ? undefined
        : (this.reading?.sources.get(name) ?? this.emptied(name));
    if (text === undefined) return false;
    if (name === CONFIG_FILE && !this.reading) this.isBlind = true;
    texts.set(file, text);
    changed.add(name);
    return true;
  }

  /** A file of the same sort that says nothing. */
  private emptied(name: string): string | undefined {
    // With other settings than are meant nothing can be found, but much can be offered.
    if (name === CONFIG_FILE) return 'original: en\n';
    try {
      const opened = WorkspaceFolder.openFolder(this.folder, this.folder, this.unsaved);
      if (!opened.files(opened.config.texts).includes(name))
        return isYaml(name) ? 'forms: {}\n' : '{ "forms": {} }\n';
      const text = this.unsaved.get(this.pathOf(name)) ?? '';
      return JSON.stringify({ locale: LOCALE.exec(text)?.[1] ?? opened.config.original });
    } catch {
      return undefined;
    }
  }

  /** The result of the last check; nothing before the first. */
  get result(): CheckResult | undefined {
    return this.checked;
  }

  /**
   * Checks the workspace, unless nothing changed since the last check.
   * @param run goes through the steps; where it throws, the check before holds
   */
  async check(run?: Run): Promise<void> {
    const read = this.current();
    if (!read || (this.checked && this.unchecked.size === 0 && this.checkedOf === read)) return;
    const changed = new Set(this.unchecked);
    this.checked = await this.checks.next(read, this.checkedOf ? changed : undefined, run);
    for (const name of changed) this.unchecked.delete(name);
    this.checkedOf = read;
    this.typed = undefined;
  }

  /** Checks an open file as far as that is possible without other files. */
  checkAlone(file: string): void {
    const workspace = this.current();
    const name = this.nameOf(file);
    const catalog = workspace?.table.catalogs.find((one) => one.file === name);
    if (!workspace || !catalog) return;
    const found = checkAlone(this.contextOf(workspace), catalog, {
      settings: workspace.config.checks,
    });
    this.typed = { file, found };
  }

  /** Returns the links between rules and texts of a reading. */
  contextOf(workspace: Workspace): Context {
    return this.checks.contextFor(workspace);
  }

  /**
   * Returns the findings of a file: those of the last check, but those that the typed text alone
   * decides are computed anew.
   */
  private findingsOf(file: string, findings: readonly Finding[]): readonly Finding[] {
    const { typed } = this;
    if (typed?.file !== file) return findings;
    return [...findings.filter(({ kind }) => !ALONE.has(kind)), ...typed.found];
  }

  /** The findings by the path of their file; of what is broken, the findings are none. */
  findings(): ReadonlyMap<string, readonly Finding[]> {
    const byFile = new Map<string, Finding[]>();
    if (this.isBlind) return byFile;
    if (this.typed) byFile.set(this.typed.file, []);
    for (const finding of this.checked?.findings ?? []) {
      const file = this.pathOf(finding.spot?.file ?? CONFIG_FILE);
      getOrMake(byFile, file, () => []).push(finding);
    }
    return new Map(
      [...byFile].flatMap(([file, findings]) =>
        this.broken.has(file) ? [] : [[file, this.findingsOf(file, findings)]],
      ),
    );
  }
}
