import {
  CodeActionKind,
  type CodeAction,
  type Diagnostic,
  type Range,
  type WorkspaceEdit,
} from 'vscode-languageserver/node';
import type { Finding } from '../core/finding.js';
import { printMessage } from '../core/message/print.js';
import type { Address } from '../core/texts/purpose.js';
import { Complaint } from '../workspace/disk/complaint.js';
import { Edits } from '../workspace/editing/edits.js';
import { FIXABLE, Fixer } from '../workspace/editing/fix.js';
import { renameIn, setIn } from '../workspace/documents/json-text.js';
import { TextEditor } from '../workspace/editing/texts.js';
import { renameYamlKey } from '../workspace/documents/yaml-text.js';
import { isYaml } from '../workspace/disk/files.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { diagnosticOf } from './diagnostics.js';
import { draftAll, draftFor } from './drafting.js';
import { entryAt } from './entries.js';
import type { Cursor } from './session.js';
import { targetAt, type TextTarget } from './target.js';

/** Makes what a client applies out of edits that were gathered. */
export type ToEdit = (edits: Edits) => WorkspaceEdit;

/** A finding at a place, and its diagnostic. */
export interface Reported {
  readonly finding: Finding;
  readonly diagnostic: Diagnostic;
}

const isAt = ({ start, end }: Range, range: Range): boolean =>
  (start.line < range.end.line ||
    (start.line === range.end.line && start.character <= range.end.character)) &&
  (end.line > range.start.line ||
    (end.line === range.start.line && end.character >= range.start.character));

/** The findings of a file whose diagnostics stand within a range. */
export function toldAt(
  { project, workspace, file, source, places }: Cursor,
  range: Range,
): Reported[] {
  const findings = project.findings().get(project.pathOf(file)) ?? [];
  return findings.flatMap((finding) => {
    const diagnostic = diagnosticOf(finding, workspace, places, source);
    return isAt(diagnostic.range, range) ? [{ finding, diagnostic }] : [];
  });
}

/**
 * More findings at one place, or in a file that is not asked to be mended whole, are not gone
 * through each time somebody looks.
 */
const MOST_AT_ONCE = 40;

const FIXABLE_KINDS: ReadonlySet<string> = new Set(FIXABLE);

/**
 * The edits that `fix` would make for some findings; nothing where it makes none.
 * @param removes whether wording may go: where somebody chose this one finding
 */
function fixed(
  findings: readonly Finding[],
  workspace: Workspace,
  removes: boolean,
): { readonly edits: Edits; readonly what: readonly string[] } | undefined {
  const edits = new Edits(workspace);
  const fixer = new Fixer(workspace, edits, removes);
  fixer.findings(findings, FIXABLE_KINDS);
  return fixer.mended.length === 0
    ? undefined
    : { edits, what: fixer.mended.map(({ what }) => what) };
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Writes the name that a finding asks about, where it asks "did you mean". */
function renamed(
  { kind, spot, message }: Finding,
  workspace: Workspace,
): { readonly edits: Edits; readonly near: string } | undefined {
  const near = /did you mean "(.*?)"\?/i.exec(message)?.[1];
  if (!spot || near === undefined) return undefined;
  const edits = new Edits(workspace);
  if (kind === 'unknown-argument') {
    const entry = entryAt(workspace, spot.file, spot.keys);
    const wrong = /\{([^}]*)\}/.exec(message)?.[1];
    if (!entry || wrong === undefined) return undefined;
    const text = entry.text.replaceAll(
      new RegExp(`\\{(\\s*)${wrong.replace(/[^\w]/g, '\\$&')}(?=\\s*[,}])`, 'g'),
      `{$1${near}`,
    );
    edits.change(spot.file, (before) => setIn(before, entry.origin.keys, text));
    return { edits, near };
  }
  if (
    spot.at !== 'key' ||
    !['unknown-rule', 'wrong-structure', 'unknown-problem', 'unused-excuse'].includes(kind)
  )
    return undefined;
  edits.change(spot.file, (before) =>
    isYaml(spot.file) ? renameYamlKey(before, spot.keys, near) : renameIn(before, spot.keys, near),
  );
  return { edits, near };
}

