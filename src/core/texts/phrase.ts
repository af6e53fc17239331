import { sameLanguage } from '../locale/chain.js';
import type { Locale } from '../locale/tag.js';
import {
  compileTree,
  type Arguments,
  type CompileOptions,
  type Format,
} from '../message/compile.js';
import { readMessage } from '../message/parse.js';
import { plainSignature } from '../message/simple.js';
import { Signature } from '../message/signature.js';
import { MessageError } from '../message/syntax-error.js';
import type { Pattern } from '../path/path.js';
import { argumentsOf, type Message, type Span } from '../message/tree.js';

const NO_INFLECTIONS: ReadonlyMap<string, Phrase> = new Map();
const NO_DETAILS: PhraseDetails = {};

/** The details of a label or a word. */
export interface PhraseDetails {
  /** Its inflections by name (`accusative`, `genitive`, …). */
  readonly inflections?: ReadonlyMap<string, Phrase>;
  readonly gender?: string;
  /** The key of a message in its catalog. */
  readonly key?: string;
  /** Of a message: the text for beside the input. */
  readonly inline?: Phrase;
}

/** The file that a text stands in, empty where nobody knows it, and what it speaks. */
export interface PhraseSource {
  readonly file: string;
  readonly locale: Locale;
  /** The pattern of the field that it is said of. */
  readonly field?: Pattern | undefined;
}

/** The parts of a text that are made when somebody asks. */
interface Work {
  tree: Message | undefined;
  readonly error?: MessageError;
  signature?: Signature;
  /** For the locale that asked last. */
  compiled?: { readonly locale: Locale; readonly format: Format };
}

function workOn(
  text: string,
  read: () => Message = () => readMessage(text),
): Work & { readonly tree: Message } {
  try {
    return { tree: read() };
  } catch (error) {
    if (error instanceof MessageError) return { tree: [], error };
    throw error;
  }
}

/**
 * A text that can be said. It is parsed when somebody first asks, compiled when it is first
 * formatted, and kept.
 */
export class Phrase {
  /**
   * The names of its arguments, once they are known without the parser; `null` where only the
   * parser finds them.
   */
  private plain: Signature | null | undefined = undefined;
  private work: Work | undefined = undefined;
  private readonly ready?: () => Message;

  constructor(
    readonly text: string,
    private readonly source: PhraseSource,
    readonly details: PhraseDetails = NO_DETAILS,
    /** The text parsed already, where it comes so. */
    ready?: () => Message,
  ) {
    if (ready) this.ready = ready;
  }

  get file(): string {
    return this.source.file;
  }

  get locale(): Locale {
    return this.source.locale;
  }

  /** The pattern of the field that it is said of; nothing where it is said of all. */
  get about(): Pattern | undefined {
    return this.source.field;
  }

  /** Of a message its key in its catalog, as far as that is known. */
  get key(): string | undefined {
    return this.details.key;
  }

  /** Of a label or a word, its inflections by name. */
  get inflections(): ReadonlyMap<string, Phrase> {
    return this.details.inflections ?? NO_INFLECTIONS;
  }

  private get worked(): Work {
    return (this.work ??= workOn(this.text, this.ready));
  }

  /**
   * Whether the text is no more than words and names in braces; such a one is not broken and has no
   * cases.
   */
  get isPlain(): boolean {
    if (this.plain === undefined) this.plain = plainSignature(this.text) ?? null;
    return this.plain !== null;
  }

  /** The fault of the text, or nothing. */
  get error(): MessageError | undefined {
    return this.isPlain ? undefined : this.worked.error;
  }

  /** The tree; of a broken text, an empty one. */
  get tree(): Message {
    return (this.worked.tree ??= workOn(this.text, this.ready).tree);
  }

  /** Drops the tree, which is large; it is parsed again when it is asked for. */
  dropTree(): void {
    if (this.work) this.work.tree = undefined;
  }

  /** The names of its arguments, in cases too. */
  get signature(): Signature {
    if (this.isPlain && this.plain) return this.plain;
    const { worked } = this;
    if (!worked.signature) {
      worked.signature = Signature.NONE;
      for (const name of this.arguments.keys()) worked.signature = worked.signature.with(name);
    }
    return worked.signature;
  }

  /** The names of its arguments, each with the place of its first use. */
  get arguments(): ReadonlyMap<string, Span> {
    return argumentsOf(this.tree);
  }

  /** The locale of numbers and dates: the region that asks, where it speaks this language. */
  private writtenIn(asking: Locale): Locale {
    return sameLanguage(asking, this.locale) ? asking : this.locale;
  }

  /**
   * The compiled message. The options of the first call hold: one workspace has one time zone.
   * @param asking the locale of the sentence that it is in
   */
  format(options: CompileOptions, asking: Locale): Format {
    const { worked } = this;
    const locale = this.writtenIn(asking);
    if (worked.compiled?.locale !== locale)
      worked.compiled = {
        locale,
        format: compileTree(this.tree, locale, { ...options, isolate: true }),
      };
    return worked.compiled.format;
  }

  /** Returns a format where some arguments are the same each time. */
  formatKnowing(known: Arguments, options: CompileOptions, asking: Locale): Format {
    return compileTree(this.tree, this.writtenIn(asking), { ...options, isolate: true, known });
  }
}
