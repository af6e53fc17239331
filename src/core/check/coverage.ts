import type { Found, Texts } from '../catalog/texts.js';
import type { Locale } from '../locale/tag.js';
import type { Row } from './context.js';

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

/** The matrix: every rule of every field of every form, in every locale. */
export function coverageMatrix(rows: readonly Row[], locales: readonly Locale[], texts: Texts): CoverageRow[] {
  return rows.map((row) => {
    const question = { form: row.form.id, path: row.field.pattern, keys: row.keys };
    return {
      row,
      locales: new Map(locales.map((locale) => [locale, coverageOf(texts.message(question, locale), locale, texts)])),
    };
  });
}

/** The share of rules with a text of the locale's own, from 0 to 1; of no rules, 1. */
export function coveredShare(matrix: readonly CoverageRow[], locales: readonly Locale[]): number {
  const all = matrix.length * locales.length;
  const covered = matrix.reduce(
    (sum, { locales: states }) => sum + locales.filter((locale) => isCovered(states.get(locale))).length,
    0,
  );
  return all === 0 ? 1 : covered / all;
}
