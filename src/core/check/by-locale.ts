import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import type { Context } from './context.js';

/**
 * What is missing in each locale, looked for in as few of them as tell of the others.
 * @param hasAll whether all that is looked for in a locale stands in its own files
 */
export function* missingByLocale(
  { subject, likeness }: Context,
  hasAll: (locale: Locale) => boolean,
  missingIn: (locale: Locale) => Iterable<Remark>,
): Generator<Remark> {
  const told = new Map<Locale, boolean>();
  const complete = new Set<Locale>();
  for (const locale of subject.locales) {
    // What a locale like this one has, it has too; what it has in files of its own, another with the same keys has in them.
    const shape = likeness.shape(locale);
    const own = told.get(shape) ?? hasAll(shape);
    told.set(shape, own);
    if (own || complete.has(likeness.leader(locale))) continue;
    const missing = [...missingIn(locale)];
    if (missing.length === 0) complete.add(locale);
    yield* missing;
  }
}
