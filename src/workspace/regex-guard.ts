import vm from 'node:vm';

/** How long one text may keep a regular expression busy, in milliseconds. */
const LIMIT = 100;
/** So short a text keeps no expression busy for long. */
const SHORT = 12;

/**
 * Runs the regular expressions of rules on texts that clients chose. Each call has a time limit, since some expressions
 * take time that grows without bound; one that has used it up once is not tried on longer texts again.
 */
export class RegexGuard {
  private readonly compiled = new Map<string, RegExp | undefined>();
  private readonly context: { regex?: RegExp; text?: string } = vm.createContext({});
  private readonly script = new vm.Script('regex.test(text)');
  private readonly slowFrom = new Map<string, number>();
  private readonly trusted = new Set<string>();

  /** The expressions that ran into the limit. */
  get slow(): readonly string[] {
    return [...this.slowFrom.keys()];
  }

  /** Looks at expressions beforehand: those that cannot take long are run without a watch. */
  async prepare(sources: Iterable<string>): Promise<void> {
    const { isLinear } = await import('./checking/slow-regex.js');
    for (const source of sources) if (isLinear(source)) this.trusted.add(source);
  }

  /** Whether the text matches; undefined where it took too long to tell. */
  readonly matches = (source: string, text: string): boolean | undefined => {
    const regex = this.compile(source);
    if (!regex) return undefined;
    if (text.length <= SHORT || this.trusted.has(source)) return regex.test(text);
    if (text.length >= (this.slowFrom.get(source) ?? Infinity)) return undefined;
    this.context.regex = regex;
    this.context.text = text;
    try {
      return this.script.runInContext(this.context, { timeout: LIMIT }) === true;
    } catch {
      this.slowFrom.set(source, text.length);
      return undefined;
    }
  };

  private compile(source: string): RegExp | undefined {
    if (!this.compiled.has(source)) {
      let regex: RegExp | undefined;
      try {
        regex = new RegExp(source, 'u');
      } catch {
        // A schema may hold what is no expression with Unicode's rules but is one without them (JSON Schema Core section 6.4).
        try {
          regex = new RegExp(source);
        } catch {
          regex = undefined;
        }
      }
      this.compiled.set(source, regex);
    }
    return this.compiled.get(source);
  }
}
