import type { Locale } from '../locale/tag.js';
import { compileTree, type Arguments, type CompileOptions, type Format } from '../message/compile.js';
import { parseMessage } from '../message/parse.js';
import { plainSignature } from '../message/simple.js';
import { Signature } from '../message/signature.js';
import { MessageSyntaxError } from '../message/syntax-error.js';
import { MAY_HOLD, whatMayBeIn } from '../message/may-hold.js';
import { argumentsOf, walk, type CasesNode, type Message, type Span, type TextNode } from '../message/tree.js';
import type { Origin } from '../origin.js';
import type { Purpose, Slot } from './purpose.js';

const NO_DETAILS: EntryDetails = {};
const NO_FORMS: ReadonlyMap<string, Entry> = new Map();
const NO_CASES: readonly CasesNode[] = [];

/** What a catalog says of a text. */
export interface EntryDetails {
  readonly note?: string;
  readonly limit?: number;
  /** Reasons by kind of finding, for leaving the text as it is. */
  readonly excused?: Readonly<Record<string, string>>;
  /** Of a label or a word: its grammatical forms by name (`accusative`, `genitive`, …), and its gender. */
  readonly forms?: ReadonlyMap<string, Entry>;
  readonly gender?: string;
  /** Of a message: the text for beside the input. */
  readonly inline?: Entry;
  /** Whether the file has an object there, with the text as a member. */
  readonly inObject?: true;
}

/** The file that a text stands in, and what it speaks. */
export interface EntrySource {
  readonly file: string;
  readonly locale: Locale;
}

/** What is made of a text when somebody asks. */
interface Work {
  readonly tree: Message;
  readonly error?: MessageSyntaxError;
  signature?: Signature;
  compiled?: Format;
}

function workOn(text: string): Work {
  try {
    return { tree: parseMessage(text) };
  } catch (error) {
    if (error instanceof MessageSyntaxError) return { tree: [], error };
    throw error;
  }
}

/** One text of a catalog. It is parsed when somebody first asks, compiled when it is first formatted, and kept. */
export class Entry {
  /** The names of its arguments, once they are known without the parser; `null` where only that tells. */
  private plain: Signature | null | undefined = undefined;
  private work: Work | undefined = undefined;
  private readonly ready?: () => Message;

  constructor(
    readonly text: string,
    private readonly source: EntrySource,
    /** What it is there for, and the keys that lead to it. */
    readonly slot: Slot,
    readonly details: EntryDetails = NO_DETAILS,
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

  /** What it is there for. */
  get purpose(): Purpose {
    return this.slot.purpose;
  }

  /** Of a label or a word, its grammatical forms by name. */
  get forms(): ReadonlyMap<string, Entry> {
    return this.details.forms ?? NO_FORMS;
  }

  /** Where its text stands. */
  get origin(): Origin {
    const { keys } = this.slot;
    return { file: this.file, keys: this.details.inObject ? [...keys, 'text'] : keys };
  }

  private get worked(): Work {
    return (this.work ??= this.ready ? { tree: this.ready() } : workOn(this.text));
  }

  /** Whether the text is no more than words and names in braces; such a one is not broken and has no cases. */
  get isPlain(): boolean {
    if (this.plain === undefined) this.plain = plainSignature(this.text) ?? null;
    return this.plain !== null;
  }

  /** What the text may hold, as bits of `MAY_HOLD`. */
  get mayHold(): number {
    return (
      whatMayBeIn(this.text, this.isPlain) |
      (this.isPlain ? 0 : MAY_HOLD.structured) |
      (this.details === NO_DETAILS ? 0 : MAY_HOLD.details)
    );
  }

  /** What is wrong with the text, or nothing. */
  get error(): MessageSyntaxError | undefined {
    return this.isPlain ? undefined : this.worked.error;
  }

  /** The tree; of a broken text, an empty one. */
  get tree(): Message {
    return this.worked.tree;
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
    const { worked } = this;
    return (worked.compiled ??= compileTree(worked.tree, this.locale, { ...options, isolate: true }));
  }

  /** The same where some arguments are the same each time. */
  formatKnowing(known: Arguments, options: CompileOptions): Format {
    return compileTree(this.tree, this.locale, { ...options, isolate: true, known });
  }
}
