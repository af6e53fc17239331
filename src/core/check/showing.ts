import type { Signature } from '../message/signature.js';
import type { Catalog } from '../texts/catalog.js';
import type { Entry } from '../texts/entry.js';
import { titleOf } from '../texts/titles.js';
import type { TextKind } from '../texts/purpose.js';
import { CheckedText } from './subject/checked-text.js';
import type { Context } from './subject/context.js';
import type { Looks } from './subject/kind.js';

/**
 * Whom texts for one purpose are shown to, as long as they ask for the same and may hold the same.
 */
interface Audience {
  readonly signature: Signature;
  readonly holds: number;
  readonly texts: readonly ((checked: CheckedText) => void)[];
  /** Those of texts that ask for, or may hold, something else. */
  readonly next: Audience | undefined;
}

/** Shows texts to the kinds that look for something that they may hold. */
export class Showing {
  private readonly originals: readonly (Entry | undefined)[];
  /**
   * By the sort of a text and what it may hold, who looks for that: these are some dozens, and the
   * texts many.
   */
  private readonly looking: Readonly<Record<TextKind, Looks[][]>> = {
    message: [],
    inline: [],
    label: [],
    choice: [],
    word: [],
    frame: [],
    problem: [],
  };
  private readonly audiences: (Audience | undefined)[] = [];

  constructor(
    private readonly context: Context,
    private readonly looks: readonly Looks[],
  ) {
    const { table, subject } = context;
    this.originals = table.column(subject.original).cells;
  }

  private lookersFor(kind: TextKind, holds: number): readonly Looks[] {
    return (this.looking[kind][holds] ??= this.looks.filter(
      ({ text, needs, sorts }) =>
        text && (needs === undefined || (holds & needs) !== 0) && (sorts?.includes(kind) ?? true),
    ));
  }

  show(catalog: Catalog, entry: Entry): void {
    const { context, originals, audiences } = this;
    const { purpose, signature, mayHold: holds } = entry;
    const { id, kind } = purpose;
    // Translations mostly ask for the same as the original, and what is fine with the one is so
    // with all.
    let audience = audiences[id];
    while (audience && (audience.signature !== signature || audience.holds !== holds))
      audience = audience.next;
    if (audience?.texts.length === 0) return;
    const original = originals[id] ?? titleOf(context.table, purpose);
    const checked = new CheckedText(catalog, entry, context.rowsFor(purpose), original);
    if (!audience) {
      const texts = this.lookersFor(kind, holds).flatMap(({ text, purposes, concerns }) =>
        text && (purposes?.(purpose) ?? true) && (concerns?.(checked) ?? true) ? [text] : [],
      );
      audiences[id] = audience = { signature, holds, texts, next: audiences[id] };
    }
    for (const text of audience.texts) text(checked);
  }
}
