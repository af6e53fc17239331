import { structureOf } from '../catalog/alike.js';
import type { Catalog } from '../catalog/catalog.js';
import type { Finding, FindingKind } from '../finding.js';
import type { FieldPlace } from '../rules/form.js';
import { Context, type Subject } from './context.js';
import { coverageMatrix, coveredShare, type CoverageRow } from './coverage.js';
import { Excuses } from './excuses.js';
import type { TextCheck } from './kind.js';
import { KINDS } from './kinds.js';
import { unusedExcuse } from './noticed.js';
import { eachRole, type Role } from './roles.js';
import { asSet, type KindSetting } from './settings.js';

/** One line of the coverage, as reports show it. */
export interface CoverageLine {
  readonly form: string;
  readonly path: string;
  readonly in: FieldPlace;
  /** The code of the rule. */
  readonly code: string;
  readonly locales: CoverageRow['locales'];
}

/** What a check of a whole workspace found. */
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
  /** Told how many of how many texts were seen, now and then. */
  readonly progress?: ((seen: number, all: number) => void) | undefined;
}

/** How many texts a catalog has. */
function textsIn(catalog: Catalog): number {
  const { messages, fields, problems } = structureOf(catalog);
  let count = messages.size;
  for (const { label, messages: own, choices } of fields) count += own.size + choices.size + (label ? 1 + label.forms.size : 0);
  for (const { title, detail } of problems.values()) count += (title ? 1 : 0) + (detail ? 1 : 0);
  return count;
}

/** How many texts are looked at between two signs of progress. */
const STRIDE = 2000;

function findAll(subject: Subject, context: Context, matrix: readonly CoverageRow[], options: CheckOptions): Finding[] {
  const { settings = [], asked = [], progress } = options;
  const wanted = KINDS.filter(
    ({ kind, quiet }) => !quiet || asked.includes(kind) || settings.some((one) => one.kind === kind && one.severity !== 'off'),
  );
  const lists = wanted.map((): Finding[] => []);
  const checks: TextCheck[] = [];
  for (const [at, { kind, severity, find, texts }] of wanted.entries()) {
    const list = lists[at] ?? [];
    for (const remark of find?.(context, matrix) ?? []) list.push({ severity, ...remark });
    const check = texts?.(context, (remark) => list.push({ severity, kind, ...remark }));
    if (check) checks.push(check);
  }
  const all = progress ? subject.catalogs.reduce((sum, catalog) => sum + textsIn(catalog), 0) : 0;
  let seen = 0;
  // By the sort and the traits of a text, the checks to show it to: they are some dozens, and the texts many.
  const shown: Readonly<Record<Role['kind'], TextCheck['each'][][]>> = { message: [], label: [], choice: [], problem: [] };
  const checksFor = ({ kind, entry: { traits } }: Role): readonly TextCheck['each'][] =>
    (shown[kind][traits] ??= checks
      .filter(({ needs, sorts }) => (needs === undefined || (traits & needs) !== 0) && (sorts?.includes(kind) ?? true))
      .map(({ each }) => each));
  for (const catalog of subject.catalogs) {
    eachRole(context, catalog, (role) => {
      for (const each of checksFor(role)) each(role);
      if (progress && ++seen % STRIDE === 0) progress(seen, all);
    });
  }
  for (const { end } of checks) end?.();
  return lists.flat();
}

/** Whether findings of a kind stay untold where no setting speaks of them. */
const quietly = (kind: FindingKind, { asked = [] }: CheckOptions): boolean =>
  !asked.includes(kind) && (KINDS.find((one) => one.kind === kind)?.quiet ?? false);

/** Checks that every rule has a text in every locale, and the texts themselves. */
export function check(subject: Subject, options: CheckOptions = {}): CheckResult {
  const context = new Context(subject);
  const matrix = coverageMatrix(context);
  const wanted = new Set<string | undefined>([undefined, ...subject.locales]);
  const excuses = new Excuses(subject.catalogs);
  const standing = findAll(subject, context, matrix, options).filter((finding) => !excuses.covers(finding));
  const names = KINDS.map(({ kind }) => kind);
  const unused = [...excuses.unused(names)].map((remark): Finding => ({ severity: unusedExcuse.severity, ...remark }));
  const findings = [...standing, ...unused]
    .filter(({ locale }) => wanted.has(locale))
    .flatMap((finding) => asSet(finding, options.settings ?? [], quietly(finding.kind, options)) ?? []);
  const lines = matrix.map(({ row: { form, field, code }, locales }) => {
    const { path, in: place } = field;
    return { form: form.id, path, in: place, code, locales };
  });
  return { matrix: lines, coverage: coveredShare(matrix, subject.locales), findings };
}
