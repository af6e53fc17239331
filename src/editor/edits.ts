import {
  ResponseError,
  ErrorCodes,
  type CreateFile,
  type DeleteFile,
  type TextDocumentEdit,
  type TextEdit,
  type WorkspaceEdit,
} from 'vscode-languageserver/node';
import { diffLines } from 'diff';
import type { Edits } from '../workspace/editing/edits.js';
import type { OpenText } from './positions.js';
import type { Cursor } from './session.js';
import type { Session } from './session.js';
import { keyed } from '../core/base/keyed.js';

/** The abilities of a client for edits. */
export interface EditAbilities {
  /** Edits of documents with their versions. */
  readonly documentChanges: boolean;
  /** New files, and files that go. */
  readonly resources: boolean;
}

/** The lines that differ between two texts, as edits of the first. */
export function textEdits(before: OpenText, now: string): TextEdit[] {
  const edits: TextEdit[] = [];
  let at = 0;
  let open: { from: number; to: number; text: string } | undefined;
  const close = (): void => {
    if (open) edits.push({ range: before.range(open), newText: open.text });
    open = undefined;
  };
  for (const { value, added, removed } of diffLines(before.text, now)) {
    if (!added && !removed) {
      close();
      at += value.length;
      continue;
    }
    open ??= { from: at, to: at, text: '' };
    if (removed) {
      at += value.length;
      open.to = at;
    } else open.text += value;
  }
  close();
  return edits;
}

/**
 * Edits that were gathered, for a client that makes them in its own buffers, so that it can undo
 * them.
 */
export function workspaceEdit(
  edits: Edits,
  { project, places }: Cursor,
  session: Session,
  can: EditAbilities,
): WorkspaceEdit {
  const changes: Record<string, TextEdit[]> = keyed();
  const steps: (CreateFile | DeleteFile | TextDocumentEdit)[] = [];
  for (const { file, before, now } of edits.changes()) {
    const whole = project.pathOf(file);
    if (project.complaints.has(whole))
      throw new ResponseError(
        ErrorCodes.InvalidRequest,
        `${file} cannot be read as it is; mend it first`,
      );
    const uri = places.uri(file);
    if (before === undefined || now === undefined) {
      if (!can.resources)
        throw new ResponseError(
          ErrorCodes.InvalidRequest,
          `${file} would come or go, and this editor cannot do that; use the command line`,
        );
      if (now === undefined) steps.push({ kind: 'delete', uri });
      else
        steps.push(
          { kind: 'create', uri },
          {
            textDocument: { uri, version: null },
            edits: [
              {
                range: { start: { line: 0, character: 0 }, end: { line: 0, character: 0 } },
                newText: now,
              },
            ],
          },
        );
      continue;
    }
    // The texts of files that are not open begin as they stand on disk, which may have a byte order
    // mark.
    const source = session.source(whole);
    const from = source?.text ?? before.replace(/^\uFEFF/, '');
    const made = textEdits(source ?? session.sourceOf(from), now.replace(/^\uFEFF/, ''));
    if (made.length === 0) continue;
    changes[uri] = made;
    steps.push({ textDocument: { uri, version: session.versionOf(whole) }, edits: made });
  }
  return can.documentChanges ? { documentChanges: steps } : { changes };
}
