import { getOrMake } from '../../base/get-or-make.js';
import type { Locale } from '../../locale/tag.js';
import { NOWHERE, type Climber, type Ladder } from '../../texts/climber.js';

/**
 * Where the text comes from that clients read for a rule in a locale; the first three count as
 * covered. `draft`: clients read another language's text or none, and a draft waits for somebody.
 */
export const COVERAGES = ['written', 'house', 'starter', 'draft', 'fallback', 'missing'] as const;
export type Coverage = (typeof COVERAGES)[number];

export const isCovered = (coverage: Coverage | undefined): boolean =>
  coverage === 'written' || coverage === 'house' || coverage === 'starter';

/**
 * The coverage where a ladder ends. A text of the locale's own language counts as its own: `de`
 * serves `de-AT`.
 */
export function coverageAt(climber: Climber, ladder: Ladder, end: number): Coverage {
  if (end === NOWHERE) return 'missing';
  if (!climber.isOwn(end)) return 'fallback';
  const layer = climber.purpose(ladder, end)?.layer;
  return layer === 'starter' || layer === 'house' ? layer : 'written';
}

/** Returns the coverage with drafts: a draft of the locale waits where nothing else covers. */
export const withDrafts = (
  coverage: Coverage,
  drafts: Climber | undefined,
  ladder: Ladder,
): Coverage => (!isCovered(coverage) && drafts?.isOwn(drafts.climb(ladder)) ? 'draft' : coverage);

/** By locale. Rows that are alike share one. */
type States = ReadonlyMap<Locale, Coverage>;

/**
 * Keeps one of each combination of states: most rows are alike, and mostly one is like the one
 * before.
 */
export class SharedStates {
  private readonly known = new Map<string, States>();
  private last: { readonly states: readonly Coverage[]; readonly shared: States } | undefined;

  constructor(private readonly locales: readonly Locale[]) {}

  /** @param states in the order of the locales */
  of(states: readonly Coverage[]): States {
    const { last } = this;
    if (last && states.every((state, at) => state === last.states[at])) return last.shared;
    const id = states.join();
    const shared = getOrMake(
      this.known,
      id,
      () => new Map(this.locales.map((locale, at) => [locale, states[at] ?? 'missing'])),
    );
    this.last = { states: [...states], shared };
    return shared;
  }
}

const counted = new WeakMap<readonly { readonly locales: States }[], ReadonlyMap<States, number>>();

/**
 * How many rows have each map of states: rows that are alike share one, and there are few of them.
 */
function countsOf(matrix: readonly { readonly locales: States }[]): ReadonlyMap<States, number> {
  const known = counted.get(matrix);
  if (known) return known;
  const counts = new Map<States, number>();
  let [last, since]: [States | undefined, number] = [undefined, 0];
  // Mostly a row shares what the one before it has.
  for (let at = 0; at < matrix.length; at++) {
    const locales = matrix[at]?.locales;
    if (locales === last) continue;
    if (last) counts.set(last, (counts.get(last) ?? 0) + at - since);
    [last, since] = [locales, at];
  }
  if (last) counts.set(last, (counts.get(last) ?? 0) + matrix.length - since);
  counted.set(matrix, counts);
  return counts;
}

/** The share of rules with a text of the locale's own, from 0 to 1; of no rules, 1. */
export function coveredShare(
  matrix: readonly { readonly locales: States }[],
  locales: readonly Locale[],
): number {
  const all = matrix.length * locales.length;
  let covered = 0;
  for (const [states, rows] of countsOf(matrix))
    covered += rows * locales.filter((locale) => isCovered(states.get(locale))).length;
  return all === 0 ? 1 : covered / all;
}
