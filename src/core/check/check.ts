import type { Finding } from '../finding.js';
import { Context, type Subject } from './context.js';
import { coverageMatrix, coveredShare, type CoverageRow } from './coverage.js';
import { Excuses } from './excuses.js';
import { KINDS } from './kinds.js';
import { unusedExcuse } from './noticed.js';
import { asSet, type KindSetting } from './settings.js';

/** What a check of a whole workspace found. */
export interface CheckResult {
  readonly matrix: readonly CoverageRow[];
  /** The share of rules and locales with a text of their own, from 0 to 1. */
  readonly coverage: number;
  /** By kind, in the order of the table. */
  readonly findings: readonly Finding[];
}

/** Checks that every rule has a text in every locale, and the texts themselves. */
export function check(subject: Subject, settings: readonly KindSetting[] = []): CheckResult {
  const context = new Context(subject);
  const matrix = coverageMatrix(context.rows, subject.locales, subject.texts);
  const wanted = new Set<string | undefined>([undefined, ...subject.locales]);
  const excuses = new Excuses(subject.catalogs);
  const found = KINDS.flatMap(({ find, severity }) =>
    [...find(context, matrix)].map((remark): Finding => ({ severity, ...remark })),
  );
  const standing = found.filter((finding) => !excuses.covers(finding));
  const names = KINDS.map(({ kind }) => kind);
  const unused = [...excuses.unused(names)].map((remark): Finding => ({ severity: unusedExcuse.severity, ...remark }));
  const findings = [...standing, ...unused]
    .filter(({ locale }) => wanted.has(locale))
    .flatMap((finding) => asSet(finding, settings) ?? []);
  return { matrix, coverage: coveredShare(matrix, subject.locales), findings };
}
