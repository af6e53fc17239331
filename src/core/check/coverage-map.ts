import type { Locale } from '../locale/tag.js';
import type { Climber, Ladder } from '../texts/climber.js';
import type { Purpose } from '../texts/purpose.js';
import { summaryAfter, summaryOf, type Context, type Row, type Settled, type Summary } from './context.js';
import { coverageAt, SharedStates, type Coverage } from './coverage.js';
import type { Looks } from './kind.js';
import type { CoverageLine } from './result.js';

type CellLook = NonNullable<Looks['cell']>;

/** By the number of a purpose, the rows that a text for it may be said in. */
function rowsByPurpose({ ladders }: Context): readonly (readonly number[] | undefined)[] {
  const rows: number[][] = [];
  for (const [at, ladder] of ladders.entries()) for (const { id } of ladder) (rows[id] ??= []).push(at);
  return rows;
}

/** The rows that texts for some purposes may be said in. */
export function rowsOf(purposes: ReadonlySet<Purpose>, context: Context): ReadonlySet<number> {
  const rows = context.steady(rowsByPurpose);
  return new Set([...purposes].flatMap(({ id }) => rows[id] ?? []));
}

/** By the number of a purpose, what any text for it is, in whatever language is read. */
const ofAll: Settled<Summary> = {
  make: ({ table }) => summaryOf(table, table.known()),
  update: (before, { table }, changed) => summaryAfter(before, table.known(), changed),
};

const heldOf = (ladder: Ladder | undefined, { states }: Summary): number => {
  let all = 0;
  for (const { id } of ladder ?? []) all |= states[id] ?? 0;
  return all;
};

/** By row, what any of its texts is. */
const ofRows: Settled<Uint8Array> = {
  make: (context) => Uint8Array.from(context.ladders, (ladder) => heldOf(ladder, context.settled(ofAll))),
  update: (before, context, changed) => {
    const held = before.slice();
    for (const at of rowsOf(changed, context)) held[at] = heldOf(context.ladders[at], context.settled(ofAll));
    return held;
  },
};

/** Where the lookups of each row end in each language. */
export class CoverageMap {
  private readonly languages: readonly { readonly locale: Locale; readonly climber: Climber }[];
  private readonly shared: SharedStates;
  private readonly written: readonly Coverage[];
  private readonly held: Uint8Array;

  constructor(private readonly context: Context) {
    const { subject, texts } = context;
    this.languages = subject.locales.map((locale) => ({ locale, climber: texts.climber(locale) }));
    this.shared = new SharedStates(subject.locales);
    this.written = subject.locales.map((): Coverage => 'written');
    this.held = context.settled(ofRows);
  }

  /** Who may want a cell of a row, going by what any of its texts is. */
  wanting(at: number, cells: readonly CellLook[]): readonly CellLook[] {
    const row = this.context.rows[at];
    return row ? cells.filter(({ mayWant }) => mayWant?.(row, this.held[at] ?? 0)) : [];
  }

  /** A row of the coverage, its cells shown to those who look for some. */
  line(at: number, cells: readonly CellLook[]): CoverageLine {
    const row = this.context.rows[at];
    if (!row) throw new RangeError(`there is no row ${at}`);
    const { form, field, code } = row;
    const line = { form: form.id, path: field.path, in: field.in, code };
    const ladder = this.context.ladders[at] ?? [];
    if (this.context.isPlainlyWritten(ladder)) return { ...line, locales: this.shared.of(this.written) };
    return { ...line, locales: this.shared.of(this.languages.map((one) => this.cell(row, at, one, cells))) };
  }

  private cell(
    row: Row,
    at: number,
    { locale, climber }: { readonly locale: Locale; readonly climber: Climber },
    cells: readonly CellLook[],
  ): Coverage {
    const ladder = this.context.ladders[at] ?? [];
    const end = climber.climb(ladder);
    const coverage = coverageAt(climber, ladder, end);
    const state = climber.state(ladder, end);
    for (const { wants, see } of cells)
      if (wants(row, coverage, state)) see({ row, locale, coverage, entry: climber.entry(ladder, end) });
    return coverage;
  }
}
