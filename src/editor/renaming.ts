import { ErrorCodes, ResponseError, type Range } from 'vscode-languageserver/node';
import { printPath } from '../core/path/path.js';
import { codeOf } from '../core/rules/form.js';
import { VOCABULARY } from '../core/rules/vocabulary.js';
import { Edits } from '../workspace/editing/edits.js';
import { renameField, renameForm, renameRule } from '../workspace/editing/rename.js';
import type { Cursor } from './session.js';
import { hereIn, targetAt, type Target } from './target.js';

/** A thing that can be renamed at a place: a form, a field or a rule of the workspace's own. */
type Renamed =
  | { readonly what: 'form'; readonly name: string }
  | { readonly what: 'field'; readonly name: string; readonly form: string | undefined }
  | { readonly what: 'rule'; readonly name: string };

function renamedBy(target: Target, cursor: Cursor, offset: number): Renamed | undefined {
  const here = hereIn(cursor.file, cursor.source.text, offset);
  const last = here?.keys.at(-1);
  switch (target.sort) {
    case 'form':
      return { what: 'form', name: target.form.id };
    case 'field':
      return { what: 'field', name: target.field.path, form: target.form.id };
    case 'path':
      return { what: 'field', name: target.field.path, form: target.catalog.form };
    case 'rule': {
      const code = codeOf(target.use);
      // Within a use its other field may be named.
      if (
        target.use.counterpart &&
        (last === 'field' || here?.at === 'value') &&
        cursor.source.text
          .slice(target.extent.from, target.extent.to)
          .includes(printPath(target.use.counterpart))
      )
        return { what: 'field', name: printPath(target.use.counterpart), form: target.form.id };
      return VOCABULARY.has(code) ? undefined : { what: 'rule', name: code };
    }
    case 'text': {
      const { kind, key } = target.entry.purpose;
      return kind === 'message' && target.offset === undefined && !VOCABULARY.has(key)
        ? { what: 'rule', name: key }
        : undefined;
    }
    case 'kind':
      return undefined;
  }
}

/**
 * Returns the thing to rename at a place, and where its name stands; nothing where the name is
 * fixed.
 */
export function renameableAt(
  cursor: Cursor,
  offset: number,
): { readonly range: Range; readonly placeholder: string } | undefined {
  const target = targetAt(cursor, offset);
  const renamed = target && renamedBy(target, cursor, offset);
  if (!renamed) return undefined;
  const { from, to } = target.extent;
  const quoted = /["']/.test(cursor.source.text[from] ?? '') ? 1 : 0;
  return {
    range: cursor.source.range({ from: from + quoted, to: to - quoted }),
    placeholder: renamed.name,
  };
}

/**
 * Renames what stands at a place, in all files: rule sheets, catalogs of all languages, reviews.
 * @throws {Complaint} when the name is none, or is there already
 */
export function renameAt(cursor: Cursor, offset: number, to: string): Edits {
  const target = targetAt(cursor, offset);
  const renamed = target && renamedBy(target, cursor, offset);
  if (!renamed)
    throw new ResponseError(
      ErrorCodes.InvalidRequest,
      'this has a name that everybody knows it by, and keeps it',
    );
  const { workspace } = cursor;
  const edits = new Edits(workspace);
  switch (renamed.what) {
    case 'form':
      renameForm(workspace, edits, renamed.name, to);
      break;
    case 'rule':
      renameRule(workspace, edits, renamed.name, to);
      break;
    case 'field':
      renameField(workspace, edits, renamed.name, to, renamed.form);
  }
  return edits;
}
