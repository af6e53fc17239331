import type { AnswerOptions, DetailOption } from '../body/answer.js';
import type { Texts } from '../texts/ladder.js';
import type { Parents } from '../locale/chain.js';
import type { Locale } from '../locale/tag.js';
import type { ShapeOptions } from '../body/shapes/shape.js';
import type { PackTree } from './trees.js';
import { type Field, type Form } from '../rules/form.js';

/** A text of a pack; `locale` where it is in another language than the pack. */
export interface PackText {
  readonly text: string;
  readonly locale?: string;
  /** The key of a message in its catalog, where that is not the code of its rule. */
  readonly key?: string;
  /** Of a message: the text for beside the input. */
  readonly inline?: string;
}

/** A label, or a word for a value. */
export interface PackLabel extends PackText {
  readonly gender?: string;
  /** Inflections by name. */
  readonly inflections?: Readonly<Record<string, string>>;
  /** The pattern that it is written for, where that is another than the field's. */
  readonly of?: string;
}

/** A text, or several where one that cannot be said leaves it to the next. */
export type PackRungs = PackText | readonly PackText[];

export interface PackRule {
  readonly rule: string;
  readonly as?: string;
  readonly external?: true;
  /** The problem of the whole request that it is when it is broken. */
  readonly problem?: string;
  readonly params: Readonly<Record<string, unknown>>;
  /** The other field that the rule names. */
  readonly field?: string;
  /** Absent where nobody wrote a text. */
  readonly message?: PackRungs;
}

export interface PackField {
  readonly path: string;
  readonly in?: Field['in'];
  readonly secret?: true;
  /** Null and blank texts count as missing. */
  readonly blank?: true;
  /** In the pack's language, then in those of messages that fell back. */
  readonly labels: readonly PackLabel[];
  /** Names of enumerated values. */
  readonly choices?: Readonly<Record<string, PackText>>;
  readonly rules: readonly PackRule[];
  /** Messages by key, for rules that the field does not declare. */
  readonly messages?: Readonly<Record<string, PackRungs>>;
  /** No field of its own, but what is said of one where its path has this place or key. */
  readonly texts?: true;
}

/**
 * How what is inserted is joined, by the name of the frame, and words for values by group and name,
 * each for every language of the pack.
 */
export interface PackWording {
  readonly frames?: Readonly<Record<string, readonly PackText[]>>;
  readonly words?: Readonly<Record<string, readonly PackLabel[]>>;
}

/** Texts of problems by name. */
export type PackProblems = Readonly<
  Record<string, { readonly title?: PackText; readonly detail?: PackText }>
>;

export interface PackForm extends PackWording {
  readonly request?: string;
  readonly partial?: true;
  readonly fields: readonly PackField[];
  /** Messages by key, for rules that no field declares. */
  readonly messages?: Readonly<Record<string, PackRungs>>;
  /** Texts of problems that are written for the form. */
  readonly problems?: PackProblems;
  /**
   * Where definitions stand whose fields are listed once: their paths begin with the definition
   * (`Component::name`).
   */
  readonly joins?: readonly PackJoin[];
}

export interface PackJoin {
  readonly path: string;
  readonly in?: Field['in'];
  /** The path of the definition: `Component::`. */
  readonly to: string;
  /** One of several that may stand there. */
  readonly isChoice?: true;
}

/**
 * All that is needed to answer in one language: every lookup resolved, every text a plain ICU
 * message.
 */
export interface Pack extends PackWording {
  /** The format's version. */
  readonly pack: 1;
  readonly locale: string;
  /** The other languages that texts of the pack are in, in the order in which they are asked. */
  readonly fallbacks?: readonly string[];
  /** SHA-256 of the rest, in hexadecimal. */
  readonly hash: string;
  readonly settings: {
    readonly original: string;
    /** The locale that comes before shorter tags, by tag; only what leads to an offered locale. */
    readonly parents?: Parents;
    readonly zone: string;
    readonly shorten: number;
    readonly perField: 'all' | 'first';
    /** The most violations in an answer; 100 where an older pack has no number. */
    readonly maxViolations?: number;
    readonly typeBase?: string;
    /** Whether texts beside the inputs are included. */
    readonly inline?: true;
    readonly style?: PackStyle;
    /** The detail of broken rules, where it is not a text of its own. */
    readonly detail?: DetailOption;
    /** For whom answers are: clients, where absent. */
    readonly audience?: 'developer';
    /** Answers for developers are refused. */
    readonly production?: true;
  };
  readonly problems: Readonly<
    Record<
      string,
      { readonly status: number; readonly title?: PackText; readonly detail?: PackText }
    >
  >;
  /** Messages by key, for rules that a form does not declare. */
  readonly messages: Readonly<Record<string, PackRungs>>;
  /** The labels of fields of any form, for places that a form does not declare. */
  readonly fields?: readonly PackField[];
  readonly forms: Readonly<Record<string, PackForm>>;
  /**
   * Messages with more than names in braces, parsed, by their texts; only in packs for programs
   * without a parser.
   */
  readonly trees?: Readonly<Record<string, PackTree>>;
}

/** How bodies are laid out, where that is not as `DEFAULT_SHAPE_OPTIONS` has it. */
export interface PackStyle extends Partial<ShapeOptions> {
  /** The name of the shape; `problem` where absent. */
  readonly shape?: string;
  /** Shapes of one's own, by name: templates. */
  readonly shapes?: Readonly<
    Record<string, { readonly mediaType: string; readonly body: unknown }>
  >;
}

/** The source of a pack. */
export interface PackSource {
  readonly forms: readonly Form[];
  readonly texts: Texts;
  readonly original: Locale;
  readonly parents: Parents;
  readonly options: AnswerOptions;
  readonly style?: PackStyle;
  /** For whom answers are, and whether none may be for developers. */
  readonly audience?: 'client' | 'developer';
  readonly production?: boolean;
  /** The keys of the vocabulary, whose general messages go along. */
  readonly rules: readonly string[];
  /** Whether the forms are some of the workspace's: the pack then has only what these need. */
  readonly isPart?: boolean;
}
