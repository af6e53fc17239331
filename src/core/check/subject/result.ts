import type { Finding, FindingKind, Remark } from '../../finding.js';
import type { Locale } from '../../locale/tag.js';
import type { RequestPart } from '../../rules/form.js';
import type { Coverage } from './coverage.js';
import type { KindSetting } from './settings.js';

/** One line of the coverage, as reports show it. */
export interface CoverageLine {
  readonly form: string;
  readonly path: string;
  readonly in: RequestPart;
  /** The code of the rule. */
  readonly code: string;
  readonly locales: ReadonlyMap<Locale, Coverage>;
}

/** The result of a check of a whole workspace. */
export interface CheckResult {
  readonly matrix: readonly CoverageLine[];
  /** The share of rules and locales with a text of their own, from 0 to 1. */
  readonly coverage: number;
  /** By kind, in the order of the table. */
  readonly findings: readonly Finding[];
}

export interface CheckOptions {
  readonly settings?: readonly KindSetting[];
  /** Quiet kinds that are looked for all the same. */
  readonly asked?: readonly FindingKind[];
  /** Looks for these kinds and for no other; for none that trying rules out finds. */
  readonly only?: readonly FindingKind[] | undefined;
  /**
   * Remarks that depend on rules alone, by kind, from a check of the same rules; new ones are
   * added.
   */
  readonly ruled?: Map<FindingKind, readonly Remark[]> | undefined;
  /** Called at intervals with the numbers of checked and of all texts. */
  readonly progress?: ((seen: number, all: number) => void) | undefined;
}
