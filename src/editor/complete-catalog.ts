import { rowsOf, type Row } from '../core/check/subject/context.js';
import { KINDS } from '../core/check/kinds.js';
import { printPath } from '../core/path/path.js';
import { isCoveredBy } from '../core/path/cover.js';
import { FORMAT_NAMES } from '../core/rules/format-names.js';
import type { Form } from '../core/rules/form.js';
import { TYPE_NAMES } from '../core/rules/types.js';
import { VOCABULARY } from '../core/rules/vocabulary.js';
import { speaksOf } from '../core/texts/form-set.js';
import type { Catalog } from '../core/texts/catalog.js';
import { FRAMES, WORD_GROUPS, type Address } from '../core/texts/purpose.js';
import {
  CATALOG_KEYS,
  FIELD_KEYS,
  MESSAGE_KEYS,
  PROBLEM_KEYS,
  TEXT_KEYS,
} from '../core/texts/read.js';
import { patternOf } from '../workspace/reading/address.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import type { KeyCursor } from './yaml-cursor.js';
import { Sort, type Offer } from './complete-items.js';
import { keyed } from '../core/base/keyed.js';

/** How the value behind a member is begun. */
const TEXT = ': "$1"';
const OBJECT = ': {$1\\}';

/** The value snippets of the members of a catalog. */
const VALUES: Readonly<Record<string, string>> = keyed({
  locale: TEXT,
  form: TEXT,
  $schema: TEXT,
  text: TEXT,
  note: TEXT,
  inline: TEXT,
  title: TEXT,
  detail: TEXT,
  label: TEXT,
  room: ': $1',
  messages: OBJECT,
  fields: OBJECT,
  frames: OBJECT,
  words: OBJECT,
  problems: OBJECT,
  choices: OBJECT,
  excused: OBJECT,
});

export interface CatalogOffers {
  readonly offers: readonly Offer[];
  /** Returns the snippet that follows a name without a value. */
  readonly value: (name: string) => string;
}

const named = (names: readonly string[], kind: Offer['kind'] = Sort.Property): Offer[] =>
  names.map((name) => ({ name, kind }));

/** The forms that a catalog speaks of. */
function formsOf({ form: of }: Catalog, workspace: Workspace): Form[] {
  return [...workspace.forms.values()].flatMap(({ form }) =>
    of === undefined || speaksOf(of, form.id) ? [form] : [],
  );
}

/** The rules that messages of a field's entry are for. */
export function rowsAt(catalog: Catalog, path: string, workspace: Workspace): Row[] {
  const pattern = patternOf(path);
  if (!pattern) return [];
  return rowsOf(formsOf(catalog, workspace)).filter(
    ({ field }) =>
      isCoveredBy(pattern, field.pattern) || printPath(field.pattern) === printPath(pattern),
  );
}

/** The keys of rules, those first that have no text of their own in this language. */
function ruleKeys(
  rows: readonly Row[],
  catalog: Catalog,
  workspace: Workspace,
  path?: string,
): Offer[] {
  const column = workspace.table.column(catalog.locale);
  const offers = new Map<string, Offer>();
  for (const row of rows)
    for (const key of row.keys) {
      if (offers.has(key)) continue;
      const purpose = workspace.table.purposes.find({
        kind: 'message',
        form: catalog.form,
        path,
        key,
      });
      const has = purpose !== undefined && column.cells[purpose.id] !== undefined;
      offers.set(key, {
        name: key,
        kind: Sort.Property,
        rank: has ? 6 : 2,
        detail: has ? 'has a text' : 'has no text here yet',
        about: VOCABULARY.has(key)
          ? { sort: 'rule', of: key }
          : { sort: 'words', of: `A rule of ${row.field.path || 'the body'} (${row.form.id}).` },
      });
    }
  return [...offers.values()];
}

function fieldPaths(catalog: Catalog, workspace: Workspace): Offer[] {
  const offers = new Map<string, Offer>();
  for (const form of formsOf(catalog, workspace))
    for (const { pattern, uses } of form.fields) {
      if (uses.length === 0) continue;
      for (let length = 1; length <= pattern.length; length++) {
        const path = printPath(pattern.slice(0, length));
        if (offers.has(path)) continue;
        const label = workspace.texts.label(form.id, pattern.slice(0, length), catalog.locale);
        const has = label !== undefined && workspace.texts.serves(label.locale, catalog.locale);
        offers.set(path, {
          name: path,
          kind: Sort.Field,
          rank: has ? 6 : 2,
          detail: has ? label.text : 'has no label here yet',
        });
      }
    }
  return [...offers.values()];
}

function choicesAt(catalog: Catalog, path: string, workspace: Workspace): Offer[] {
  const values = rowsAt(catalog, path, workspace).flatMap(({ use }) =>
    Array.isArray(use.params.choices) ? (use.params.choices as unknown[]) : [],
  );
  return named(
    [
      ...new Set(
        values.map((value) => (typeof value === 'string' ? value : JSON.stringify(value))),
      ),
    ],
    Sort.EnumMember,
  );
}

