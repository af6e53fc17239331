import { leftOut } from '../check/kinds/argument-mismatch.js';
import { sampleLength } from '../check/kinds/wording/too-long.js';
import type { Row } from '../check/subject/context.js';
import type { Locale } from '../locale/tag.js';
import { messageProblem } from '../message/trouble.js';
import { isArgumentName } from '../path/identifier.js';
import { Entry } from '../texts/entry.js';

/** Why a translation cannot go into a catalog. */
export type Refusal =
  | { readonly kind: 'gender' }
  | { readonly kind: 'broken'; readonly why: string }
  /** It leaves out a fact of the original. */
  | { readonly kind: 'lost'; readonly names: readonly string[] }
  | { readonly kind: 'long'; readonly length: number; readonly room: number };

/** A text of the original, as far as its translation hangs on it. */
export interface Original {
  /** The text, or the label whose inflection is translated. */
  readonly source: Entry;
  readonly key: string;
  readonly isInflection: boolean;
  /** How many characters there is room for. */
  readonly room: number | undefined;
  /** The rules that it is said of; asked for only where there is a bound. */
  readonly rows: () => readonly Row[];
}

/**
 * Why a translation cannot go in; nothing where it can.
 * @param anyway whether what is only worse than the original goes in
 */
export function refusalOf(
  text: string,
  locale: Locale,
  { source, key, isInflection, room, rows }: Original,
  anyway = false,
): Refusal | undefined {
  if (isInflection && key === 'gender')
    return isArgumentName(text) ? undefined : { kind: 'gender' };
  const why = messageProblem(text);
  if (why !== undefined) return { kind: 'broken', why };
  if (anyway) return undefined;
  const entry = new Entry(text, { file: source.file, locale }, source.slot);
  const names = source.error ? [] : leftOut(source, entry);
  if (names.length > 0) return { kind: 'lost', names };
  if (room === undefined) return undefined;
  const length = sampleLength({ entry, rows: rows(), key });
  return length > room ? { kind: 'long', length, room } : undefined;
}

/** Returns a refusal as a sentence for the person who imports. */
export function refusalText(refusal: Refusal): string {
  switch (refusal.kind) {
    case 'gender':
      return 'a gender is one word of letters, such as feminine';
    case 'broken':
      return `refused ${refusal.why}`;
    case 'lost':
      return `it loses ${refusal.names.map((name) => `{${name}}`).join(', ')}, which the original has`;
    case 'long':
      return `with sample values it has ${refusal.length} characters, and there is room for ${refusal.room}`;
  }
}
