import type { FindingKind, Remark, Severity } from '../finding.js';
import type { Context } from './context.js';
import type { CoverageRow } from './coverage.js';
import type { Role } from './roles.js';

/** Tells what a check found; the kind is added by whoever runs it. */
export type Report = (remark: Omit<Remark, 'kind'>) => void;

/** Looks at one text after the other, so that large catalogs are gone through once for all kinds. */
export interface TextCheck {
  /** Bits of `TRAIT`: only texts that have one of these are shown. Absent: all. */
  readonly needs?: number;
  /** Only texts of these sorts are shown. Absent: all. */
  readonly sorts?: readonly Role['kind'][];
  readonly each: (role: Role) => void;
  /** Once all texts were seen. */
  readonly end?: () => void;
}

/** One kind of finding: a file of this folder and a line in its table. */
export interface Kind {
  readonly kind: FindingKind;
  readonly severity: Severity;
  /** Not looked for unless the settings or the caller name it. */
  readonly quiet?: true;
  /** What is wrong and why it matters, in one sentence, for the reference. */
  readonly about: string;
  /** How to mend it. */
  readonly remedy: string;
  /** What shows it, for the reference: a line or two of a catalog or rule sheet. */
  readonly example: string;
  /** Looks at the workspace as a whole. */
  readonly find?: (context: Context, matrix: readonly CoverageRow[]) => Iterable<Remark>;
  /** Looks at each text; the state of one check lives in the closure. Nothing where there is nothing to look for. */
  readonly texts?: (context: Context, report: Report) => TextCheck | undefined;
}
