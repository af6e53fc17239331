import { isCovered } from '../../core/check/subject/coverage.js';
import type { Observed } from '../../core/check/observed.js';
import type { Locale } from '../../core/locale/tag.js';
import { counted, paint } from './out.js';
import { table, type Column } from './table.js';

const WORDS = {
  written: 'own',
  house: 'house',
  starter: 'starter',
  draft: 'draft',
  fallback: 'fallback',
  missing: 'missing',
} as const;

/** More languages than this do not fit beside the paths. */
const MOST_COLUMNS = 10;

function cells({ line }: Observed, locales: readonly Locale[]): string[] {
  if (!line) return locales.map(() => paint.dim('–'));
  return locales.map((locale) => {
    const state = line.locales.get(locale) ?? 'missing';
    return isCovered(state)
      ? state === 'written'
        ? WORDS[state]
        : paint.dim(WORDS[state])
      : paint.red(WORDS[state]);
  });
}

/**
 * Returns the rules that were broken in production, for people: the most frequent first, with the
 * source of the text in each locale.
 */
export function observedText(
  observed: readonly Observed[],
  total: number,
  locales: readonly Locale[],
): string {
  const shown = locales.slice(0, MOST_COLUMNS);
  const columns: Column[] = [
    { head: paint.dim('seen'), align: 'right' },
    { head: paint.dim('form') },
    { head: paint.dim('field') },
    { head: paint.dim('rule') },
    ...shown.map((locale): Column => ({ head: paint.dim(locale) })),
  ];
  const rows = observed.map((one) => [
    String(one.count),
    one.form,
    one.path || 'the body',
    one.code,
    ...cells(one, shown),
  ]);
  const strangers = observed.filter(({ line }) => !line);
  const lacking = observed.filter(
    ({ line }) => line && locales.some((locale) => line.locales.get(locale) !== 'written'),
  );
  return [
    paint.bold(
      `In production: ${counted(total, 'violation')} of ${counted(observed.length, 'rule')}`,
    ),
    table(columns, rows),
    lacking.length === 0
      ? 'All that are declared have texts of your own in all languages.'
      : `${counted(lacking.length, 'rule')} of these ${lacking.length === 1 ? 'has' : 'have'} no text of your own in some language.`,
    ...(strangers.length > 0
      ? [
          paint.yellow(
            `${counted(strangers.length, 'rule')} that nobody declared: ${strangers.map(({ form, path, code }) => `${form} ${path || 'the body'} ${code}`).join(', ')}.`,
          ),
        ]
      : []),
    '',
  ].join('\n');
}

/** Returns the same as JSON. */
export function observedJson(observed: readonly Observed[]): object[] {
  return observed.map(({ form, path, code, count, line }) => ({
    form,
    path,
    rule: code,
    count,
    declared: line !== undefined,
    ...(line ? { locales: Object.fromEntries(line.locales) } : {}),
  }));
}
