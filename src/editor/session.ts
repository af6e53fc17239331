import { existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { globSync } from 'tinyglobby';
import type { Diagnostic } from 'vscode-languageserver/node';
import { TextDocument } from 'vscode-languageserver-textdocument';
import type { Finding } from '../core/finding.js';
import { CONFIG_FILE } from '../workspace/disk/find.js';
import type { Run } from '../workspace/checking/check-workspace.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { complaintOf, diagnosticOf, type Locations } from './diagnostics.js';
import { OpenText, type Counting } from './positions.js';
import { Project, textOnDisk } from './project.js';
import { rowsFor } from './rows.js';

/** Below a folder that somebody opens, workspaces are looked for so deep. */
const DEEPEST = 6;

/** A file that a request is about, with the workspace that it belongs to. */
export interface Cursor {
  readonly project: Project;
  readonly workspace: Workspace;
  /** Its name in the workspace. */
  readonly file: string;
  /** As it is open, or on disk. */
  readonly source: OpenText;
  readonly places: Locations;
}

/** The diagnostics sent for a file, and the findings that they were made from. */
interface Published {
  readonly text: string;
  readonly findings: readonly Finding[];
  readonly diagnostics: readonly Diagnostic[];
  /** The texts of other files that related places are in. */
  readonly beside: ReadonlyMap<string, string | undefined>;
}

const sameKeys = (one: Finding['spot'], other: Finding['spot']): boolean =>
  one === other ||
  (one?.at === other?.at &&
    one?.offset === other?.offset &&
    one?.nth === other?.nth &&
    one?.keys.join('\n') === other?.keys.join('\n'));

/** Whether two findings have the same diagnostic. */
const isAlike = (one: Finding, other: Finding | undefined): boolean =>
  one === other ||
  (one.kind === other?.kind &&
    one.message === other.message &&
    one.severity === other.severity &&
    sameKeys(one.spot, other.spot));

export const pathOfUri = (uri: string): string | undefined => {
  try {
    return uri.startsWith('file:') ? fileURLToPath(uri) : undefined;
  } catch {
    return undefined;
  }
};

/** All that one client has open: its documents, and the workspaces that they belong to. */
export class Session {
  counting: Counting = 'utf-16';
  private readonly documents = new Map<string, TextDocument>();
  /** The address as the client writes it, by path: there are several ways to write one. */
  private readonly uris = new Map<string, string>();
  private readonly unsaved = new Map<string, string>();
  private readonly projects = new Map<string, Project>();
  private readonly published = new Map<Project, Map<string, Published>>();
  private readonly sources = new Map<string, OpenText>();

  get all(): readonly Project[] {
    return [...this.projects.values()];
  }

  uriOf(file: string): string {
    return this.uris.get(file) ?? pathToFileURL(file).href;
  }

  /** Finds the workspaces in a folder that somebody opened. */
  openFolder(folder: string): void {
    const options = {
      cwd: folder,
      ignore: ['**/node_modules/**', '**/.git/**'],
      deep: DEEPEST,
      followSymbolicLinks: false,
    };
    for (const found of globSync([`**/${CONFIG_FILE}`], options))
      this.openProject(path.join(folder, path.dirname(found)));
  }

  closeFolder(folder: string): void {
    for (const project of this.all)
      if (`${project.folder}/`.startsWith(`${folder}/`) && !this.hasOpen(project))
        this.closeProject(project);
  }

  private hasOpen(project: Project): boolean {
    return [...this.documents.keys()].some((file) => project.concerns(file));
  }

  private openProject(folder: string): void {
    if (!this.projects.has(folder)) this.projects.set(folder, new Project(folder, this.unsaved));
  }

  private closeProject(project: Project): void {
    this.projects.delete(project.folder);
  }

  /** Opens the workspace around a file that was opened, if it lies in one. */
  private findProject(file: string): void {
    for (let folder = path.dirname(file); ; folder = path.dirname(folder)) {
      if (existsSync(path.join(folder, CONFIG_FILE))) {
        this.openProject(folder);
        return;
      }
      if (folder === path.dirname(folder)) return;
    }
  }

  private concerned(file: string): Project[] {
    return this.all.filter((project) => project.concerns(file));
  }

  private noteChange(file: string, others = false): void {
    for (const project of this.concerned(file)) project.change(file, others);
  }

  open(uri: string, languageId: string, version: number, text: string): void {
    const file = pathOfUri(uri);
    if (file === undefined) return;
    this.uris.set(file, uri);
    this.set(file, TextDocument.create(uri, languageId, version, text));
    this.findProject(file);
    this.noteChange(file);
  }

  private set(file: string, document: TextDocument): void {
    this.documents.set(file, document);
    this.unsaved.set(file, document.getText());
    this.sources.delete(file);
  }

  /** Takes over changes, one after the other, as the protocol has it. */
  edit(
    uri: string,
    version: number,
    changes: readonly {
      readonly range?: Parameters<OpenText['ownRange']>[0];
      readonly text: string;
    }[],
  ): void {
    const file = pathOfUri(uri);
    let document = file === undefined ? undefined : this.documents.get(file);
    if (file === undefined || !document) return;
    for (const { range, text } of changes) {
      const own = range && new OpenText(document, this.counting).ownRange(range);
      document = TextDocument.update(document, [own ? { range: own, text } : { text }], version);
    }
    this.set(file, document);
    this.noteChange(file);
  }

  close(uri: string): void {
    const file = pathOfUri(uri);
    if (file === undefined) return;
    this.documents.delete(file);
    this.unsaved.delete(file);
    this.sources.delete(file);
    // What was not saved is given up: the file on disk holds again.
    this.noteChange(file);
  }

  /** Looks for changes on disk without an event. @returns whether there are any */
  lookAgain(): boolean {
    return this.all.map((project) => project.lookAgain()).includes(true);
  }

  /** A file changed on disk. @param others whether it came or went */
  changedOnDisk(file: string, others: boolean): void {
    if (path.basename(file) === CONFIG_FILE && others) {
      const folder = path.dirname(file);
      const project = this.projects.get(folder);
      if (!existsSync(file) && project) this.closeProject(project);
      else if (existsSync(file)) this.openProject(folder);
    }
    if (this.documents.has(file) && !others) return;
    this.noteChange(file, others);
  }

  /** The text of a file: as it is open, else as it was read. */
  source(file: string, workspace?: Workspace, name = file): OpenText | undefined {
    const document = this.documents.get(file);
    if (document) return new OpenText(document, this.counting);
    const text = workspace?.sources.get(name) ?? textOnDisk(file);
    if (text === undefined) return undefined;
    const known = this.sources.get(file);
    if (known?.text === text) return known;
    const source = OpenText.of(text, this.counting);
    this.sources.set(file, source);
    return source;
  }

  /** A text that is nowhere open, with positions as the client counts them. */
  sourceOf(text: string): OpenText {
    return OpenText.of(text, this.counting);
  }

  /** The version of a document that is open. */
  versionOf(file: string): number | null {
    return this.documents.get(file)?.version ?? null;
  }

  placesOf(project: Project, workspace: Workspace): Locations {
    return {
      uri: (name) => this.uriOf(project.pathOf(name)),
      source: (name) => this.source(project.pathOf(name), workspace, name),
      rows: (entry) => rowsFor(project, workspace, entry),
    };
  }

  /**
   * Returns the place that a request is about, in the nearest workspace that reads the document.
   */
  placeOf(uri: string): Cursor | undefined {
    const file = pathOfUri(uri);
    if (file === undefined) return undefined;
    const [project] = this.concerned(file).sort(
      (one, other) => other.folder.length - one.folder.length,
    );
    const workspace = project?.current();
    const source = this.source(file);
    if (!project || !workspace || !source) return undefined;
    return {
      project,
      workspace,
      file: project.nameOf(file),
      source,
      places: this.placesOf(project, workspace),
    };
  }

  /** Checks what changed. @param run goes through the steps of a check */
  async check(run?: Run): Promise<void> {
    for (const project of this.all) await project.check(run);
  }

  /** Checks a document that is open alone. */
  checkAlone(uri: string): void {
    const file = pathOfUri(uri);
    if (file !== undefined) for (const project of this.concerned(file)) project.checkAlone(file);
  }

  /**
   * Returns the diagnostics of each file whose diagnostics changed.
   * @param uri of one file alone
   */
  news(uri?: string): Map<string, readonly Diagnostic[]> {
    const touched = new Set<string>();
    const only = uri === undefined ? undefined : pathOfUri(uri);
    for (const project of only === undefined ? this.all : this.concerned(only))
      this.tell(project, touched, only);
    for (const project of [...this.published.keys()]) {
      if (this.projects.get(project.folder) === project) continue;
      for (const file of this.published.get(project)?.keys() ?? []) touched.add(file);
      this.published.delete(project);
    }
    const all = [...this.published.values()];
    return new Map(
      [...touched].map((file) => {
        // Each workspace reports findings of shared files; equal ones are sent once.
        const published = all.flatMap((byFile) => byFile.get(file)?.diagnostics ?? []);
        const distinct = new Map(
          published.map((one) => [JSON.stringify([one.range, one.code, one.message]), one]),
        );
        return [this.uriOf(file), all.length === 1 ? published : [...distinct.values()]];
      }),
    );
  }

  private beside(
    file: string,
    diagnostics: readonly Diagnostic[],
  ): Map<string, string | undefined> {
    const uris = new Set(
      diagnostics.flatMap(({ relatedInformation = [] }) =>
        relatedInformation.map((one) => one.location.uri),
      ),
    );
    const files = [...uris].flatMap((uri) => pathOfUri(uri) ?? []).filter((one) => one !== file);
    return new Map(files.map((one) => [one, this.source(one)?.text]));
  }

  private isAsTold({ findings: before, beside }: Published, findings: readonly Finding[]): boolean {
    return (
      before.length === findings.length &&
      findings.every((one, at) => isAlike(one, before[at])) &&
      [...beside].every(([file, text]) => this.source(file)?.text === text)
    );
  }

  private tell(project: Project, touched: Set<string>, only?: string): void {
    const workspace = project.current();
    const before = this.published.get(project) ?? new Map<string, Published>();
    const now = new Map<string, Published>(only === undefined ? [] : before);
    if (only !== undefined) now.delete(only);
    for (const [file, complaint] of project.complaints) {
      const source = this.source(file) ?? OpenText.of('', this.counting);
      now.set(file, {
        text: source.text,
        findings: [],
        diagnostics: [complaintOf(complaint, source)],
        beside: new Map(),
      });
      touched.add(file);
    }
    if (workspace) {
      const places = this.placesOf(project, workspace);
      for (const [file, findings] of project.findings()) {
        if (only !== undefined && only !== file) continue;
        const source = this.source(file, workspace, project.nameOf(file));
        if (!source) continue;
        const known = before.get(file);
        const { text } = source;
        if (known?.text === text && this.isAsTold(known, findings)) {
          now.set(file, known);
          continue;
        }
        const diagnostics = findings.map((finding) =>
          diagnosticOf(finding, workspace, places, source),
        );
        now.set(file, { text, findings, diagnostics, beside: this.beside(file, diagnostics) });
        touched.add(file);
      }
    }
    for (const file of before.keys()) if (!now.has(file)) touched.add(file);
    this.published.set(project, now);
  }
}
