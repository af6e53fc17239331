import type { Finding, Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import type { Catalog } from '../texts/catalog.js';
import type { Entry } from '../texts/entry.js';
import type { Climber } from '../texts/climber.js';
import type { Context, Row } from './subject/context.js';
import {
  coveredShare,
  coverageAt,
  SharedStates,
  withDrafts,
  type Coverage,
} from './subject/coverage.js';
import { Excuses } from './excuses.js';
import type { Kind, Looks } from './subject/kind.js';
import { KINDS } from './kinds.js';
import { unusedExcuse } from './kinds/noticed.js';
import type { CheckOptions, CheckResult, CoverageLine } from './subject/result.js';
import { asSet } from './subject/settings.js';
import { Showing } from './showing.js';
import { STATE } from '../texts/table.js';

/** A check may be left after so many texts, or rows of the coverage. */
const TEXTS_AT_ONCE = 500;
const ROWS_AT_ONCE = 100;
/** Texts between two signs of progress. */
const STRIDE = 2000;

/** The work of a check; whoever runs it may do other things, or stop, at each `yield`. */
export type Steps<T> = Generator<undefined, T, undefined>;

/** Does all of it at once. */
export function done<T>(steps: Steps<T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/**
 * The findings of one kind: those of what is missing, of texts and catalogs, and of cells of the
 * coverage.
 */
interface Notes {
  readonly kind: Kind;
  readonly looks: Looks | undefined;
  readonly others: Finding[];
  readonly ofTexts: Finding[];
  readonly ofCells: Finding[];
}

/** The text in hand. */
interface TextAt {
  in: 'texts' | 'cells' | undefined;
}

/** The kinds that a check looks for. */
function kindsOf({ settings = [], asked = [], only }: CheckOptions): readonly Kind[] {
  if (only) return KINDS.filter(({ kind }) => only.includes(kind));
  const isAsked = ({ kind }: Kind): boolean =>
    asked.includes(kind) || settings.some((one) => one.kind === kind && one.severity !== 'off');
  return KINDS.filter((kind) => !kind.quiet || isAsked(kind));
}

function found(
  { kind, findInRules, find }: Kind,
  context: Context,
  known: CheckOptions['ruled'],
): Iterable<Remark> {
  if (!findInRules) return find?.(context) ?? [];
  const remarks = known?.get(kind) ?? [...findInRules(context)];
  known?.set(kind, remarks);
  return remarks;
}

function notesOf(kind: Kind, context: Context, files: ReadonlySet<string>, at: TextAt): Notes {
  const { severity } = kind;
  const [others, ofTexts, ofCells]: [Finding[], Finding[], Finding[]] = [[], [], []];
  const looks = kind.look?.(context, (remark) => {
    const finding: Finding = { severity, kind: kind.kind, ...remark };
    // A finding at the end of a check that is about texts names a file of theirs.
    const isOfText = at.in === 'texts' || (!looks?.cell && files.has(finding.spot?.file ?? ''));
    (at.in === 'cells' ? ofCells : isOfText ? ofTexts : others).push(finding);
  });
  return { kind, looks, others, ofTexts, ofCells };
}

/** Shows the texts of catalogs. */
function* shown(
  context: Context,
  looks: readonly Looks[],
  progress: CheckOptions['progress'],
): Steps<void> {
  const { catalogs } = context;
  const showing = new Showing(context, looks);
  const count = catalogs.reduce((sum, { texts }) => sum + texts.length, 0);
  let seen = 0;
  for (const catalog of catalogs)
    for (const entry of catalog.texts) {
      showing.show(catalog, entry);
      // Every translation may ask for the original's.
      if (catalog.locale !== context.subject.original) entry.dropTree();
      seen += 1;
      if (progress && seen % STRIDE === 0) progress(seen, count);
      if (seen % TEXTS_AT_ONCE === 0) yield;
    }
}

/**
 * Works out where the lookups of each row end in each language, and shows these cells to those who
 * look for some.
 */
class Coverages {
  private readonly spoken: readonly {
    readonly locale: Locale;
    readonly climber: Climber;
    readonly drafts: Climber | undefined;
  }[];
  private readonly shared: SharedStates;
  private readonly written: readonly Coverage[];

  constructor(
    private readonly context: Context,
    private readonly cells: readonly NonNullable<Looks['cell']>[],
  ) {
    const { subject, texts } = context;
    this.spoken = subject.locales.map((locale) => ({
      locale,
      climber: texts.climber(locale),
      drafts: subject.drafts?.climber(locale),
    }));
    this.shared = new SharedStates(subject.locales);
    this.written = subject.locales.map((): Coverage => 'written');
  }

  line(row: Row, at: number): CoverageLine {
    const { form, field, code } = row;
    const line = { form: form.id, path: field.path, in: field.in, code };
    const { context, cells } = this;
    const isPlain = context.isPlainlyWritten(context.ladders[at] ?? []);
    // Rows that are alike in all languages are by far the most.
    if (isPlain && !cells.some(({ wants }) => wants(row, 'written', STATE.filled)))
      return { ...line, locales: this.shared.of(this.written) };
    return {
      ...line,
      locales: this.shared.of(this.spoken.map((one) => this.cell(row, at, one))),
    };
  }

  private cell(
    row: Row,
    at: number,
    { locale, climber, drafts }: (typeof this.spoken)[number],
  ): Coverage {
    const ladder = this.context.ladders[at] ?? [];
    const end = climber.climb(ladder);
    const coverage = coverageAt(climber, ladder, end);
    const state = climber.state(ladder, end);
    for (const { wants, see } of this.cells)
      if (wants(row, coverage, state))
        see({ row, locale, coverage, entry: climber.entry(ladder, end) });
    // A draft changes nothing for clients, so what is found is as without it.
    return withDrafts(coverage, drafts, ladder);
  }
}

function* covered(context: Context, looks: readonly Looks[]): Steps<readonly CoverageLine[]> {
  const coverages = new Coverages(
    context,
    looks.flatMap(({ cell }) => cell ?? []),
  );
  const matrix: CoverageLine[] = [];
  for (const [at, row] of context.rows.entries()) {
    matrix.push(coverages.line(row, at));
    if (at % ROWS_AT_ONCE === 0) yield;
  }
  return matrix;
}

/** Returns the findings without an excuse. */
const standing = (notes: readonly Notes[], excuses: Excuses): Finding[] =>
  notes
    .flatMap(({ others, ofTexts, ofCells }) => [...others, ...ofTexts, ...ofCells])
    .filter((finding) => !excuses.covers(finding));

const unusedIn = (excuses: Excuses): Finding[] =>
  [...excuses.unused(KINDS.map(({ kind }) => kind))].map((remark) => ({
    severity: unusedExcuse.severity,
    ...remark,
  }));

/** Findings as the settings have them. */
function reported(
  findings: readonly Finding[],
  { subject }: Context,
  { settings = [], asked = [] }: CheckOptions,
): Finding[] {
  const wanted = new Set<string | undefined>([undefined, ...subject.locales]);
  // Whether findings of a kind stay untold where no setting speaks of them.
  const quiet = new Set(
    KINDS.filter((kind) => kind.quiet && !asked.includes(kind.kind)).map(({ kind }) => kind),
  );
  return findings
    .filter(({ locale }) => wanted.has(locale))
    .flatMap((finding) => asSet(finding, settings, quiet.has(finding.kind)) ?? []);
}

/** Checks that every rule has a text in every locale, and the texts themselves. */
export function* checking(context: Context, options: CheckOptions = {}): Steps<CheckResult> {
  const { subject, catalogs } = context;
  const files = new Set(catalogs.map(({ file }) => file));
  const at: TextAt = { in: undefined };
  const notes: Notes[] = [];
  for (const kind of kindsOf(options)) notes.push(notesOf(kind, context, files, at));
  const looks = notes.flatMap((one) => one.looks ?? []);
  at.in = 'texts';
  for (const { catalog } of looks) if (catalog) catalogs.forEach(catalog);
  // Texts come first: whether each can be said is known afterwards, and needs no tree again.
  yield* shown(context, looks, options.progress);
  for (const { kind, others } of notes) {
    for (const remark of found(kind, context, options.ruled))
      others.push({ severity: kind.severity, ...remark });
    yield;
  }
  at.in = 'cells';
  const matrix = yield* covered(context, looks);
  at.in = undefined;
  for (const { end } of looks) {
    end?.();
    yield;
  }
  const excuses = new Excuses(catalogs);
  const findings = reported([...standing(notes, excuses), ...unusedIn(excuses)], context, options);
  return { matrix, coverage: coveredShare(matrix, subject.locales), findings };
}

/** Returns the findings of some kinds about some texts of a catalog. */
function foundIn(
  kinds: readonly Kind[],
  context: Context,
  catalog: Catalog,
  entries: readonly Entry[],
  options: CheckOptions,
): Finding[] {
  const files = new Set([catalog.file]);
  const notes = kinds.map((kind) => notesOf(kind, context, files, { in: 'texts' }));
  const showing = new Showing(
    context,
    notes.flatMap(({ looks }) => looks ?? []),
  );
  for (const entry of entries) showing.show(catalog, entry);
  return reported(standing(notes, new Excuses([catalog])), context, options);
}

/** Returns the findings about some texts of a catalog. */
export const checkTexts = (
  context: Context,
  catalog: Catalog,
  entries: readonly Entry[],
  options: CheckOptions = {},
): Finding[] => foundIn(kindsOf(options), context, catalog, entries, options);

/** The findings that the texts of one catalog are enough for, whatever else there is. */
export function checkAlone(
  context: Context,
  catalog: Catalog,
  options: CheckOptions = {},
): Finding[] {
  const kinds = kindsOf(options).filter(({ alone }) => alone);
  return foundIn(kinds, context, catalog, catalog.texts, options);
}
