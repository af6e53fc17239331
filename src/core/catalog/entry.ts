import type { Locale } from '../locale/tag.js';
import { compileTree, type CompileOptions, type Format } from '../message/compile.js';
import { parseMessage } from '../message/parse.js';
import { MessageSyntaxError } from '../message/syntax-error.js';
import { argumentsOf, walk, type CasesNode, type Message, type Span, type TextNode } from '../message/tree.js';
import type { Origin } from '../origin.js';

const NO_NAMES: ReadonlyMap<string, Span> = new Map();
const NO_DETAILS = {};
const NO_CASES: readonly CasesNode[] = [];

/** One text of a catalog. It is parsed when somebody first asks, compiled when it is first formatted, and kept. */
export class Entry {
  private parsed: Message | MessageSyntaxError | undefined;
  private compiled: Format | undefined;
  private names: ReadonlyMap<string, Span> | undefined;

  constructor(
    readonly text: string,
    readonly locale: Locale,
    readonly origin: Origin,
    readonly details: {
      readonly note?: string;
      readonly limit?: number;
      /** Reasons by kind of finding, for leaving the text as it is. */
      readonly excused?: Readonly<Record<string, string>>;
    } = NO_DETAILS,
  ) {}

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

  /** What is wrong with the text, or nothing. */
  get error(): MessageSyntaxError | undefined {
    const parsed = this.parse();
    return parsed instanceof MessageSyntaxError ? parsed : undefined;
  }

  /** The tree; of a broken text, an empty one. */
  get tree(): Message {
    const parsed = this.parse();
    return parsed instanceof MessageSyntaxError ? [] : parsed;
  }

  get arguments(): ReadonlyMap<string, Span> {
    if (this.names) return this.names;
    const names = argumentsOf(this.tree);
    return (this.names = names.size === 0 ? NO_NAMES : names);
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
