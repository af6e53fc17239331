import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { truncations } from '../../core/locale/chain.js';
import { PARENTS } from '../../core/locale/parents.js';
import type { Locale } from '../../core/locale/tag.js';

/**
 * By locale, the starter catalogs, as the build imports them: the library, which others bundle, has
 * no files of its own.
 */
declare const ZEITWORT_STARTERS: Readonly<Record<string, () => unknown>> | undefined;

// All bundled parts lie side by side in dist/, so whichever of them this ends up in, its folder is
// the same. Where somebody else bundled them there may be no folder at all, so it is looked for
// only when a file is wanted.
const dist = (): string => path.dirname(fileURLToPath(import.meta.url));

/**
 * The text of a starter catalog that ships with the program; nothing where there is none for a
 * locale.
 */
export function starterText(locale: string): string | undefined {
  if (typeof ZEITWORT_STARTERS !== 'undefined') {
    const starter = Object.hasOwn(ZEITWORT_STARTERS, locale)
      ? ZEITWORT_STARTERS[locale]?.()
      : undefined;
    // To the letter as the file is written, so that places in it are the same.
    return starter === undefined ? undefined : `${JSON.stringify(starter, undefined, 2)}\n`;
  }
  const file = path.join(dist(), 'starter', `${locale}.json`);
  return existsSync(file) ? readFileSync(file, 'utf8') : undefined;
}

/** The locales that a starter catalog ships for. */
export function starterTags(): string[] {
  if (typeof ZEITWORT_STARTERS !== 'undefined') return Object.keys(ZEITWORT_STARTERS);
  return readdirSync(path.join(dist(), 'starter')).map((file) => path.basename(file, '.json'));
}

/** The file of the program, or of the library, that runs. */
export const programFile = (): string => fileURLToPath(import.meta.url);

/** The folder of the workspaces that ship with the program. */
export const demoFolder = (): string => path.join(path.dirname(dist()), 'demo');

/**
 * The words that ship for pages: in the language itself, a wider one, or English.
 * @param folder below `words`, where they are not the first of these
 */
export function installedWords(
  asked: Locale,
  folder = '',
): { readonly locale: Locale; readonly words: unknown } {
  const fileOf = (tag: string): string => path.join(dist(), 'words', folder, `${tag}.json`);
  const own = [asked, ...truncations(asked, PARENTS)].find((tag) => existsSync(fileOf(tag)));
  const locale = own ?? ('en' as Locale);
  return { locale, words: JSON.parse(readFileSync(fileOf(locale), 'utf8')) };
}

/** A file that the build makes. */
export const installedFile = (name: string): string => path.join(dist(), name);
