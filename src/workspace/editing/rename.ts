import { formsNamed, speaksOf } from '../../core/texts/form-set.js';
import type { Catalog } from '../../core/texts/catalog.js';
import { walk } from '../../core/message/tree.js';
import {
  parsePattern,
  PathSyntaxError,
  printPath,
  samplePath,
  startsWith,
  type Pattern,
} from '../../core/path/path.js';
import { placesOn } from '../../core/path/places.js';
import { isRuleId } from '../../core/path/identifier.js';
import { isObject } from '../../core/reading.js';
import { suggestion } from '../../core/text/closest.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { complaint } from '../disk/complaint.js';
import { reviewFileOf } from '../disk/files.js';
import { CONFIG_FILE } from '../disk/find.js';
import { parseYaml } from '../documents/yaml.js';
import { Review } from '../reading/review-file.js';
import type { Workspace } from '../reading/workspace.js';
import type { Edits } from './edits.js';
import { namesIn, renameIn, setIn, valueIn } from '../documents/json-text.js';
import { renameAt, sheetLocations, type Keys } from './rule-files.js';

/** One place that a renaming touches. */
export interface Touched {
  readonly file: string;
  readonly keys: Keys;
  readonly at: 'key' | 'value';
  readonly becomes: string;
}

/** The result of a renaming, and what it could not reach. */
export interface Renaming {
  readonly touched: readonly Touched[];
  /** Sentences about places that are not ours to change. */
  readonly left: readonly string[];
}

class Renamer {
  readonly touched: Touched[] = [];
  readonly left: string[] = [];
  constructor(
    readonly workspace: Workspace,
    readonly edits: Edits,
  ) {}

  /** Renames a key in a catalog, and in the review beside it. */
  key(file: string, keys: readonly string[], name: string): void {
    const siblings = namesIn(this.edits.text(file) ?? '', keys.slice(0, -1));
    if (siblings.includes(name))
      throw complaint(
        'wrong-use',
        [
          `"${name}" is there already, beside "${keys.at(-1) ?? ''}"; choose another name, or remove one of the two`,
        ],
        {
          ...this.workspace.place({ file, keys: [...keys.slice(0, -1), name], at: 'key' }),
        },
      );
    this.touched.push({ file, keys, at: 'key', becomes: name });
    this.edits.change(file, (text) => renameIn(text, keys, name));
    const beside = reviewFileOf(file);
    const lines = this.edits.text(beside);
    if (lines === undefined) return;
    const review = Review.parse(lines, this.workspace.shown(beside));
    const moved = review.lines.filter((line) => keys.every((key, at) => line.keys[at] === key));
    for (const line of moved) review.delete(line.keys);
    for (const line of moved) {
      review.add({
        ...line,
        keys: [...keys.slice(0, -1), name, ...line.keys.slice(keys.length)],
        was: line.was ?? line.keys,
      });
    }
    this.edits.put(beside, review.toText());
  }

  value(file: string, keys: Keys, value: string): void {
    this.touched.push({ file, keys, at: 'value', becomes: value });
    this.edits.change(file, (text) => setIn(text, keys, value));
  }

  done(what: string, name: string, known: Iterable<string>): Renaming {
    if (this.touched.length === 0)
      throw complaint('wrong-use', [`there is no ${what} "${name}"${suggestion(name, known)}`]);
    return { touched: this.touched, left: this.left };
  }
}

/**
 * Whether a catalog speaks of what other workspaces have too, which a renaming here must not take
 * from them.
 */
const isOthersToo = ({ shared, form }: Catalog, { forms }: Workspace): boolean =>
  shared === true && (form === undefined || formsNamed(form).some((id) => !forms.has(id)));

const staysShared = ({ file }: Catalog, workspace: Workspace): string =>
  `${workspace.shown(file)} is shared with other workspaces: what it says under the old name stays; add the new one there.`;

/**
 * Gives a message key of the workspace's own (`as`, `external`) another name, in sheets and
 * catalogs.
 */
