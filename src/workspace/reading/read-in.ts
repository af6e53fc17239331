import { coverageAt, isCovered, type Coverage } from '../../core/check/subject/coverage.js';
import type { Locale } from '../../core/locale/tag.js';
import type { OverviewRow } from '../../core/texts/overview.js';
import type { Workspace } from './workspace.js';

/** The text that clients read at a place, and its locale. */
export interface Read {
  readonly coverage: Coverage;
  readonly locale: Locale | undefined;
}

/**
 * Returns the text that clients read at a place: its own, a draft that they do not read yet, the
 * starter's, another language's, or nothing. All files must be read.
 */
export function readIn({ texts }: Workspace, row: OverviewRow, locale: Locale): Read {
  const ladder = texts.ladderOf(row);
  const climber = texts.climber(locale);
  const end = climber.climb(ladder);
  const coverage = coverageAt(climber, ladder, end);
  return {
    coverage: !isCovered(coverage) && row.texts.has(locale) ? 'draft' : coverage,
    locale: climber.localeOf(end),
  };
}
