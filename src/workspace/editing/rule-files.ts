import { isObject, type LooseObject } from '../../core/reading.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { isYaml } from '../disk/files.js';
import { parseJson } from '../documents/json.js';
import type { Workspace } from '../reading/workspace.js';
import { parseYaml } from '../documents/yaml.js';
import type { Edits } from './edits.js';
import { renameIn, setIn } from '../documents/json-text.js';
import { renameYamlKey, replaceYamlText } from '../documents/yaml-text.js';

export type Keys = readonly (string | number)[];

/** One place in a rule sheet that names something, as a key or as a value. */
export interface SheetLocation {
  readonly file: string;
  readonly keys: Keys;
  readonly at: 'key' | 'value';
  readonly name: string;
  /** The form that it is in. */
  readonly form: string;
  readonly about: 'rule' | 'field' | 'form' | 'member';
  /** Of a member: the path of the object that its name starts from. */
  readonly inside?: string;
}

const PLACES = ['fields', 'query', 'path', 'header'] as const;

/**
 * Fields that a use of a rule names: the key `field`, the value of rules that compare, and the keys
 * of `onlyIf`.
 */
function* namedInUse(
  rule: string,
  use: unknown,
  keys: Keys,
): Generator<Pick<SheetLocation, 'keys' | 'at' | 'name'>> {
  const comparesFields = VOCABULARY.get(rule)?.parameters[0]?.type === 'field';
  if (typeof use === 'string' && comparesFields) yield { keys, at: 'value', name: use };
  if (Array.isArray(use))
    for (const [at, one] of (use as unknown[]).entries())
      yield* namedInUse(rule, one, [...keys, at]);
  if (!isObject(use)) return;
  if (typeof use.field === 'string')
    yield { keys: [...keys, 'field'], at: 'value', name: use.field };
  if (isObject(use.onlyIf))
    for (const path of Object.keys(use.onlyIf))
      yield { keys: [...keys, 'onlyIf', path], at: 'key', name: path };
}

/** The members that a rule names, from the object on that it is of. */
function* membersInUse(
  rule: string,
  use: unknown,
  keys: Keys,
): Generator<Pick<SheetLocation, 'keys' | 'at' | 'name'>> {
  if (VOCABULARY.get(rule)?.parameters[0]?.type !== 'paths') return;
  const list = isObject(use) ? use.members : use;
  const inside = isObject(use) ? [...keys, 'members'] : keys;
  for (const [at, one] of (Array.isArray(list) ? (list as unknown[]) : []).entries())
    if (typeof one === 'string') yield { keys: [...inside, at], at: 'value', name: one };
    else yield* membersInUse(rule, one, [...inside, at]);
}

/** Ids that a field gives to its uses: `as`, and the names of rules of the backend. */
function* idsIn(
  rule: string,
  use: unknown,
  keys: Keys,
): Generator<Pick<SheetLocation, 'keys' | 'at' | 'name'>> {
  if (rule === 'external') {
    for (const id of isObject(use) ? Object.keys(use) : [])
      yield { keys: [...keys, id], at: 'key', name: id };
    return;
  }
  if (Array.isArray(use))
    for (const [at, one] of (use as unknown[]).entries()) yield* idsIn(rule, one, [...keys, at]);
  if (isObject(use) && typeof use.as === 'string')
    yield { keys: [...keys, 'as'], at: 'value', name: use.as };
}

function* placesInForm(file: string, form: string, body: LooseObject): Generator<SheetLocation> {
  for (const section of PLACES) {
    const fields = body[section];
    for (const [path, field] of isObject(fields) ? Object.entries(fields) : []) {
      const keys = ['forms', form, section, path];
      if (section === 'fields') yield { file, keys, at: 'key', name: path, form, about: 'field' };
      for (const [rule, use] of isObject(field) ? Object.entries(field) : []) {
        for (const named of namedInUse(rule, use, [...keys, rule]))
          yield { file, form, about: 'field', ...named };
        for (const named of membersInUse(rule, use, [...keys, rule]))
          yield { file, form, about: 'member', inside: path, ...named };
        for (const named of idsIn(rule, use, [...keys, rule]))
          yield { file, form, about: 'rule', ...named };
      }
    }
  }
}

/**
 * Every place of the rule sheets that names a rule of the workspace's own, a field or a form.
 * Schemas are not ours to rename in.
 */
export function sheetLocations(workspace: Workspace, edits: Edits): SheetLocation[] {
  return workspace.files(workspace.config.rules).flatMap((file) => {
    const text = edits.text(file) ?? '';
    const root = isYaml(file)
      ? parseYaml(text, workspace.shown(file))
      : parseJson(text, workspace.shown(file), true);
    if (!isObject(root) || !isObject(root.forms)) return [];
    return Object.entries(root.forms).flatMap(([form, body]): SheetLocation[] => [
      { file, keys: ['forms', form], at: 'key', name: form, form, about: 'form' },
      ...(isObject(body) ? placesInForm(file, form, body) : []),
    ]);
  });
}

/** Writes another name at a place, whichever of the two formats the sheet is in. */
export function renameAt(
  edits: Edits,
  { file, keys, at }: Pick<SheetLocation, 'file' | 'keys' | 'at'>,
  name: string,
): void {
  edits.change(file, (text) => {
    if (isYaml(file))
      return at === 'key' ? renameYamlKey(text, keys, name) : replaceYamlText(text, keys, name);
    return at === 'key' ? renameIn(text, keys, name) : setIn(text, keys, name);
  });
}
