import { readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterEach } from '@jest/globals';
import { applied, Editor, type TextEdit, type WorkspaceEdit } from './editor.js';
import { zeitwort } from './program.js';

export interface Item {
  label: string;
  detail?: string;
  sortText: string;
  data?: object;
  textEdit: TextEdit;
  documentation?: { value: string };
}
export interface Action {
  title: string;
  kind: string;
  edit: WorkspaceEdit;
}
export interface Place {
  uri: string;
  range: { start: { line: number; character: number } };
}
export interface Findings {
  findings: {
    kind: string;
    file: string;
    line: number;
    column: number;
    message: string;
    severity: string;
  }[];
}

export const CAN = {
  textDocument: { completion: { completionItem: { snippetSupport: true } } },
  workspace: { workspaceEdit: { documentChanges: true, resourceOperations: ['create', 'delete'] } },
};

const editors: Editor[] = [];
afterEach(() => {
  for (const editor of editors.splice(0)) editor.kill();
});

export async function started(
  folder: string,
  capabilities: object = CAN,
  root: string | null = folder,
): Promise<Editor> {
  const editor = new Editor(folder);
  editors.push(editor);
  await editor.start(capabilities, root);
  return editor;
}

export const SEVERITIES = ['', 'error', 'warning', 'info'];

/** Columns in bytes, where the client counts so. */
export const bytesBefore = (line: string, column: number): number =>
  Buffer.byteLength(line.slice(0, column - 1)) + 1;

export function foundBy(folder: string, bytes = false): string[] {
  const { findings } = JSON.parse(
    zeitwort(['check', '--no-cache', '--format', 'json'], folder).out,
  ) as Findings;
  const columnOf = ({ file, line, column }: Findings['findings'][number]): number =>
    bytes
      ? bytesBefore(
          readFileSync(path.join(folder, file), 'utf8').split('\n')[line - 1] ?? '',
          column,
        )
      : column;
  return findings
    .map(
      (one) =>
        `${one.file}:${one.line}:${columnOf(one)} ${one.severity} ${one.kind} ${one.message}`,
    )
    .sort();
}

export const toldBy = ({ diagnostics, folder }: Editor): string[] =>
  [...diagnostics]
    .flatMap(([uri, list]) =>
      list.map(({ range: { start }, severity, code = '', message }) => {
        const file = path.relative(folder, fileURLToPath(uri));
        return `${file}:${start.line + 1}:${start.character + 1} ${SEVERITIES[severity] ?? ''} ${code} ${message}`;
      }),
    )
    .sort();

/** A part of a document that is open: where it begins, and where something in it does. */
export const within = (editor: Editor, uri: string, part: string, inner = 0): number =>
  (editor.texts.get(uri) ?? '').indexOf(part) + inner;

export async function offered(editor: Editor, uri: string, offset: number): Promise<Item[]> {
  return (await editor.at<{ items: Item[] }>('textDocument/completion', uri, offset)).items;
}

/** What a document is once an item was chosen; its places are marked. */
export const chosen = (editor: Editor, uri: string, { textEdit }: Item): string =>
  applied(editor.texts.get(uri) ?? '', [textEdit]);

export async function actionsAt(editor: Editor, uri: string, offset: number): Promise<Action[]> {
  const position = editor.position(uri, offset);
  return editor.ask('textDocument/codeAction', {
    textDocument: { uri },
    range: { start: position, end: position },
    context: { diagnostics: [] },
  });
}
