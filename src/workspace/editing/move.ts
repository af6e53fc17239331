import { SECTIONS } from '../../core/texts/purpose.js';
import type { Catalog } from '../../core/texts/catalog.js';
import type { Locale } from '../../core/locale/tag.js';
import { meet } from '../../core/path/cover.js';
import { startsWith, type Pattern } from '../../core/path/path.js';
import { formsNamed, speaksOf } from '../../core/texts/form-set.js';
import { complaint } from '../disk/complaint.js';
import { reviewFileOf } from '../disk/files.js';
import { Review } from '../reading/review-file.js';
import type { Workspace } from '../reading/workspace.js';
import type { Edits } from './edits.js';
import { namesIn, rawIn, removeIn, setRawIn, valueIn } from '../documents/json-text.js';
import type { TextEditor } from './texts.js';

/** The subject of a move: all texts of one form, or of a field and everything below it. */
export interface MoveRequest {
  readonly form?: string | undefined;
  readonly field?: Pattern | undefined;
  /** The file to move into; `LOCALE` in it stands for each locale. */
  readonly to: string;
  readonly locales: readonly Locale[];
}

/** The members of a catalog's file that are meant, by the keys that lead to them. */
function* membersOf(
  catalog: Catalog,
  text: string,
  field: Pattern | undefined,
): Generator<string[]> {
  if (field) {
    for (const { pattern, keys } of catalog.fields) if (startsWith(pattern, field)) yield [...keys];
    return;
  }
  for (const section of SECTIONS)
    for (const name of namesIn(text, section)) yield [...section, name];
}

/** Moves the lines of the review along with their texts. */
function moveReview(
  workspace: Workspace,
  edits: Edits,
  from: string,
  to: string,
  keys: readonly string[],
): void {
  const source = edits.text(reviewFileOf(from));
  if (source === undefined) return;
  const review = Review.parse(source, workspace.shown(reviewFileOf(from)));
  const target = Review.parse(
    edits.text(reviewFileOf(to)) ?? '',
    workspace.shown(reviewFileOf(to)),
  );
  const moved = review.lines.filter((line) => keys.every((key, at) => line.keys[at] === key));
  for (const line of moved) review.delete(line.keys);
  for (const line of moved) target.add(line);
  edits.put(reviewFileOf(from), review.lines.length === 0 ? undefined : review.toText());
  if (target.lines.length > 0) edits.put(reviewFileOf(to), target.toText());
}

/** Texts that stay, though a moved form uses them. */
export interface Left {
  /** The catalog, as it may be shown. */
  readonly file: string;
  /** The forms that it speaks of; all where absent. */
  readonly forms: readonly string[] | undefined;
  readonly members: number;
}

/** Returns the texts that a form shares with others. */
function leftOf(workspace: Workspace, edits: Edits, { form, field, locales }: MoveRequest): Left[] {
  if (form === undefined) return [];
  const meant = formsNamed(form);
  const patterns = meant.flatMap((id) => workspace.form(id).form.fields.map((one) => one.pattern));
  return locales.flatMap((locale) =>
    workspace.table.catalogsOf(locale).flatMap((catalog): Left[] => {
      if (catalog.form === form || !meant.some((id) => speaksOf(catalog.form, id))) return [];
      const fields = catalog.fields.filter(
        ({ pattern }) =>
          (!field || startsWith(pattern, field)) && patterns.some((one) => meet(one, pattern)),
      );
      // Texts of all forms for a rule are no more this form's than another's.
      const messages =
        field || catalog.form === undefined
          ? 0
          : SECTIONS.filter(([first]) => first !== 'fields').reduce(
              (sum, section) => sum + namesIn(edits.text(catalog.file) ?? '', section).length,
              0,
            );
      const members = fields.length + messages;
      const forms = catalog.form === undefined ? undefined : formsNamed(catalog.form);
      return members === 0 ? [] : [{ file: workspace.shown(catalog.file), forms, members }];
    }),
  );
}

/** The result of a move. */
export interface Moved {
  /** How many members of catalogs were moved. */
  readonly members: number;
  readonly left: readonly Left[];
}

/**
 * Moves texts into another file; a file that is left with none goes.
 * @throws {Complaint} when the file is another locale's, or holds a member of the same name
 */
export function moveTexts(workspace: Workspace, editor: TextEditor, request: MoveRequest): Moved {
  const { form, field, to, locales } = request;
  if (!to.includes('LOCALE') && locales.length > 1)
    throw complaint('wrong-use', [
      `write LOCALE into the name of the file, such as plan/LOCALE.json, or name one language with --locale`,
    ]);
  const { edits } = editor;
  const left = leftOf(workspace, edits, request);
  let moved = 0;
  for (const locale of locales) {
    const sources = workspace.table.catalogsOf(locale).filter((one) => one.form === form);
    const meant = sources.flatMap((catalog) =>
      [...membersOf(catalog, edits.text(catalog.file) ?? '', field)].map((keys) => ({
        catalog,
        keys,
      })),
    );
    if (meant.length === 0) continue;
    const target = editor.fileFor(
      locale,
      { kind: 'message', form, key: '' },
      to.replaceAll('LOCALE', locale),
    );
    for (const { catalog, keys } of meant) {
      if (catalog.file === target) continue;
      const raw = rawIn(edits.text(catalog.file) ?? '', keys);
      if (raw === undefined) continue;
      if (valueIn(edits.text(target) ?? '', keys))
        throw complaint('wrong-use', [
          `${target} has "${keys.at(-1) ?? ''}" already; remove one of the two first`,
        ]);
      edits.change(target, (text) => setRawIn(text, keys, raw));
      edits.change(catalog.file, (text) => removeIn(text, keys, 0));
      moveReview(workspace, edits, catalog.file, target, keys);
      moved++;
    }
    for (const { file } of sources) {
      const left = namesIn(edits.text(file) ?? '', []).filter(
        (name) => !['$schema', 'locale', 'form'].includes(name),
      );
      if (file !== target && left.length === 0) edits.put(file, undefined);
    }
  }
  return { members: moved, left };
}
