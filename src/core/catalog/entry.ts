import type { Locale } from '../locale/tag.js';
import { compileTree, type CompileOptions, type Format } from '../message/compile.js';
import { parseMessage } from '../message/parse.js';
import { plainSignature } from '../message/simple.js';
import { Signature } from '../message/signature.js';
import { MessageSyntaxError } from '../message/syntax-error.js';
import { TRAIT, traitsOf } from '../message/traits.js';
import { argumentsOf, walk, type CasesNode, type Message, type Span, type TextNode } from '../message/tree.js';
import type { Origin } from '../origin.js';

const NO_DETAILS = {};
const NO_CASES: readonly CasesNode[] = [];

/** What a catalog says of a text. */
export interface EntryDetails {
  readonly note?: string;
  readonly limit?: number;
  /** Reasons by kind of finding, for leaving the text as it is. */
  readonly excused?: Readonly<Record<string, string>>;
}

/** One text of a catalog. It is parsed when somebody first asks, compiled when it is first formatted, and kept. */
export class Entry {
  private parsed: Message | MessageSyntaxError | undefined;
  private compiled: Format | undefined;
  private plain: boolean | undefined;

  constructor(
    readonly text: string,
    readonly locale: Locale,
    /** Where the text stands, or with a key what it stands in. */
    private readonly around: Origin,
    readonly details: EntryDetails = NO_DETAILS,
    private readonly key?: string,
    /** The signature of a plain text, where somebody knows it already. */
    private asks?: Signature,
  ) {
    if (asks) this.plain = true;
  }

  /** The file that the text stands in. */
  get file(): string {
    return this.around.file;
  }

  get origin(): Origin {
    const { file, keys } = this.around;
    return { file, keys: this.key === undefined ? keys : [...keys, this.key] };
  }

  private parse(): Message | MessageSyntaxError {
    if (this.parsed) return this.parsed;
    try {
      this.parsed = parseMessage(this.text);
    } catch (error) {
      if (!(error instanceof MessageSyntaxError)) throw error;
      this.parsed = error;
    }
    return this.parsed;
  }

  /** Whether the text is no more than words and names in braces; such a one is not broken and has no cases. */
  get isPlain(): boolean {
    if (this.plain !== undefined) return this.plain;
    this.asks = plainSignature(this.text);
    return (this.plain = this.asks !== undefined);
  }

  /** What the text may hold, as bits of `TRAIT`. */
  get traits(): number {
    return traitsOf(this.text, this.isPlain) | (this.isPlain ? 0 : TRAIT.structured);
  }

  /** What is wrong with the text, or nothing. */
  get error(): MessageSyntaxError | undefined {
    if (this.isPlain) return undefined;
    const parsed = this.parse();
    return parsed instanceof MessageSyntaxError ? parsed : undefined;
  }

  /** The tree; of a broken text, an empty one. */
  get tree(): Message {
    const parsed = this.parse();
    return parsed instanceof MessageSyntaxError ? [] : parsed;
  }

  /** The names of its arguments, in cases too. */
  get signature(): Signature {
    if (this.asks || this.isPlain) return this.asks ?? Signature.NONE;
    let signature = Signature.NONE;
    for (const name of this.arguments.keys()) signature = signature.with(name);
    return (this.asks = signature);
  }

  /** The names of its arguments, each with the place of its first use. */
  get arguments(): ReadonlyMap<string, Span> {
    return argumentsOf(this.tree);
  }

  /** What the text writes itself, in cases too. */
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

  /** The compiled message. The options of the first call hold: one workspace has one time zone. */
  format(options: CompileOptions): Format {
    return (this.compiled ??= compileTree(this.tree, this.locale, { ...options, isolate: true }));
  }
}
