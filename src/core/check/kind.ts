import type { FindingKind, Remark, Severity } from '../finding.js';
import type { Context } from './context.js';
import type { CoverageRow } from './coverage.js';

/** One kind of finding: a file of this folder and a line in its table. */
export interface Kind {
  readonly kind: FindingKind;
  readonly severity: Severity;
  /** What is wrong and why it matters, in one sentence, for the reference. */
  readonly about: string;
  /** How to mend it. */
  readonly remedy: string;
  readonly find: (context: Context, matrix: readonly CoverageRow[]) => Iterable<Remark>;
}
