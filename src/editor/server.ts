import path from 'node:path';
import {
  CodeActionKind,
  CodeLensRefreshRequest,
  DidChangeWatchedFilesNotification,
  ErrorCodes,
  FileChangeType,
  ResponseError,
  TextDocumentSyncKind,
  type CancellationToken,
  type Connection,
  type InitializeParams,
  type InitializeResult,
  type Position,
  type WorkDoneProgressReporter,
} from 'vscode-languageserver/node';
import type { Steps } from '../core/check/check.js';
import { Complaint } from '../workspace/disk/complaint.js';
import { abilitiesOf, NOTHING_MORE, type Abilities } from './abilities.js';
import { actionsAt, toldAt, type ToEdit } from './actions.js';
import { DRAFT_COMMAND, hintsIn, lensesIn } from './beside.js';
import { completeAt } from './complete.js';
import { documentationOf } from './complete-items.js';
import { draftAll } from './drafting.js';
import { workspaceEdit } from './edits.js';
import { hoverAt } from './hover.js';
import { locationsAt, symbolsNamed } from './navigation.js';
import { selectionAt } from './selection.js';
import { countingFor } from './positions.js';
import { renameableAt, renameAt } from './renaming.js';
import { pathOfUri, Session, type Cursor } from './session.js';
import { TOKEN_TYPES, semanticTokens } from './tokens.js';

/** Files that may belong to a workspace. */
const WATCHED = '**/*.{json,jsonc,jsonl,yaml,yml,csv}';

/** So long no key may come before all is checked, in milliseconds. */
const PAUSE_MS = 150;
/** So long a check may keep an answer waiting. */
const SLICE_MS = 10;

/** A check that is not wanted any more. */
class GivenUp extends Error {}

/**
 * Goes through steps a few milliseconds at a time.
 * @throws {GivenUp} once they are not wanted any more
 */
async function inSlices<T>(steps: Steps<T>, isUnwanted: () => boolean): Promise<T> {
  for (;;) {
    const since = performance.now();
    while (performance.now() - since < SLICE_MS) {
      const step = steps.next();
      if (step.done) return step.value;
    }
    await new Promise((resolve) => setImmediate(resolve));
    if (isUnwanted()) throw new GivenUp();
  }
}

/** Notices changes on disk where the client does not report them. */
export type Watcher = (
  folders: readonly string[],
  changed: (file: string, others: boolean) => void,
  begun: () => void,
) => void;

/** Answers one client. */
export class EditorServer {
  private readonly session = new Session();
  private can: Abilities = NOTHING_MORE;
  private roots: readonly string[] = [];
  private timer: NodeJS.Timeout | undefined;
  private running = Promise.resolve();
  private isFirst = true;
  /** How many changes there were: a check of what was before the last of them is of no use. */
  private changes = 0;

  constructor(
    private readonly connection: Connection,
    private readonly version: string,
    private readonly watch: Watcher,
  ) {}

  /** Takes requests from now on. */
  listen(): void {
    const { connection, session } = this;
    connection.onInitialize((params) => this.initialize(params));
    connection.onInitialized(() => {
      this.begin().catch((error: unknown) => {
        this.tell(error);
      });
    });
    connection.onDidOpenTextDocument(({ textDocument: { uri, languageId, version, text } }) => {
      session.open(uri, languageId, version, text);
      this.checkSoon();
    });
    connection.onDidChangeTextDocument(({ textDocument: { uri, version }, contentChanges }) => {
      session.edit(
        uri,
        version,
        contentChanges.map((change) =>
          'range' in change ? { range: change.range, text: change.text } : { text: change.text },
        ),
      );
      this.checkTyped(uri);
    });
    connection.onDidCloseTextDocument(({ textDocument: { uri } }) => {
      session.close(uri);
      this.checkSoon();
    });
    connection.onDidChangeWatchedFiles(({ changes }) => {
      for (const { uri, type } of changes) {
        const file = pathOfUri(uri);
        if (file !== undefined) session.changedOnDisk(file, type !== FileChangeType.Changed);
      }
      this.checkSoon();
    });
    // Nothing is asked of a client that has ended its session: the answer would find nobody.
    connection.onShutdown(() => {
      this.giveUp();
    });
    this.answer();
    connection.listen();
  }

  /** Ends a check that runs or waits. */
  private giveUp(): void {
    this.changes += 1;
    clearTimeout(this.timer);
  }