export function renameRule(workspace: Workspace, edits: Edits, from: string, to: string): Renaming {
  if (VOCABULARY.has(from))
    throw complaint('wrong-use', [
      `"${from}" is a rule of the vocabulary and keeps its name; keys of your own (as, external) can be renamed`,
    ]);
  if (VOCABULARY.has(to))
    throw complaint('wrong-use', [`"${to}" is a rule of the vocabulary; choose another name`]);
  if (!isRuleId(to))
    throw complaint('wrong-use', [`"${to}" is not an id; write letters, digits and - _ . : only`]);
  const renamer = new Renamer(workspace, edits);
  const places = sheetLocations(workspace, edits).filter(({ about }) => about === 'rule');
  if (places.some(({ name }) => name === to))
    throw complaint('wrong-use', [`there is a rule "${to}" already; choose another name`]);
  for (const location of places) {
    if (location.name !== from) continue;
    renamer.touched.push({
      file: location.file,
      keys: location.keys,
      at: location.at,
      becomes: to,
    });
    renameAt(edits, location, to);
  }
  for (const catalog of workspace.table.catalogs) {
    const meant = catalog.texts.filter(
      ({ purpose }) => purpose.kind === 'message' && purpose.key === from,
    );
    if (meant.length > 0 && isOthersToo(catalog, workspace))
      renamer.left.push(staysShared(catalog, workspace));
    else for (const { slot } of meant) renamer.key(catalog.file, slot.keys, to);
  }
  return renamer.done('rule', from, new Set(places.map(({ name }) => name)));
}

/** Gives a form another id, in sheets and catalogs. */
export function renameForm(workspace: Workspace, edits: Edits, from: string, to: string): Renaming {
  if (to.trim() === '') throw complaint('wrong-use', ['the new id is empty']);
  if (workspace.forms.get(to))
    throw complaint('wrong-use', [`there is a form "${to}" already; choose another id`]);
  const renamer = new Renamer(workspace, edits);
  for (const location of sheetLocations(workspace, edits)) {
    if (location.about !== 'form' || location.name !== from) continue;
    renamer.touched.push({ file: location.file, keys: location.keys, at: 'key', becomes: to });
    renameAt(edits, location, to);
  }
  const schema = workspace.schemas.get(from);
  if (schema)
    renamer.left.push(
      `The form is declared in ${schema.about.origin.file}, which is not a rule sheet: rename it there too.`,
    );
  for (const { file, form } of workspace.table.catalogs) {
    if (form === from) renamer.value(file, ['form'], to);
    else if (form !== undefined && speaksOf(form, from)) {
      const listed = (nth: number): unknown =>
        valueIn(renamer.edits.text(file) ?? '', ['form', nth])?.value;
      for (let nth = 0; listed(nth) !== undefined; nth++)
        if (listed(nth) === from) renamer.value(file, ['form', nth], to);
    }
  }
  return renamer.done('form', from, workspace.forms.keys());
}

function patternOf(path: string): Pattern {
  try {
    return parsePattern(path);
  } catch (error) {
    throw error instanceof PathSyntaxError
      ? complaint('wrong-use', [`"${path}" is not a path: ${error.message}`])
      : error;
  }
}

const parsed = (path: string): Pattern | undefined => {
  try {
    return parsePattern(path);
  } catch {
    return undefined;
  }
};

/** The arguments that a path's arrays give, by name, with what they are called on another path. */
function argumentsBetween(from: Pattern, to: Pattern): Map<string, string> {
  const after = placesOn(samplePath(to), to);
  return new Map(
    placesOn(samplePath(from), from).flatMap(({ argument }, at) => {
      const becomes = after[at]?.argument;
      return becomes === undefined || becomes === argument ? [] : [[argument, becomes] as const];
    }),
  );
}

/** A message with some arguments called otherwise. */
function withArguments(
  text: string,
  nodes: readonly { start: number; name: string }[],
  names: ReadonlyMap<string, string>,
): string {
  let result = text;
  for (const { start, name } of [...nodes].sort((one, other) => other.start - one.start)) {
    const becomes = names.get(name);
    if (becomes === undefined) continue;
    const at = result.indexOf(name, start);
    result = result.slice(0, at) + becomes + result.slice(at + name.length);
  }
  return result;
}

/**
 * Gives a field, and all below it, another path: in sheets, in catalogs, and in the arguments named
 * after its arrays.
 */
