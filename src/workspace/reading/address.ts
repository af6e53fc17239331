import { parsePattern, PathSyntaxError, printPath, type Pattern } from '../../core/path/path.js';
import { keysTo, type Address, type TextKind } from '../../core/texts/purpose.js';
import { namesIn } from '../documents/json-text.js';

/** The pattern that a path stands for; nothing where it is not a path. */
export function patternOf(path: string): Pattern | undefined {
  try {
    return parsePattern(path);
  } catch (error) {
    if (error instanceof PathSyntaxError) return undefined;
    throw error;
  }
}

/** A path in its normal form, or as it is where it is none. */
export function normalPath(path: string): string {
  const pattern = patternOf(path);
  return pattern ? printPath(pattern) : path;
}

/** How the fields of a catalog's file are spelt there, by their normal form. */
export const speltIn = (text: string): ReadonlyMap<string, string> =>
  new Map(
    namesIn(text, ['fields'])
      .reverse()
      .map((name) => [normalPath(name), name]),
  );

/**
 * The keys that lead to a text in the file of a catalog; a field is found however its path is spelt
 * there.
 */
export const keysIn = (text: string, address: Address): string[] =>
  keysFor(address, address.path === undefined ? new Map() : speltIn(text));

/** Returns the keys, with the spelling of the fields known. */
export const keysFor = (
  { kind, path, key }: Address,
  spelling: ReadonlyMap<string, string>,
): string[] => keysTo(kind, key, path === undefined ? undefined : (spelling.get(path) ?? path));

/** An address in words, for lists. */
export function addressText({ kind, form, path, key }: Address): string {
  const where = path === undefined ? '' : `${path || 'the body'} `;
  const what: Partial<Record<TextKind, string>> = {
    label: key === '' ? 'label' : `label ${key}`,
    choice: `choice ${key}`,
    inline: `${key} (inline)`,
    word: `word ${key}`,
    frame: `frame ${key}`,
  };
  return `${form === undefined ? '' : `${form}: `}${where}${what[kind] ?? key}`;
}

const escapedPart = (text: string): string => text.replace(/[\\|]/g, (sign) => `\\${sign}`);

/**
 * Returns the id of a text for other programs: form, path, kind and key, the same in all locales.
 */
export const unitKey = ({ kind, form, path, key }: Address): string =>
  [
    escapedPart(form ?? ''),
    path === undefined ? '-' : path === '-' ? '\\-' : escapedPart(path),
    kind,
    escapedPart(key),
  ].join('|');
