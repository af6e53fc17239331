import { spawn, type ChildProcessWithoutNullStreams } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { program } from './program.js';

export interface Position {
  line: number;
  character: number;
}
export interface Range {
  start: Position;
  end: Position;
}
export interface Diagnostic {
  range: Range;
  severity: number;
  code?: string;
  message: string;
  tags?: number[];
  relatedInformation?: { location: { uri: string; range: Range }; message: string }[];
}
export interface TextEdit {
  range: Range;
  newText: string;
}
export interface WorkspaceEdit {
  changes?: Record<string, TextEdit[]>;
  documentChanges?: (
    { textDocument: { uri: string }; edits: TextEdit[] } | { kind: string; uri: string }
  )[];
}

type Answer = { result?: unknown; error?: { message: string; code: number } };

/** Where the lines of a text begin, as the protocol ends them. */
const lineStarts = (text: string): number[] => [
  0,
  ...Array.from(text.matchAll(/\r\n|\r|\n/g), ({ 0: end, index }) => index + end.length),
];

/** Where a text has an offset, in units of UTF-16. */
export function positionIn(text: string, offset: number): Position {
  const starts = lineStarts(text);
  const line = starts.findLastIndex((start) => start <= offset);
  return { line, character: offset - (starts[line] ?? 0) };
}

/** The offset of a position; beyond the text where it is in none of its lines. */
export const offsetIn = (text: string, { line, character }: Position): number =>
  (lineStarts(text)[line] ?? Infinity) + character;

/** A text after edits, which all speak of it as it was. */
export function applied(text: string, edits: TextEdit[]): string {
  return [...edits]
    .sort((one, other) => offsetIn(text, other.range.start) - offsetIn(text, one.range.start))
    .reduce(
      (now, { range, newText }) =>
        now.slice(0, offsetIn(text, range.start)) + newText + now.slice(offsetIn(text, range.end)),
      text,
    );
}

/** The least that speaks the protocol: a process, lengths and JSON. */
export class Editor {
  private readonly process: ChildProcessWithoutNullStreams;
  private buffer = Buffer.alloc(0);
  private id = 0;
  private readonly waiting = new Map<number, (answer: Answer) => void>();
  private readonly watchers = new Set<() => void>();
  readonly diagnostics = new Map<string, Diagnostic[]>();
  /** How often diagnostics came, by address. */
  readonly told: string[] = [];
  readonly texts = new Map<string, string>();
  /** What the server asked for. */
  readonly asked: { method: string; params: unknown }[] = [];
  errors = '';
  /** How many checks the server has told the end of. */
  checks = 0;
  private version = 1;

  get pid(): number {
    return this.process.pid ?? 0;
  }

  constructor(readonly folder: string) {
    this.process = spawn(process.execPath, [program, 'lsp', '--stdio'], { cwd: folder });
    this.process.stdout.on('data', (chunk: Buffer) => {
      this.buffer = Buffer.concat([this.buffer, chunk]);
      this.read();
    });
    this.process.stderr.on('data', (chunk: Buffer) => (this.errors += chunk.toString()));
  }

  private read(): void {
    for (;;) {
      const head = this.buffer.indexOf('\r\n\r\n');
      if (head < 0) return;
      const length = Number(
        /Content-Length: (\d+)/i.exec(this.buffer.subarray(0, head).toString())?.[1],
      );
      if (this.buffer.length < head + 4 + length) return;
      const message = JSON.parse(
        this.buffer.subarray(head + 4, head + 4 + length).toString(),
      ) as Answer & {
        id?: number;
        method?: string;
        params?: { uri: string; diagnostics: Diagnostic[]; edit?: WorkspaceEdit };
      };
      this.buffer = this.buffer.subarray(head + 4 + length);
      this.take(message);
    }
  }

  private take({
    id,
    method,
    params,
    ...answer
  }: Answer & { id?: number; method?: string; params?: unknown }): void {
    if (method === 'textDocument/publishDiagnostics') {
      const { uri, diagnostics } = params as { uri: string; diagnostics: Diagnostic[] };
      this.diagnostics.set(uri, diagnostics);
      this.told.push(uri);
    } else if (method !== undefined && id !== undefined) {
      if (method === 'workspace/codeLens/refresh') this.checks += 1;
      else this.asked.push({ method, params });
      this.send({ id, result: method === 'workspace/applyEdit' ? { applied: true } : null });
    } else if (id !== undefined) {
      this.waiting.get(id)?.(answer);
      this.waiting.delete(id);
    }
    for (const watcher of [...this.watchers]) watcher();
  }

