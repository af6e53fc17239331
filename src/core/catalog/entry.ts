import type { Locale } from '../locale/tag.js';
import { compileTree, type CompileOptions, type Format } from '../message/compile.js';
import { parseMessage } from '../message/parse.js';
import { MessageSyntaxError } from '../message/syntax-error.js';
import { argumentsOf, type Message, type Span } from '../message/tree.js';
import type { Origin } from '../origin.js';

/** One text of a catalog. It is parsed when somebody first asks, compiled when it is first formatted, and kept. */
export class Entry {
  private parsed: Message | MessageSyntaxError | undefined;
  private compiled: Format | undefined;
  private names: Map<string, Span> | undefined;

  constructor(
    readonly text: string,
    readonly locale: Locale,
    readonly origin: Origin,
    readonly details: {
      readonly note?: string;
      readonly limit?: number;
      /** Reasons by kind of finding, for leaving the text as it is. */
      readonly excused?: Readonly<Record<string, string>>;
    } = {},
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
    return (this.names ??= argumentsOf(this.tree));
  }

  /** The compiled message. The options of the first call hold: one workspace has one time zone. */
  format(options: CompileOptions): Format {
    return (this.compiled ??= compileTree(this.tree, this.locale, { ...options, isolate: true }));
  }
}
