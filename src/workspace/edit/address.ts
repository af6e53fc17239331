import { fieldEntry, problemEntry, type Catalog, type FieldTexts } from '../../core/catalog/catalog.js';
import type { Entry } from '../../core/catalog/entry.js';
import type { TextKind } from '../../core/catalog/overview.js';
import type { Locale } from '../../core/locale/tag.js';
import { parsePattern, PathSyntaxError, printPath } from '../../core/path/path.js';
import { namesIn } from './json-text.js';

/** Which text of a workspace is meant, wherever it stands. */
export interface Address {
  readonly kind: TextKind;
  /** The one form that it is for; absent where it is for all. */
  readonly form?: string | undefined;
  /** The field's path pattern, of a field's own texts. */
  readonly path?: string | undefined;
  /** The rule's key, the label's grammatical form (empty for the label itself), the value, or the problem and its part. */
  readonly key: string;
}

/** The address of a text as one word, the same for all its translations. */
export const addressId = ({ kind, form, path, key }: Address): string => JSON.stringify([form ?? '', path ?? '', kind, key]);

/** A path in its normal form, or as it is where it is none. */
export function normalPath(path: string): string {
  try {
    return printPath(parsePattern(path));
  } catch (error) {
    if (error instanceof PathSyntaxError) return path;
    throw error;
  }
}

/** How the fields of a catalog's file are spelt there, by their normal form. */
export const speltIn = (text: string): ReadonlyMap<string, string> =>
  new Map(
    namesIn(text, ['fields'])
      .reverse()
      .map((name) => [normalPath(name), name]),
  );

/** The keys that lead to a text in the file of a catalog; a field is found however its path is spelt there. */
export const keysIn = (text: string, address: Address): string[] =>
  keysFor(address, address.path === undefined ? new Map() : speltIn(text));

/** The same, where somebody knows how the fields are spelt. */
export function keysFor({ kind, path, key }: Address, spelling: ReadonlyMap<string, string>): string[] {
  if (kind === 'problem') {
    const [id = '', part = ''] = key.split(' ');
    return ['problems', id, part];
  }
  if (path === undefined) return ['messages', key];
  const spelt = spelling.get(path) ?? path;
  switch (kind) {
    case 'message':
      return ['fields', spelt, 'messages', key];
    case 'choice':
      return ['fields', spelt, 'choices', key];
    case 'label':
      return key === '' ? ['fields', spelt, 'label'] : ['fields', spelt, 'label', key];
  }
}

/** The address of an entry, from the keys that lead to it. */
export function addressOf(entry: Entry, form: string | undefined): Address {
  const keys = entry.origin.keys.map(String);
  if (keys.at(-1) === 'text' && !(keys[0] === 'messages' && keys.length === 2)) keys.pop();
  const [section, name = '', what, key = ''] = keys;
  if (section === 'messages') return { kind: 'message', form, key: name };
  if (section === 'problems') return { kind: 'problem', form, key: `${name} ${what ?? ''}` };
  const kind = what === 'messages' ? 'message' : what === 'choices' ? 'choice' : 'label';
  return { kind, form, path: normalPath(name), key };
}

const fieldsByPath = new WeakMap<Catalog, Map<string, FieldTexts[]>>();

/** The fields of a catalog by path, of each path the last first: what was read last holds. */
function fieldsOf(catalog: Catalog): ReadonlyMap<string, readonly FieldTexts[]> {
  let fields = fieldsByPath.get(catalog);
  if (!fields) {
    fieldsByPath.set(catalog, (fields = new Map<string, FieldTexts[]>()));
    for (const field of catalog.fields) fields.set(field.path, [field, ...(fields.get(field.path) ?? [])]);
  }
  return fields;
}

/** The entry of a catalog that an address names. */
export function entryAt(catalog: Catalog, { kind, path, key }: Address): Entry | undefined {
  if (kind === 'problem') return problemEntry(catalog, key);
  if (path === undefined) return catalog.messages.get(key);
  for (const field of fieldsOf(catalog).get(path) ?? []) {
    const entry = fieldEntry(field, kind, key);
    if (entry) return entry;
  }
  return undefined;
}

/** An address in words, for lists. */
export function addressText({ kind, form, path, key }: Address): string {
  const where = path === undefined ? '' : `${path || 'the body'} `;
  const what = kind === 'label' ? (key === '' ? 'label' : `label ${key}`) : kind === 'choice' ? `choice ${key}` : key;
  return `${form === undefined ? '' : `${form}: `}${where}${what}`;
}

/** The catalogs of a locale and reach, the one that holds the text first. */
export function catalogsFor(catalogs: readonly Catalog[], locale: Locale, address: Address): Catalog[] {
  const own = catalogs.filter((one) => one.locale === locale && one.form === address.form);
  // What was read last holds.
  const holders = own.toReversed().filter((one) => entryAt(one, address));
  return [...holders, ...own.filter((one) => !holders.includes(one))];
}