/** The inflections that labels of a language have. */
function inflectionsIn({ locale }: Catalog, { table }: Workspace): string[] {
  const found = table
    .catalogsOf(locale)
    .flatMap(({ texts }) => texts.flatMap(({ inflections: forms }) => [...forms.keys()]));
  return [...new Set(found)];
}

const kinds = (): Offer[] =>
  KINDS.map(({ kind, about }) => ({
    name: kind,
    kind: Sort.EnumMember,
    detail: about,
    about: { sort: 'kind', of: kind },
  }));

/** Returns the member names that can be typed here. */
function keyOffers({ keys }: KeyCursor, catalog: Catalog, workspace: Workspace): readonly Offer[] {
  const [section, first, second, third] = keys.map(String);
  const innermost = keys.at(-1);
  if (innermost === 'excused') return kinds();
  switch (section) {
    case undefined:
      return named(CATALOG_KEYS);
    case 'messages':
      return first === undefined
        ? ruleKeys(rowsOf(formsOf(catalog, workspace)), catalog, workspace)
        : named(MESSAGE_KEYS);
    case 'fields':
      if (first === undefined) return fieldPaths(catalog, workspace);
      if (second === undefined) return named(FIELD_KEYS);
      if (second === 'label')
        return named([...TEXT_KEYS, 'gender', ...inflectionsIn(catalog, workspace)]);
      if (third !== undefined) return named(second === 'messages' ? MESSAGE_KEYS : TEXT_KEYS);
      return second === 'choices'
        ? choicesAt(catalog, first, workspace)
        : ruleKeys(rowsAt(catalog, first, workspace), catalog, workspace, first);
    case 'frames':
      return first === undefined ? named(Object.keys(FRAMES)) : named(TEXT_KEYS);
    case 'words':
      if (first === undefined) return named(WORD_GROUPS);
      return second === undefined
        ? named(first === 'type' ? [...TYPE_NAMES, 'file'] : [...FORMAT_NAMES, 'other'])
        : named(TEXT_KEYS);
    case 'problems':
      if (first === undefined) return named([...workspace.config.statuses.keys()]);
      return second === undefined ? named(PROBLEM_KEYS) : named(TEXT_KEYS);
    default:
      return [];
  }
}

function valueOffers({ keys }: KeyCursor, workspace: Workspace): readonly Offer[] {
  if (keys[0] === 'locale') return named(workspace.config.locales, Sort.EnumMember);
  if (keys[0] === 'form') return named([...workspace.forms.keys()], Sort.EnumMember);
  return keys.at(-1) === 'gender'
    ? named(['feminine', 'masculine', 'neuter', 'plural', 'common'], Sort.EnumMember)
    : [];
}

/** Returns the completions at a place of a catalog that is not inside of a text. */
export function catalogOffers(
  cursor: KeyCursor,
  catalog: Catalog,
  workspace: Workspace,
): CatalogOffers {
  const { keys, at } = cursor;
  const offers =
    at === 'key' ? keyOffers(cursor, catalog, workspace) : valueOffers(cursor, workspace);
  const ofTexts =
    keys.at(-1) === 'messages' ||
    keys.at(-1) === 'choices' ||
    keys[0] === 'frames' ||
    keys[0] === 'words' ||
    keys.at(-1) === 'excused';
  const holdsObjects = (keys[0] === 'fields' || keys[0] === 'problems') && keys.length === 1;
  return {
    offers,
    value: (name) =>
      holdsObjects || (keys[0] === 'words' && keys.length === 1)
        ? OBJECT
        : ofTexts
          ? TEXT
          : (VALUES[name] ?? TEXT),
  };
}

/**
 * Returns the address of the text that is being typed, from the keys that lead to it; nothing where
 * it is not a text.
 */
export function addressAt(
  keys: readonly (string | number)[],
  catalog: Catalog,
): Address | undefined {
  const [section, first, second, third, fourth] = keys.map(String);
  const { form } = catalog;
  const isText = (rest: string | undefined): boolean => rest === undefined || rest === 'text';
  if (section === undefined || first === undefined) return undefined;
  switch (section) {
    case 'messages':
      if (second === 'inline') return { kind: 'inline', form, key: first };
      return isText(second) ? { kind: 'message', form, key: first } : undefined;
    case 'frames':
      return isText(second) ? { kind: 'frame', key: first } : undefined;
    case 'words':
      return second !== undefined && isText(third)
        ? { kind: 'word', key: `${first} ${second}` }
        : undefined;
    case 'problems':
      return second !== undefined && isText(third) && PROBLEM_KEYS.includes(second)
        ? { kind: 'problem', key: `${first} ${second}` }
        : undefined;
    case 'fields': {
      const pattern = patternOf(first);
      if (!pattern) return undefined;
      const path = printPath(pattern);
      if (second === 'label')
        return third === 'note' || third === 'gender'
          ? undefined
          : { kind: 'label', form, path, key: isText(third) ? '' : (third ?? '') };
      if (third === undefined) return undefined;
      if (second === 'messages' && fourth === 'inline')
        return { kind: 'inline', form, path, key: third };
      if (!isText(fourth)) return undefined;
      return second === 'messages'
        ? { kind: 'message', form, path, key: third }
        : { kind: 'choice', form, path, key: third };
    }
    default:
      return undefined;
  }
}
