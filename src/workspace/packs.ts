import { createHash } from 'node:crypto';
import type { Locale } from '../core/locale/tag.js';
import { packLocale, type Pack } from '../core/pack/pack.js';
import { isObject } from '../core/reading.js';
import { VOCABULARY } from '../core/rules/vocabulary.js';
import { complaint } from './complaint.js';
import { readText } from './files.js';
import { parseJson } from './json.js';
import type { Workspace } from './workspace.js';

const hashOf = (pack: Omit<Pack, 'hash'>): string => createHash('sha256').update(JSON.stringify(pack)).digest('hex');

/** One locale of a workspace with every lookup resolved. The same workspace gives the same pack to the byte. */
export function makePack(workspace: Workspace, locale: Locale): Pack {
  const { texts, answerOptions: options, config } = workspace;
  const forms = [...workspace.forms.values()].map(({ form }) => form);
  const packed = packLocale({ forms, texts, original: config.original, options, rules: [...VOCABULARY.keys()] }, locale);
  const { pack, locale: tag, ...rest } = packed;
  return { pack, locale: tag, hash: hashOf(packed), ...rest };
}

/** A pack as it is written into its file. */
export const packText = (pack: Pack): string => `${JSON.stringify(pack, undefined, 1)}\n`;

/**
 * Reads a pack from a file.
 * @throws {Complaint} when it is none, is of another version, or was changed since it was made
 */
export function readPack(file: string): Pack {
  const root = parseJson(readText(file, file, 'a pack'), file, false);
  if (!isObject(root) || root.pack !== 1 || typeof root.hash !== 'string')
    throw complaint('wrong-content', ['this is no pack of version 1; make it anew with "zeitwort pack"'], { file });
  const { hash, ...rest } = root as unknown as Pack;
  if (hashOf(rest) !== hash)
    throw complaint('wrong-content', ['this pack was changed after it was made; make it anew with "zeitwort pack"'], { file });
  return { ...rest, hash };
}
