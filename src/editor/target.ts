import { rowsOf, type Row } from '../core/check/subject/context.js';
import type { Origin } from '../core/origin.js';
import type { Field, Form, RuleUse } from '../core/rules/form.js';
import type { Catalog } from '../core/texts/catalog.js';
import type { Entry } from '../core/texts/entry.js';
import type { FieldEntry } from '../core/texts/purpose.js';
import { afterString, unescaped } from '../workspace/documents/json-literal.js';
import { CONFIG_FILE } from '../workspace/disk/find.js';
import { isYaml } from '../workspace/disk/files.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { catalogIn, entryAt } from './entries.js';
import { jsonCursor, jsonKeyAt } from './json-cursor.js';
import type { Extent } from './positions.js';
import type { Cursor } from './session.js';
import { yamlKeysAt } from './yaml-cursor.js';

type Keys = readonly (string | number)[];

/** A text of a catalog. */
export interface TextTarget {
  readonly sort: 'text';
  readonly catalog: Catalog;
  readonly entry: Entry;
  /**
   * Where in the text, in units of UTF-16; nothing where its key is meant, or something beside it.
   */
  readonly offset: number | undefined;
}

/** A rule of a field. */
export interface RuleTarget {
  readonly sort: 'rule';
  readonly form: Form;
  readonly field: Field;
  readonly use: RuleUse;
}

/** A field of a form, in a rule sheet or a schema. */
export interface FieldTarget {
  readonly sort: 'field';
  readonly form: Form;
  readonly field: Field;
}

export interface FormTarget {
  readonly sort: 'form';
  readonly form: Form;
}

/** A field as catalogs name it. */
export interface PathTarget {
  readonly sort: 'path';
  readonly catalog: Catalog;
  readonly field: FieldEntry;
}

/** A kind of finding, where settings or excuses name it. */
export interface KindTarget {
  readonly sort: 'kind';
  readonly name: string;
}

export type Target = (
  TextTarget | RuleTarget | FieldTarget | FormTarget | PathTarget | KindTarget
) & {
  /** The range of the target. */
  readonly extent: Extent;
};

/** The keys that lead to what stands at an offset of a file, and where it stands. */
export interface Here {
  readonly keys: Keys;
  readonly at: 'key' | 'value';
  readonly extent: Extent;
}

export function hereIn(file: string, text: string, offset: number): Here | undefined {
  if (isYaml(file)) return yamlKeysAt(text, offset);
  const name = jsonKeyAt(text, offset);
  const { keys, at, extent } = jsonCursor(text, offset);
  if (at === 'value') return { keys, at, extent };
  return name === undefined ? undefined : { keys: [...keys, name], at, extent };
}

const isIn = (origin: Origin, file: string, keys: Keys): boolean => {
  const { keys: own } = origin;
  return (
    origin.file === file &&
    own.length <= keys.length &&
    own.every((key, at) => String(key) === String(keys[at]))
  );
};

/** The innermost rule, field or form that is declared around a place of a file. */
function declaredAt(
  workspace: Workspace,
  file: string,
  keys: Keys,
): RuleTarget | FieldTarget | FormTarget | undefined {
  let best: RuleTarget | FieldTarget | FormTarget | undefined;
  let depth = -1;
  const offer = (origin: Origin, target: RuleTarget | FieldTarget | FormTarget): void => {
    if (!isIn(origin, file, keys) || origin.keys.length < depth) return;
    depth = origin.keys.length;
    best = target;
  };
  for (const { form } of workspace.forms.values()) {
    offer(form.origin, { sort: 'form', form });
    for (const field of form.fields) {
      offer(field.origin, { sort: 'field', form, field });
      for (const use of field.uses)
        if (!use.implied) offer(use.origin, { sort: 'rule', form, field, use });
    }
  }
  return best;
}

function inCatalog(
  catalog: Catalog,
  workspace: Workspace,
  here: Here,
  source: string,
): Target | undefined {
  const { keys, at, extent } = here;
  const excused = keys.lastIndexOf('excused');
  const name = excused < 0 ? undefined : keys[excused + 1];
  if (typeof name === 'string') return { sort: 'kind', name, extent };
  const entry = entryAt(workspace, catalog.file, keys);
  if (entry) {
    const isText = at === 'value' && entry.origin.keys.length === keys.length;
    const literal = isText ? source.slice(extent.from, afterString(source, extent.from)) : '';
    const offset = literal.startsWith('"') ? 0 : undefined;
    return { sort: 'text', catalog, entry, offset, extent };
  }
  const field =
    keys[0] === 'fields' && keys.length === 2
      ? catalog.fields.find((one) => one.keys[1] === keys[1])
      : undefined;
  if (field) return { sort: 'path', catalog, field, extent };
  const form =
    keys[0] === 'form' && catalog.form !== undefined
      ? workspace.forms.get(catalog.form)?.form
      : undefined;
  return form && { sort: 'form', form, extent };
}

/** Returns the target at an offset of a file. */
export function targetAt({ workspace, file, source }: Cursor, offset: number): Target | undefined {
  const here = hereIn(file, source.text, offset);
  if (!here) return undefined;
  const { extent, keys } = here;
  const catalog = catalogIn(workspace, file);
  if (catalog) {
    const target = inCatalog(catalog, workspace, here, source.text);
    if (target?.sort !== 'text' || target.offset === undefined) return target;
    const { places } = unescaped(source.text.slice(extent.from, extent.to));
    const at = places.findIndex((place) => extent.from + place >= offset);
    return { ...target, offset: at < 0 ? target.entry.text.length : at };
  }
  if (file === CONFIG_FILE)
    return keys[0] === 'checks' && typeof keys[1] === 'string'
      ? { sort: 'kind', name: keys[1], extent }
      : undefined;
  const declared = declaredAt(workspace, file, keys);
  return declared && { ...declared, extent };
}

/** The line of the coverage that a rule is on. */
export function rowOf({ form, field, use }: RuleTarget): Row | undefined {
  return rowsOf([{ ...form, fields: [field] }]).find(
    (row) => row.use.rule === use.rule && row.use.as === use.as,
  );
}
