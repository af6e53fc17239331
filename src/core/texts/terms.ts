import { getOrMake } from '../base/get-or-make.js';
import { truncations } from '../locale/chain.js';
import { PARENTS } from '../locale/parents.js';
import type { Locale } from '../locale/tag.js';

/** The term of a concept in one language. */
export interface Term {
  readonly text: string;
  /** Other forms of the term, such as its plural. */
  readonly forms: readonly string[];
  /** Words that must not be used for it. */
  readonly never: readonly string[];
}

/** A thing that people of a house talk of, with its terms by language. */
export interface Concept {
  readonly id: string;
  readonly note?: string | undefined;
  readonly terms: ReadonlyMap<Locale, Term>;
}

/** A word of a text that is a term, or must not be one. */
export interface Met {
  readonly concept: Concept;
  readonly term: Term;
  /** As the text has it, and where, in UTF-16 units from 0. */
  readonly word: string;
  readonly offset: number;
}

/** Scripts that put no blanks between words. */
const UNSPACED =
  /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Thai}\p{sc=Lao}\p{sc=Khmer}\p{sc=Myanmar}]/u;

const escaped = (word: string): string =>
  word.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&').replace(/\s+/g, '\\s+');

const folded = (word: string, locale: Locale): string =>
  word.normalize('NFC').replace(/\s+/g, ' ').toLocaleLowerCase(locale);

/** Finds words in texts of one language. */
class Finder {
  private readonly regex: RegExp | undefined;
  private readonly known = new Map<string, { concept: Concept; term: Term }[]>();

  constructor(
    private readonly locale: Locale,
    words: Iterable<readonly [word: string, concept: Concept, term: Term]>,
  ) {
    for (const [word, concept, term] of words) {
      const id = folded(word, locale);
      if (id.trim() === '') continue;
      getOrMake(this.known, id, () => []).push({ concept, term });
    }
    // Of two that begin at one place, the longer one is meant.
    const all = [...this.known.keys()].sort((one, other) => other.length - one.length);
    const bounded = all.map((word) =>
      UNSPACED.test(word)
        ? escaped(word)
        : `(?<![\\p{L}\\p{N}\\p{M}])${escaped(word)}(?![\\p{L}\\p{N}\\p{M}])`,
    );
    this.regex = all.length === 0 ? undefined : new RegExp(bounded.join('|'), 'giu');
  }

  in(text: string): Met[] {
    if (!this.regex) return [];
    return [...text.matchAll(this.regex)].flatMap(({ 0: word, index }) =>
      (this.known.get(folded(word, this.locale)) ?? []).map((one) => ({
        ...one,
        word,
        offset: index,
      })),
    );
  }
}

/** The terms of a workspace. */
export class Terms {
  private readonly good = new Map<Locale, Finder>();
  private readonly bad = new Map<Locale, Finder>();

  constructor(readonly concepts: readonly Concept[]) {}

  /** Returns the term of a concept in a language; a region has its language's. */
  of({ terms }: Concept, locale: Locale): Term | undefined {
    for (const one of [locale, ...truncations(locale, PARENTS)]) {
      const term = terms.get(one);
      if (term) return term;
    }
    return undefined;
  }

  private finder(
    kept: Map<Locale, Finder>,
    locale: Locale,
    wordsOf: (term: Term) => readonly string[],
  ): Finder {
    const known = kept.get(locale);
    if (known) return known;
    const words = this.concepts.flatMap((concept) => {
      const term = this.of(concept, locale);
      return term ? wordsOf(term).map((word) => [word, concept, term] as const) : [];
    });
    const made = new Finder(locale, words);
    kept.set(locale, made);
    return made;
  }

  /** The terms in a text. */
  in(text: string, locale: Locale): Met[] {
    return this.finder(this.good, locale, (term) => [term.text, ...term.forms]).in(text);
  }

  /** The words in a text that must not be used. */
  avoidedIn(text: string, locale: Locale): Met[] {
    return this.finder(this.bad, locale, ({ never }) => never).in(text);
  }
}

/** A term in the form for translators. */
export interface ToldTerm {
  readonly term: string;
  readonly translation: string | undefined;
  readonly never: readonly string[];
  readonly note: string | undefined;
}

/** The terms of a text of the original, each once, with what they are in another language. */
export function termsFor(terms: Terms, text: string, original: Locale, locale: Locale): ToldTerm[] {
  const concepts = new Map(terms.in(text, original).map(({ concept, term }) => [concept, term]));
  return Array.from(concepts, ([concept, { text: term }]) => {
    const other = terms.of(concept, locale);
    return { term, translation: other?.text, never: other?.never ?? [], note: concept.note };
  });
}

/** Returns the term on one line: `berth = Bett (never Koje)`. */
export const toldTerm = ({ term, translation, never }: ToldTerm): string =>
  `${term}${translation === undefined ? '' : ` = ${translation}`}${never.length === 0 ? '' : ` (never ${never.join(', ')})`}`;