  private initialize(params: InitializeParams): InitializeResult {
    this.can = abilitiesOf(params);
    this.session.counting = countingFor(params.capabilities.general?.positionEncodings);
    // Older clients open one folder, and have another name for it.
    const { rootUri }: { rootUri?: string | null } = params;
    const uris = params.workspaceFolders?.map(({ uri }) => uri) ?? [rootUri ?? ''];
    this.roots = uris.flatMap((uri) => pathOfUri(uri) ?? []);
    return {
      serverInfo: { name: 'zeitwort', version: this.version },
      capabilities: {
        positionEncoding: this.session.counting,
        textDocumentSync: { openClose: true, change: TextDocumentSyncKind.Incremental },
        completionProvider: {
          triggerCharacters: ['"', '{', ',', ' ', ':', '.', '['],
          resolveProvider: true,
        },
        hoverProvider: true,
        definitionProvider: true,
        referencesProvider: true,
        workspaceSymbolProvider: true,
        renameProvider: { prepareProvider: true },
        codeActionProvider: {
          codeActionKinds: [
            CodeActionKind.QuickFix,
            CodeActionKind.RefactorExtract,
            CodeActionKind.RefactorRewrite,
            CodeActionKind.SourceFixAll,
          ],
        },
        codeLensProvider: {},
        inlayHintProvider: true,
        semanticTokensProvider: {
          legend: { tokenTypes: [...TOKEN_TYPES], tokenModifiers: [] },
          full: true,
          range: true,
        },
        selectionRangeProvider: true,
        executeCommandProvider: { commands: [DRAFT_COMMAND] },
        workspace: { workspaceFolders: { supported: true, changeNotifications: true } },
      },
    };
  }

  private async begin(): Promise<void> {
    const { connection, session, can } = this;
    for (const root of this.roots) session.openFolder(root);
    if (can.folders)
      connection.workspace.onDidChangeWorkspaceFolders(({ added, removed }) => {
        for (const { uri } of added) session.openFolder(pathOfUri(uri) ?? '.');
        for (const { uri } of removed) session.closeFolder(pathOfUri(uri) ?? '');
        this.checkSoon();
      });
    this.checkSoon(0);
    // No event reports changes before the watcher started.
    const begun = (): void => {
      if (session.lookAgain()) this.checkSoon();
    };
    const changed = (file: string, others: boolean): void => {
      session.changedOnDisk(file, others);
      this.checkSoon();
    };
    if (!can.watches) this.watch(this.roots, changed, begun);
    else {
      const watchers = [{ globPattern: WATCHED }];
      await connection.client.register(DidChangeWatchedFilesNotification.type, { watchers });
      begun();
    }
  }

  /** Logs errors outside of requests to the client. */
  private tell(error: unknown): void {
    this.connection.console.error(error instanceof Error ? error.message : String(error));
  }

  /** Checks when the keys are still for a moment; a check that runs is given up. */
  private checkSoon(wait = PAUSE_MS): void {
    this.giveUp();
    const { changes } = this;
    this.timer = setTimeout(() => {
      this.running = this.running.then(() => this.checkNow(changes));
    }, wait);
  }

  /** Publishes at once the findings that need one document alone. */
  private checkTyped(uri: string): void {
    this.checkSoon();
    const { changes } = this;
    setImmediate(() => {
      // A later key replaces the diagnostics.
      if (changes !== this.changes) return;
      this.session.checkAlone(uri);
      this.publish(uri).catch((error: unknown) => {
        this.tell(error);
      });
    });
  }

  private async publish(only?: string): Promise<void> {
    const { connection, session } = this;
    for (const [uri, diagnostics] of session.news(only)) {
      const file = pathOfUri(uri);
      const version = file === undefined ? null : session.versionOf(file);
      await connection.sendDiagnostics({
        uri,
        diagnostics: [...diagnostics],
        ...(version === null ? {} : { version }),
      });
    }
  }

  /** Checks what is there after so many changes, unless there were more since. */
  private async checkNow(changes: number): Promise<void> {
    if (changes !== this.changes) return;
    const { connection, session, isFirst } = this;
    let progress: WorkDoneProgressReporter | undefined;
    try {
      if (isFirst && this.can.progress) {
        const made = await connection.window.createWorkDoneProgress();
        made.begin('Zeitwort', undefined, 'checking all texts');
        progress = made;
      }
      await session.check((steps) => inSlices(steps, () => changes !== this.changes));
      this.isFirst = false;
      await this.publish();
      if (this.can.lenses && changes === this.changes)
        await connection.sendRequest(CodeLensRefreshRequest.type);
    } catch (error) {
      // Another check follows.
      if (!(error instanceof GivenUp)) this.tell(error);
    }
    progress?.done();
  }

  /**
   * Returns the place that a request is about, after all changes before it; nothing where no
   * workspace reads the document.
   */
  private async place(uri: string, token: CancellationToken): Promise<Cursor | undefined> {
    // What came with this request may cancel it: whoever typed on has no use for it.
    await new Promise((resolve) => setImmediate(resolve));
    if (token.isCancellationRequested) throw new ResponseError(-32_800, 'cancelled');
    return this.session.placeOf(uri);
  }

  /** Answers where a document belongs to a workspace. A failure becomes a sentence. */
  private async at<T>(
    uri: string,
    token: CancellationToken,
    otherwise: T,
    answer: (cursor: Cursor) => T | Promise<T>,
  ): Promise<T> {
    const place = await this.place(uri, token);
    if (!place) return otherwise;
    try {
      return await answer(place);
    } catch (error) {
      if (error instanceof Complaint)
        throw new ResponseError(ErrorCodes.InvalidRequest, `${error.message}.`);
      throw error;
    }
  }

