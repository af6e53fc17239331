import { MAY_HOLD, whatMayBeIn } from '../message/may-hold.js';
import { walk, type CasesNode, type TextNode } from '../message/tree.js';
import type { Origin } from '../origin.js';
import type { Pattern } from '../path/path.js';
import { Phrase, type PhraseDetails, type PhraseSource } from './phrase.js';
import type { Purpose, Slot } from './purpose.js';

const NO_DETAILS: EntryDetails = {};
const NO_INFLECTIONS: ReadonlyMap<string, Entry> = new Map();
const NO_CASES: readonly CasesNode[] = [];

/** The details of a text in a catalog. */
export interface EntryDetails extends PhraseDetails {
  readonly note?: string;
  readonly room?: number;
  /** Reasons by kind of finding, for leaving the text as it is. */
  readonly excused?: Readonly<Record<string, string>>;
  readonly inflections?: ReadonlyMap<string, Entry>;
  readonly inline?: Entry;
  /** Whether the file has an object there, with the text as a member. */
  readonly inObject?: true;
}

const NOT_LOOKED = -1;

/** One text of a catalog. */
export class Entry extends Phrase {
  private held = NOT_LOOKED;

  constructor(
    text: string,
    source: PhraseSource,
    /** Its purpose, and the keys that lead to it. */
    readonly slot: Slot,
    override readonly details: EntryDetails = NO_DETAILS,
  ) {
    super(text, source, details);
  }

  override get inflections(): ReadonlyMap<string, Entry> {
    return this.details.inflections ?? NO_INFLECTIONS;
  }

  override get about(): Pattern | undefined {
    return this.purpose.field?.pattern;
  }

  override get key(): string {
    return this.purpose.key;
  }

  /** Its purpose. */
  get purpose(): Purpose {
    return this.slot.purpose;
  }

  /** Where its text stands. */
  get origin(): Origin {
    const { keys } = this.slot;
    return { file: this.file, keys: this.details.inObject ? [...keys, 'text'] : keys };
  }

  /** The bits of `MAY_HOLD` for the text. */
  get mayHold(): number {
    if (this.held === NOT_LOOKED)
      this.held =
        whatMayBeIn(this.text, this.isPlain) |
        (this.isPlain ? 0 : MAY_HOLD.structured) |
        (this.details === NO_DETAILS ? 0 : MAY_HOLD.details);
    return this.held;
  }

  /** Returns the literal parts of the text, in cases too. */
  textNodes(): readonly TextNode[] {
    const { tree } = this;
    // Most texts have no cases, and then nothing has to be walked through.
    if (!tree.some((node) => 'cases' in node)) return tree.filter((node) => node.kind === 'text');
    const found: TextNode[] = [];
    walk(tree, (node) => {
      if (node.kind === 'text') found.push(node);
    });
    return found;
  }

  /** Its plurals and selects, outer ones first. */
  caseNodes(): readonly CasesNode[] {
    if (this.isPlain) return NO_CASES;
    const { tree } = this;
    if (!tree.some((node) => 'cases' in node)) return NO_CASES;
    const found: CasesNode[] = [];
    walk(tree, (node) => {
      if ('cases' in node) found.push(node);
    });
    return found;
  }
}

/** The text of a catalog that was said; none of a pack is one. */
export const entryOf = (phrase: Phrase | undefined): Entry | undefined =>
  phrase instanceof Entry ? phrase : undefined;
