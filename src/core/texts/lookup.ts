import type { Locale } from '../locale/tag.js';
import type { Pattern } from '../path/path.js';
import type { Phrase } from './phrase.js';
import type { FrameName, WordGroup } from './purpose.js';

/** A rule's keys, the most special first, at a place of a form. */
export interface Question {
  readonly form: string;
  readonly path: Pattern;
  readonly keys: readonly string[];
}

/**
 * The texts that answers are made of: those of a workspace, or of a pack, which has them looked up
 * already.
 */
export interface TextLookup {
  /** Becomes another when there are texts for more places than before. */
  readonly version: number;
  /**
   * The class of a path: a place or key that no text names literally is an open one. All paths of a
   * class have the same texts.
   * @param named what else stays as it is: names and places that the rules of a form know
   */
  classOf(path: Pattern, named: ReadonlySet<string | number>): Pattern;
  /**
   * The messages in the language of the first, in the order in which they are used: where one
   * cannot be said, the next may.
   */
  messages(question: Question, locale: Locale): readonly Phrase[];
  /**
   * The text of a message for beside the input, where it has one: another message's would not say
   * what the sentence says.
   */
  inline(message: Phrase): Phrase | undefined;
  /**
   * A field's label, with its forms, for a sentence in `sentence`, out of the chain of `locale`.
   */
  label(form: string, path: Pattern, locale: Locale, sentence: Locale): Phrase | undefined;
  /** The name of an enumerated value. */
  choice(
    form: string,
    path: Pattern,
    value: string,
    locale: Locale,
    sentence: Locale,
  ): Phrase | undefined;
  /** Returns the word for a value of a parameter, with its forms. */
  word(
    form: string,
    group: WordGroup,
    name: string,
    locale: Locale,
    sentence: Locale,
  ): Phrase | undefined;
  /**
   * How a sentence's language joins what is inserted; nothing where it does not say, since another
   * language's way is none.
   */
  frame(form: string, name: FrameName, locale: Locale, sentence: Locale): Phrase | undefined;
  /** The texts of a problem of the whole request, each from the first place that has it. */
  problem(
    form: string,
    id: string,
    locale: Locale,
  ): { readonly title: Phrase | undefined; readonly detail: Phrase | undefined };
}
