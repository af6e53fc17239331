import type { Finding } from '../finding.js';
import { Context, type Subject } from './context.js';
import { coverageMatrix, coveredShare, type CoverageRow } from './coverage.js';
import { KINDS } from './kinds.js';

/** What a check of a whole workspace found. */
export interface CheckResult {
  readonly matrix: readonly CoverageRow[];
  /** The share of rules and locales with a text of their own, from 0 to 1. */
  readonly coverage: number;
  /** By kind, in the order of the table. */
  readonly findings: readonly Finding[];
}

/** Checks that every rule has a text in every locale, and the texts themselves. */
export function check(subject: Subject): CheckResult {
  const context = new Context(subject);
  const matrix = coverageMatrix(context.rows, subject.locales, subject.texts);
  const wanted = new Set<string | undefined>([undefined, ...subject.locales]);
  const findings = KINDS.flatMap(({ find, severity }) =>
    [...find(context, matrix)].filter(({ locale }) => wanted.has(locale)).map((remark): Finding => ({ severity, ...remark })),
  );
  return { matrix, coverage: coveredShare(matrix, subject.locales), findings };
}