export function renameField(
  workspace: Workspace,
  edits: Edits,
  from: string,
  to: string,
  form?: string,
): Renaming {
  const [old, next] = [patternOf(from), patternOf(to)];
  if (old.length === 0 || next.length === 0)
    throw complaint('wrong-use', ['the whole body has no name to change; name a field']);
  const moved = (path: Pattern): Pattern => [...next, ...path.slice(old.length)];
  const renamer = new Renamer(workspace, edits);
  const forms = [...workspace.forms.values()]
    .map((one) => one.form)
    .filter(({ id }) => form === undefined || id === form);
  const having = forms.filter(({ fields }) =>
    fields.some(({ pattern, in: part }) => part === 'body' && startsWith(pattern, old)),
  );
  for (const { id, fields } of having) {
    if (
      fields.some(({ pattern }) => printPath(pattern) === printPath(next)) &&
      !startsWith(next, old)
    )
      throw complaint('wrong-use', [
        `the form "${id}" has a field at ${printPath(next)} already; choose another path`,
      ]);
    const schema = workspace.schemas.get(id);
    if (schema)
      renamer.left.push(
        `The form "${id}" is declared in ${schema.about.origin.file}, which is not a rule sheet: rename the field there too.`,
      );
  }
  // The innermost first, so that the keys of what is still to come hold.
  const places = sheetLocations(workspace, edits).filter(
    (location) =>
      (location.about === 'field' || location.about === 'member') &&
      (form === undefined || location.form === form),
  );
  for (const location of places.toSorted((one, other) => other.keys.length - one.keys.length)) {
    const base = location.inside === undefined ? [] : parsed(location.inside);
    const path = parsed(location.name);
    // Where the object itself is renamed, its members are called as before.
    if (!path || !base || (base.length > 0 && startsWith(base, old))) continue;
    const whole = [...base, ...path];
    if (!startsWith(whole, old)) continue;
    const next = moved(whole);
    if (!startsWith(next, base)) {
      renamer.left.push(
        `${workspace.shown(location.file)} names the field as a member of ${printPath(base)}, where it is no more: correct the rule.`,
      );
      continue;
    }
    const becomes = printPath(next.slice(base.length));
    renamer.touched.push({ file: location.file, keys: location.keys, at: location.at, becomes });
    renameAt(edits, location, becomes);
  }
  // Settings of checks name fields whatever form they are of.
  if (form === undefined) renameInSettings(renamer, old, moved);
  const elsewhere = [...workspace.forms.values()]
    .filter(
      (one) =>
        !having.includes(one.form) &&
        one.form.fields.some(({ pattern }) => startsWith(pattern, old)),
    )
    .map((one) => one.form.id);
  for (const catalog of workspace.table.catalogs) {
    const { form: of } = catalog;
    const isMeant = of === undefined || having.some(({ id }) => speaksOf(of, id));
    const names = catalog.fields.some(({ pattern }) => startsWith(pattern, old));
    if (isMeant && names && isOthersToo(catalog, workspace))
      renamer.left.push(staysShared(catalog, workspace));
    else if (isMeant && !elsewhere.some((id) => speaksOf(of, id)))
      renameInCatalog(renamer, catalog, old, moved);
    else if (isMeant && names)
      renamer.left.push(
        `${workspace.shown(catalog.file)} speaks of the field in other forms too: its texts stay as they are.`,
      );
  }
  return renamer.done(
    'field',
    from,
    new Set(forms.flatMap(({ fields }) => fields.map(({ path }) => path))),
  );
}

/** Gives the fields that `checks` names in the settings their new paths. */
function renameInSettings(
  { edits, touched, workspace }: Renamer,
  old: Pattern,
  moved: (path: Pattern) => Pattern,
): void {
  const root = parseYaml(edits.text(CONFIG_FILE) ?? '', workspace.shown(CONFIG_FILE));
  const checks = isObject(root) && isObject(root.checks) ? root.checks : {};
  const visit = (value: unknown, keys: Keys): void => {
    if (Array.isArray(value))
      for (const [at, one] of (value as unknown[]).entries()) visit(one, [...keys, at]);
    else if (isObject(value))
      for (const [at, one] of (Array.isArray(value.paths) ? value.paths : []).entries()) {
        const path = parsed(String(one));
        if (!path || !startsWith(path, old)) continue;
        const place = { file: CONFIG_FILE, keys: [...keys, 'paths', at], at: 'value' as const };
        const becomes = printPath(moved(path));
        touched.push({ ...place, becomes });
        renameAt(edits, place, becomes);
      }
  };
  for (const [kind, setting] of Object.entries(checks)) visit(setting, ['checks', kind]);
}

function renameInCatalog(
  renamer: Renamer,
  catalog: Catalog,
  old: Pattern,
  moved: (path: Pattern) => Pattern,
): void {
  for (const field of catalog.fields) {
    if (!startsWith(field.pattern, old)) continue;
    const names = argumentsBetween(field.pattern, moved(field.pattern));
    for (const entry of names.size > 0 ? catalog.texts : []) {
      if (!startsWith(entry.slot.keys, field.keys)) continue;
      const nodes: { start: number; name: string }[] = [];
      walk(entry.tree, (node) => {
        if ('name' in node) nodes.push({ start: node.start, name: node.name });
      });
      const text = withArguments(entry.text, nodes, names);
      if (text !== entry.text) renamer.value(catalog.file, entry.origin.keys, text);
    }
    renamer.key(catalog.file, field.keys, printPath(moved(field.pattern)));
  }
}
