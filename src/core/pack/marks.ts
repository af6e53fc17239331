import type { Locale } from '../locale/tag.js';
import { formattersOf } from '../message/formatters.js';
import type { MessageNode } from '../message/tree.js';
import { ANY_ELEMENT, ANY_KEY, type Path, type Pattern } from '../path/path.js';
import { placesOn } from '../path/places.js';
import type { FormIndex } from '../rules/form-index.js';
import type { Field } from '../rules/form.js';

/** Places stand in for a number each, so that they are found again in what was said. */
export const BASES = [731, 846] as const;

// Private use: nobody writes it, and it runs in either direction (`isolated`).
/** Stands for a key. */
const keyMark = (at: number): string => `\uE000${at}\uE001`;

/** The names of the places that a pattern leaves open, by where they stand in it. */
export const openPositions = (
  form: FormIndex,
  pattern: Pattern,
  part: Field['in'],
): Map<number, string> =>
  new Map(
    placesOn(pattern, form.declared(pattern, part))
      .filter(({ at }) => typeof pattern[at] === 'symbol')
      .map(({ at, argument }) => [at, argument]),
  );

/** Returns a path with a number of its own at each open place. */
export const markedPath = (pattern: Pattern, base: number): Path =>
  pattern.map((segment, at) => {
    if (segment === ANY_ELEMENT) return base + at - 1;
    if (segment === ANY_KEY) return keyMark(at);
    // What is above, nobody knows: a text that names it differs from base to base.
    return typeof segment === 'symbol' ? `\uE003${base}` : segment;
  });

/** Puts the arguments back where marks stand. */
export function unmarked(
  text: string,
  pattern: Pattern,
  names: ReadonlyMap<number, string>,
  base: number,
  locale: Locale,
): MessageNode[] {
  const { bare } = formattersOf(locale);
  const marks = new Map<string, string>();
  for (const [at, name] of names)
    marks.set(pattern[at] === ANY_KEY ? keyMark(at) : bare(base + at), name);
  if (marks.size === 0) return [{ kind: 'text', text, start: 0, end: 0 }];
  const parts = text.split(new RegExp(`(${[...marks.keys()].join('|')})`, 'u'));
  return parts.flatMap((part): MessageNode[] => {
    const name = marks.get(part);
    if (name !== undefined) return [{ kind: 'argument', name, start: 0, end: 0 }];
    return part === '' ? [] : [{ kind: 'text', text: part, start: 0, end: 0 }];
  });
}