function ofFinding(
  { finding, diagnostic }: Reported,
  workspace: Workspace,
  toEdit: ToEdit,
): CodeAction[] {
  const found: CodeAction[] = [];
  const offer = (title: string, edits: Edits, isPreferred: boolean): void => {
    found.push({
      title,
      kind: CodeActionKind.QuickFix,
      diagnostics: [diagnostic],
      edit: toEdit(edits),
      isPreferred,
    });
  };
  const mended = FIXABLE_KINDS.has(finding.kind) ? fixed([finding], workspace, true) : undefined;
  if (mended) offer(`Mend: ${mended.what.join('; ')}`, mended.edits, true);
  const other = renamed(finding, workspace);
  if (other) offer(`Write "${other.near}"`, other.edits, true);
  const draft = draftFor(finding, workspace);
  if (draft)
    offer(
      `Draft the text in ${finding.locale ?? ''}, from ${draft.from}`,
      draftAll([finding], workspace),
      !mended,
    );
  return found;
}

/** A field's own text as the one for all fields, in all languages that have it. */
function extracted({ entry }: TextTarget, workspace: Workspace): Edits | undefined {
  const { purpose } = entry;
  const { table, config } = workspace;
  if (purpose.kind !== 'message' || !purpose.field) return undefined;
  const general: Address = { kind: 'message', form: purpose.form, key: purpose.key };
  const own = config.locales.flatMap((locale) => table.cell(locale, purpose) ?? []);
  // What stands there already would be lost.
  if (own.some(({ locale }) => table.at(locale, general))) return undefined;
  const edits = new Edits(workspace);
  const editor = new TextEditor(workspace, edits);
  for (const text of own) {
    const { inline } = text.details;
    editor.unset(text.file, {
      kind: 'message',
      form: purpose.form,
      path: purpose.path,
      key: purpose.key,
    });
    editor.set(text.file, general, text.text, {
      note: text.details.note,
      room: text.details.room,
    });
    if (inline) editor.set(text.file, { ...general, kind: 'inline' }, inline.text);
  }
  return edits;
}

function ofText(target: TextTarget, workspace: Workspace, toEdit: ToEdit): CodeAction[] {
  const { entry } = target;
  const actions: CodeAction[] = [];
  const tidy = entry.error ? entry.text : printMessage(entry.tree);
  if (tidy !== entry.text) {
    const edits = new Edits(workspace);
    edits.change(entry.file, (text) => setIn(text, entry.origin.keys, tidy));
    actions.push({
      title: 'Lay out this message',
      kind: CodeActionKind.RefactorRewrite,
      edit: toEdit(edits),
    });
  }
  const general = extracted(target, workspace);
  if (general)
    actions.push({
      title: `Make this the text of "${entry.purpose.key}" for all fields`,
      kind: CodeActionKind.RefactorExtract,
      edit: toEdit(general),
    });
  return actions;
}

/** Returns the code actions at a place. One action that fails does not remove the others. */
export function actionsAt(
  cursor: Cursor,
  range: Range,
  only: readonly string[] | undefined,
  toEdit: ToEdit,
): CodeAction[] {
  const { workspace, source, project, file } = cursor;
  const wants = (kind: string): boolean =>
    only === undefined || only.some((one) => kind === one || kind.startsWith(`${one}.`));
  const reported = toldAt(cursor, range).slice(0, MOST_AT_ONCE);
  const inFile = project.findings().get(project.pathOf(file)) ?? [];
  const attempt = (make: () => CodeAction[]): CodeAction[] => {
    try {
      return make();
    } catch (error) {
      if (error instanceof Complaint || (error instanceof Error && 'code' in error)) return [];
      throw error;
    }
  };
  const target = targetAt(cursor, source.offset(range.start));
  const all = (): CodeAction[] => {
    if (only === undefined && inFile.length > MOST_AT_ONCE) return [];
    const mended = fixed(inFile, workspace, false);
    return mended
      ? [
          {
            title: capital(`mend all that is mechanical in this file`),
            kind: CodeActionKind.SourceFixAll,
            edit: toEdit(mended.edits),
          },
        ]
      : [];
  };
  return [
    ...(wants(CodeActionKind.QuickFix)
      ? reported.flatMap((one) => attempt(() => ofFinding(one, workspace, toEdit)))
      : []),
    ...(wants(CodeActionKind.Refactor) && target?.sort === 'text'
      ? attempt(() => ofText(target, workspace, toEdit))
      : []),
    ...(wants(CodeActionKind.SourceFixAll) ? attempt(all) : []),
  ].filter(({ kind = '' }) => wants(kind));
}
