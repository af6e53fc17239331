import type { Locale } from '../locale/tag.js';
import type { Entry } from './entry.js';
import type { Purpose } from './purpose.js';
import { STATE, type Column } from './table.js';

/** The purposes that may answer a question, the most special first, whatever the language. */
export type Ladder = readonly Purpose[];

/** Where nothing was found. */
export const NOWHERE = -1;
/** A ladder is no longer than that: there are some rungs a pattern. */
const RUNG_BITS = 20;

/**
 * The bits of a cell's state that count, where drafts are texts like others, and where they are
 * not.
 */
export const WITH_DRAFTS = STATE.filled;
export const WITHOUT_DRAFTS = STATE.filled | STATE.draft;

/** Whether a text stands in a cell that may be said. */
export const maySay = (state: number, mask: number): boolean => (state & mask) === STATE.filled;

/**
 * Which rung of a ladder in a locale has a text; a broken one is passed over. -1 where none has.
 */
export function rungIn(column: Column, ladder: Ladder, mask: number): number {
  for (let rung = 0; rung < ladder.length; rung++)
    if (maySay(column.state(ladder[rung]?.id ?? 0), mask)) return rung;
  return -1;
}

/**
 * Climbs ladders in one locale. Results are numbers, since there are very many: no object is made,
 * and no text is read. A result is `NOWHERE`, or the locale of the chain and the rung.
 */
export class Climber {
  constructor(
    private readonly columns: readonly Column[],
    private readonly serves: readonly boolean[],
    private readonly mask: number,
  ) {}

  /** Where a ladder ends. */
  climb(ladder: Ladder): number {
    for (let nth = 0; nth < this.columns.length; nth++) {
      const column = this.columns[nth];
      const rung = column ? rungIn(column, ladder, this.mask) : -1;
      if (rung >= 0) return (nth << RUNG_BITS) | rung;
    }
    return NOWHERE;
  }

  /** Whether what was found serves the locale as its own. */
  isOwn(end: number): boolean {
    return end !== NOWHERE && this.serves[end >> RUNG_BITS] === true;
  }

  localeOf(end: number): Locale | undefined {
    return end === NOWHERE ? undefined : this.columns[end >> RUNG_BITS]?.locale;
  }

  /** The text at the end. */
  entry(ladder: Ladder, end: number): Entry | undefined {
    const purpose = this.purpose(ladder, end);
    return purpose && this.columns[end >> RUNG_BITS]?.cells[purpose.id];
  }

  purpose(ladder: Ladder, end: number): Purpose | undefined {
    return end === NOWHERE ? undefined : ladder[end & ((1 << RUNG_BITS) - 1)];
  }

  /** Returns the bits of `STATE` of the text. */
  state(ladder: Ladder, end: number): number {
    const purpose = this.purpose(ladder, end);
    return purpose ? (this.columns[end >> RUNG_BITS]?.state(purpose.id) ?? 0) : 0;
  }
}