  private toEdit(cursor: Cursor): ToEdit {
    return (edits) => workspaceEdit(edits, cursor, this.session, this.can);
  }

  private answer(): void {
    const { connection } = this;
    const offsetIn = ({ source }: Cursor, position: Position): number => source.offset(position);
    connection.onCompletion(({ textDocument, position }, token) =>
      this.at(textDocument.uri, token, null, (cursor) =>
        completeAt(cursor, offsetIn(cursor, position), this.can.snippets),
      ),
    );
    connection.onCompletionResolve((item) => {
      const documentation = documentationOf(item.data);
      return documentation ? { ...item, documentation } : item;
    });
    connection.onHover(({ textDocument, position }, token) =>
      this.at(textDocument.uri, token, null, (cursor) => {
        const reported = toldAt(cursor, { start: position, end: position }).map(
          ({ finding }) => finding,
        );
        return hoverAt(cursor, offsetIn(cursor, position), reported) ?? null;
      }),
    );
    connection.onDefinition(({ textDocument, position }, token) =>
      this.at(textDocument.uri, token, [], (cursor) =>
        locationsAt(cursor, offsetIn(cursor, position), 'definition'),
      ),
    );
    connection.onReferences(({ textDocument, position }, token) =>
      this.at(textDocument.uri, token, [], (cursor) =>
        locationsAt(cursor, offsetIn(cursor, position), 'references'),
      ),
    );
    connection.onWorkspaceSymbol(({ query }) =>
      this.session.all.flatMap((project) => {
        const workspace = project.current();
        return workspace
          ? symbolsNamed({ workspace, places: this.session.placesOf(project, workspace) }, query)
          : [];
      }),
    );
    connection.onPrepareRename(({ textDocument, position }, token) =>
      this.at(
        textDocument.uri,
        token,
        null,
        (cursor) => renameableAt(cursor, offsetIn(cursor, position)) ?? null,
      ),
    );
    connection.onRenameRequest(({ textDocument, position, newName }, token) =>
      this.at(textDocument.uri, token, null, (cursor) =>
        this.toEdit(cursor)(renameAt(cursor, offsetIn(cursor, position), newName)),
      ),
    );
    connection.onCodeAction(({ textDocument, range, context }, token) =>
      this.at(textDocument.uri, token, [], (cursor) =>
        actionsAt(cursor, range, context.only, this.toEdit(cursor)),
      ),
    );
    this.answerBeside();
  }

  private answerBeside(): void {
    const { connection } = this;
    connection.onCodeLens(({ textDocument }, token) =>
      this.at(textDocument.uri, token, [], (cursor) =>
        cursor.project.result ? lensesIn(cursor, cursor.project.result) : [],
      ),
    );
    connection.languages.inlayHint.on(({ textDocument, range }, token) =>
      this.at(textDocument.uri, token, [], (cursor) => hintsIn(cursor, range)),
    );
    connection.languages.semanticTokens.on(({ textDocument }, token) =>
      this.at(textDocument.uri, token, { data: [] }, ({ source }) =>
        semanticTokens(source, { from: 0, to: source.text.length }),
      ),
    );
    connection.languages.semanticTokens.onRange(({ textDocument, range }, token) =>
      this.at(textDocument.uri, token, { data: [] }, ({ source }) =>
        semanticTokens(source, { from: source.offset(range.start), to: source.offset(range.end) }),
      ),
    );
    connection.onSelectionRanges(({ textDocument, positions }, token) =>
      this.at(textDocument.uri, token, [], ({ file, source }) =>
        positions.map((position) => selectionAt(file, source, source.offset(position))),
      ),
    );
    connection.onExecuteCommand(({ command, arguments: args = [] }) => this.execute(command, args));
  }

  /** Drafts all that a language of a workspace lacks, and lets the client write it. */
  private async execute(command: string, [folder, locale]: readonly unknown[]): Promise<null> {
    const project = this.session.all.find((one) => one.folder === folder);
    await project?.check();
    const result = project?.result;
    const workspace = project?.current();
    if (command !== DRAFT_COMMAND || !project || !workspace || !result)
      throw new ResponseError(
        ErrorCodes.InvalidParams,
        'there is no such command, or no such workspace',
      );
    const lacking = result.findings.filter((finding) => finding.locale === locale);
    const edits = draftAll(lacking, workspace);
    const places = this.session.placesOf(project, workspace);
    const source = this.session.sourceOf('');
    const cursor: Cursor = {
      project,
      workspace,
      places,
      source,
      file: path.basename(project.folder),
    };
    await this.connection.workspace.applyEdit({
      label: `Drafts in ${String(locale)}`,
      edit: this.toEdit(cursor)(edits),
    });
    return null;
  }
}