  private send(message: object): void {
    if (this.process.killed) return;
    const body = JSON.stringify({ jsonrpc: '2.0', ...message });
    this.process.stdin.write(`Content-Length: ${Buffer.byteLength(body)}\r\n\r\n${body}`);
  }

  notify(method: string, params: object): void {
    this.send({ method, params });
  }

  /** Asks, and gives the answer; an error is thrown as one. */
  ask<T>(method: string, params: object): Promise<T> {
    const id = ++this.id;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, ({ result, error }) => {
        if (error) reject(new Error(error.message));
        else resolve(result as T);
      });
      this.send({ id, method, params });
    });
  }

  cancelLast(): void {
    this.notify('$/cancelRequest', { id: this.id });
  }

  async start(
    capabilities: object = {},
    root: string | null = this.folder,
  ): Promise<{ capabilities: Record<string, unknown> }> {
    const uri = root === null ? null : pathToFileURL(root).href;
    const result = await this.ask<{ capabilities: Record<string, unknown> }>('initialize', {
      processId: process.pid,
      rootUri: uri,
      capabilities: {
        ...capabilities,
        workspace: {
          ...('workspace' in capabilities ? (capabilities.workspace as object) : {}),
          codeLens: { refreshSupport: true },
        },
      },
      workspaceFolders: uri === null ? null : [{ uri, name: 'workspace' }],
    });
    this.notify('initialized', {});
    return result;
  }

  uri(file: string): string {
    return pathToFileURL(path.join(this.folder, file)).href;
  }

  open(file: string, text = readFileSync(path.join(this.folder, file), 'utf8')): string {
    const uri = this.uri(file);
    this.texts.set(uri, text);
    this.notify('textDocument/didOpen', {
      textDocument: { uri, languageId: 'json', version: this.version++, text },
    });
    return uri;
  }

  /** Types in place of a part of a document that is open. */
  type(uri: string, from: number, to: number, text: string): void {
    const before = this.texts.get(uri) ?? '';
    this.texts.set(uri, before.slice(0, from) + text + before.slice(to));
    const range = { start: positionIn(before, from), end: positionIn(before, to) };
    this.notify('textDocument/didChange', {
      textDocument: { uri, version: this.version++ },
      contentChanges: [{ range, text }],
    });
  }

  /** Applies what the server made of a request to what is open. */
  apply({ changes = {}, documentChanges = [] }: WorkspaceEdit): string[] {
    const all = new Map(Object.entries(changes));
    for (const change of documentChanges)
      if ('edits' in change) all.set(change.textDocument.uri, change.edits);
    for (const [uri, edits] of all) {
      const text =
        this.texts.get(uri) ?? (existsSync(new URL(uri)) ? readFileSync(new URL(uri), 'utf8') : '');
      const now = applied(text, edits);
      if (this.texts.has(uri)) this.type(uri, 0, text.length, now);
      else this.texts.set(uri, now);
    }
    return [...all.keys()];
  }

  position(uri: string, offset: number): Position {
    return positionIn(this.texts.get(uri) ?? '', offset);
  }

  /** A request about a place: behind a part of the text. */
  at<T>(method: string, uri: string, offset: number, more: object = {}): Promise<T> {
    return this.ask(method, {
      textDocument: { uri },
      position: this.position(uri, offset),
      ...more,
    });
  }

  /** Waits until something holds. */
  async until(holds: () => boolean, what = holds.toString()): Promise<void> {
    if (holds()) return;
    await new Promise<void>((resolve, reject) => {
      const watcher = (): void => {
        if (!holds()) return;
        clearTimeout(timer);
        this.watchers.delete(watcher);
        resolve();
      };
      const timer = setTimeout(() => {
        this.watchers.delete(watcher);
        reject(new Error(`this did not come: ${what}\n${this.errors}`));
      }, 20_000);
      this.watchers.add(watcher);
    });
  }

  /** Waits until the server has checked all that was sent, and told what follows. */
  async settled(): Promise<void> {
    // That files may have changed asks for a check, even where none has.
    this.notify('workspace/didChangeWatchedFiles', { changes: [] });
    await this.ask('workspace/symbol', { query: 'nothing has this name' });
    // Whoever has asked for that is told when lenses are others, which is after each check.
    const before = this.checks;
    await this.until(() => this.checks > before, 'the end of a check');
  }

  async stop(): Promise<number | null> {
    const ended = new Promise<number | null>((resolve) => this.process.once('exit', resolve));
    await this.ask('shutdown', {});
    this.notify('exit', {});
    return ended;
  }

  kill(): void {
    this.process.kill('SIGKILL');
  }
}
