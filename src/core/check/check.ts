import type { Finding, FindingKind } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import type { Signature } from '../message/signature.js';
import { titleOf } from '../texts/titles.js';
import type { TextKind } from '../texts/purpose.js';
import type { FieldPlace } from '../rules/form.js';
import { CheckedText } from './checked-text.js';
import { Context, type Subject } from './context.js';
import { coverageAt, coveredShare, SharedStates, type Coverage } from './coverage.js';
import { Excuses } from './excuses.js';
import type { Looks } from './kind.js';
import { KINDS } from './kinds.js';
import { unusedExcuse } from './noticed.js';
import { asSet, type KindSetting } from './settings.js';

/** One line of the coverage, as reports show it. */
export interface CoverageLine {
  readonly form: string;
  readonly path: string;
  readonly in: FieldPlace;
  /** The code of the rule. */
  readonly code: string;
  readonly locales: ReadonlyMap<Locale, Coverage>;
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

/** How many texts are looked at between two signs of progress. */
const STRIDE = 2000;

/** Whom texts for one purpose are shown to, as long as they ask for the same and may hold the same. */
interface Audience {
  readonly signature: Signature;
  readonly holds: number;
  readonly texts: readonly ((checked: CheckedText) => void)[];
  /** Those of texts that ask for, or may hold, something else. */
  readonly next: Audience | undefined;
}

/** Shows every text to the kinds that look for something that it may hold. */
function showTexts(context: Context, looks: readonly Looks[], progress: CheckOptions['progress']): void {
  const { catalogs, table, subject } = context;
  const { cells: originals } = table.column(subject.original);
  const all = catalogs.reduce((sum, { texts }) => sum + texts.length, 0);
  let seen = 0;
  // By the sort of a text and what it may hold, who looks for that: these are some dozens, and the texts many.
  const looking: Readonly<Record<TextKind, Looks[][]>> = {
    ...{ message: [], inline: [], label: [], choice: [], word: [], frame: [], problem: [] },
  };
  const lookersFor = (kind: TextKind, holds: number): readonly Looks[] =>
    (looking[kind][holds] ??= looks.filter(
      ({ text, needs, sorts }) => text && (needs === undefined || (holds & needs) !== 0) && (sorts?.includes(kind) ?? true),
    ));
  const audiences: (Audience | undefined)[] = [];
  for (const catalog of catalogs) {
    for (const entry of catalog.texts) {
      const { purpose, signature, mayHold: holds } = entry;
      const { id, kind } = purpose;
      if (progress && ++seen % STRIDE === 0) progress(seen, all);
      // Translations mostly ask for the same as the original, and what is fine with the one is so with all.
      let audience = audiences[id];
      while (audience && (audience.signature !== signature || audience.holds !== holds)) audience = audience.next;
      if (audience?.texts.length === 0) continue;
      const checked = new CheckedText(catalog, entry, context.rowsFor(purpose), originals[id] ?? titleOf(table, purpose));
      if (!audience) {
        const texts = lookersFor(kind, holds).flatMap(({ text, concerns }) =>
          text && (concerns?.(checked) ?? true) ? [text] : [],
        );
        audiences[id] = audience = { signature, holds, texts, next: audiences[id] };
      }
      for (const text of audience.texts) text(checked);
    }
  }
}

/** Works out the coverage, and shows those of its cells that somebody looks for. */
function showCells(context: Context, looks: readonly Looks[]): CoverageLine[] {
  const { rows, texts, subject, ladders } = context;
  const cells = looks.flatMap(({ cell }) => cell ?? []);
  const languages = subject.locales.map((locale) => ({ locale, climber: texts.climber(locale) }));
  const states = new SharedStates(subject.locales);
  const written = subject.locales.map((): Coverage => 'written');
  return rows.map((row, at) => {
    const { form, field, code } = row;
    const line = { form: form.id, path: field.path, in: field.in, code };
    const ladder = ladders[at] ?? [];
    if (context.isPlainlyWritten(ladder)) return { ...line, locales: states.of(written) };
    const own = languages.map(({ locale, climber }) => {
      const end = climber.climb(ladder);
      const coverage = coverageAt(climber, ladder, end);
      const state = climber.state(ladder, end);
      for (const { wants, see } of cells)
        if (wants(row, coverage, state)) see({ row, locale, coverage, entry: climber.entry(ladder, end) });
      return coverage;
    });
    return { ...line, locales: states.of(own) };
  });
}

function findAll(context: Context, options: CheckOptions): { findings: Finding[]; matrix: CoverageLine[] } {
  const { settings = [], asked = [], progress } = options;
  const wanted = KINDS.filter(
    ({ kind, quiet }) => !quiet || asked.includes(kind) || settings.some((one) => one.kind === kind && one.severity !== 'off'),
  );
  const lists = wanted.map((): Finding[] => []);
  const looks: Looks[] = [];
  for (const [at, { kind, severity, find, look }] of wanted.entries()) {
    const list = lists[at] ?? [];
    for (const remark of find?.(context) ?? []) list.push({ severity, ...remark });
    const looking = look?.(context, (remark) => list.push({ severity, kind, ...remark }));
    if (looking) looks.push(looking);
  }
  for (const { catalog: see } of looks) if (see) for (const catalog of context.catalogs) see(catalog);
  showTexts(context, looks, progress);
  const matrix = showCells(context, looks);
  for (const { end } of looks) end?.();
  return { findings: lists.flat(), matrix };
}

/** Whether findings of a kind stay untold where no setting speaks of them. */
const quietly = (kind: FindingKind, { asked = [] }: CheckOptions): boolean =>
  !asked.includes(kind) && (KINDS.find((one) => one.kind === kind)?.quiet ?? false);

/** Checks that every rule has a text in every locale, and the texts themselves. */
export function check(subject: Subject, options: CheckOptions = {}): CheckResult {
  const context = new Context(subject);
  const wanted = new Set<string | undefined>([undefined, ...subject.locales]);
  const excuses = new Excuses(context.catalogs);
  const { findings: found, matrix } = findAll(context, options);
  const standing = found.filter((finding) => !excuses.covers(finding));
  const names = KINDS.map(({ kind }) => kind);
  const unused = [...excuses.unused(names)].map((remark): Finding => ({ severity: unusedExcuse.severity, ...remark }));
  const findings = [...standing, ...unused]
    .filter(({ locale }) => wanted.has(locale))
    .flatMap((finding) => asSet(finding, options.settings ?? [], quietly(finding.kind, options)) ?? []);
  return { matrix, coverage: coveredShare(matrix, subject.locales), findings };
}
