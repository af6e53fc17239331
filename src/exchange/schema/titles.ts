import type { Origin } from '../../core/origin.js';
import type { LooseObject } from '../../core/reading.js';

/** Only letters and digits count when a title is compared with a name. */
const bare = (text: string): string => text.replace(/[^\p{L}\p{N}]/gu, '').toLowerCase();

/**
 * Whether a title is a name of the code with its words run together, as frameworks make it of a
 * member ("Harvestedon" of `harvestedOn`) or of a class ("GerminationTest").
 */
function isOnlyName(title: string, name: string | number | undefined): boolean {
  if (typeof name !== 'string' || bare(title) !== bare(name)) return false;
  const words = name.replace(/([\p{Ll}\p{N}])(?=\p{Lu})/gu, '$1 ').split(/[^\p{L}\p{N}]+/u);
  return words.length > 1 && title.trim().split(/[^\p{L}\p{N}]+/u).length < words.length;
}

/** The title of a schema, as far as it names something for people. */
export function titleIn(
  { title }: LooseObject,
  { file, keys }: Origin,
): { readonly text: string; readonly origin: Origin } | undefined {
  if (typeof title !== 'string' || title.trim() === '' || isOnlyName(title, keys.at(-1)))
    return undefined;
  return { text: title, origin: { file, keys: [...keys, 'title'] } };
}
