import type { Found, Texts } from '../catalog/texts.js';
import type { Locale } from '../locale/tag.js';
import type { Context, Row } from './context.js';

/** Where a rule's text in a locale comes from; the first two count as covered. */
export type Coverage = 'written' | 'starter' | 'fallback' | 'missing';

export interface CoverageRow {
  readonly row: Row;
  readonly locales: ReadonlyMap<Locale, Coverage>;
}

export const isCovered = (coverage: Coverage | undefined): boolean => coverage === 'written' || coverage === 'starter';

/** A text of the locale's own language counts as its own: `de` serves `de-AT`. */
export function coverageOf(found: Found | undefined, locale: Locale, texts: Texts): Coverage {
  if (!found) return 'missing';
  if (!texts.serves(found.locale, locale)) return 'fallback';
  return found.rung === 'starter' ? 'starter' : 'written';
}

/** The matrix: every rule of every field of every form, in every locale. Rows that are alike share one map. */
export function coverageMatrix(context: Context): CoverageRow[] {
  const { rows, subject, likeness } = context;
  const { locales, texts } = subject;
  const leaders = [...new Set(locales.map((locale) => likeness.leader(locale)))];
  const columns = leaders.map((leader): Coverage[] => {
    // What another locale has in files of the same keys, this one has too.
    if (context.hasAllMessages(likeness.shape(leader))) return rows.map(() => 'written');
    const found = context.messagesIn(leader);
    return rows.map((_, at) => coverageOf(found[at], leader, texts));
  });
  const shared = new Map<string, ReadonlyMap<Locale, Coverage>>();
  return rows.map((row, at) => {
    const id = columns.map((column) => column[at]).join();
    let known = shared.get(id);
    if (!known) {
      const states = new Map(leaders.map((leader, place) => [leader, columns[place]?.[at] ?? 'missing']));
      shared.set(id, (known = new Map(locales.map((locale) => [locale, states.get(likeness.leader(locale)) ?? 'missing']))));
    }
    return { row, locales: known };
  });
}

type States = CoverageRow['locales'];

const counted = new WeakMap<readonly Pick<CoverageRow, 'locales'>[], ReadonlyMap<States, number>>();

/** How many rows have each map of states: rows that are alike share one, and there are few of them. */
function countsOf(matrix: readonly Pick<CoverageRow, 'locales'>[]): ReadonlyMap<States, number> {
  const known = counted.get(matrix);
  if (known) return known;
  const counts = new Map<States, number>();
  for (const { locales } of matrix) counts.set(locales, (counts.get(locales) ?? 0) + 1);
  counted.set(matrix, counts);
  return counts;
}

/** The share of rules with a text of the locale's own, from 0 to 1; of no rules, 1. */
export function coveredShare(matrix: readonly Pick<CoverageRow, 'locales'>[], locales: readonly Locale[]): number {
  const all = matrix.length * locales.length;
  let covered = 0;
  for (const [states, rows] of countsOf(matrix))
    covered += rows * locales.filter((locale) => isCovered(states.get(locale))).length;
  return all === 0 ? 1 : covered / all;
}
