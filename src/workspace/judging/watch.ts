import vm from 'node:vm';
import { systemCodeOf } from '../disk/system-error.js';

/** How long the judging of one request may take, in milliseconds, where nobody says otherwise. */
export const DEFAULT_BUDGET = 1000;

/** Thrown where the time runs out: the value is neither valid nor invalid. */
export class OutOfTime extends Error {
  override name = 'OutOfTime';
  constructor(
    /** The regular expression that took the time, where one did. */
    readonly regex: string | undefined,
    readonly budget: number,
  ) {
    super(
      regex === undefined
        ? `the request could not be validated within ${budget} ms`
        : `the regular expression ${regex.slice(0, 200)} could not be tried within ${budget} ms; simplify it`,
    );
  }
}

/** The share of the budget from which one expression counts as the cause. */
const SHARE = 0.25;

/** The share that it gets for one text after that. */
const SMALL = 0.02;

/**
 * How often a text is tried with the small budget: a thread that waits for a busy machine loses
 * more than a small budget without doing anything, but seldom so many times in a row.
 */
const TRIES = 3;

/**
 * One time budget for all that a request asks for: regular expressions, formats, schemas, lists
 * without end. What runs out is stopped wherever it is. An expression that took a large part of a
 * budget has a small one for each text from then on: texts that it answers quickly, as it does
 * nearly all, are judged as ever, and the others cost little.
 */
export class Watch {
  private readonly script = new vm.Script('work()');
  private readonly context: { work?: () => void } = vm.createContext({});
  private readonly compiled = new Map<string, RegExp | undefined>();
  private readonly slow = new Set<string>();
  private readonly brief: { work?: () => boolean } = vm.createContext({});
  private running = false;
  private trying: { readonly source: string; readonly since: number } | undefined;

  constructor(readonly budget: number = DEFAULT_BUDGET) {}

  /**
   * Does work within the budget.
   * @throws {OutOfTime}
   */
  within<T>(work: () => T): T {
    if (this.running) return work();
    const done: T[] = [];
    this.running = true;
    this.trying = undefined;
    this.context.work = () => {
      done.push(work());
    };
    try {
      // The time limit of a script holds for all that it calls, wherever that comes from (Node's
      // documentation of vm).
      this.script.runInContext(this.context, { timeout: this.budget });
    } catch (error) {
      if (systemCodeOf(error) !== 'ERR_SCRIPT_EXECUTION_TIMEOUT') throw error;
      throw new OutOfTime(this.blame(), this.budget);
    } finally {
      this.running = false;
      delete this.context.work;
    }
    return done[0] as T;
  }

  private blame(): string | undefined {
    const { trying } = this;
    if (!trying || performance.now() - trying.since < SHARE * this.budget) return undefined;
    this.slow.add(trying.source);
    return trying.source;
  }

  /** Has a small budget for each text that an expression is tried on. */
  hurry(source: string): void {
    this.slow.add(source);
  }

  /** The expressions that have a small budget, since they ran out of the whole one. */
  get hurried(): readonly string[] {
    return [...this.slow];
  }

  /**
   * Whether a text matches a regular expression; undefined where it is none.
   * @throws {OutOfTime} where an expression that ran out before does not answer soon
   */
  readonly matches = (source: string, text: string): boolean | undefined => {
    const regex = this.compile(source);
    if (!regex) return undefined;
    if (this.slow.has(source)) return this.soon(source, () => regex.test(text));
    const since = performance.now();
    this.trying = { source, since };
    const matched = regex.test(text);
    this.trying = undefined;
    if (performance.now() - since > SHARE * this.budget) this.slow.add(source);
    return matched;
  };

  /** @throws {OutOfTime} when the work takes longer than the small budget each time */
  private soon(source: string, work: () => boolean): boolean {
    const { brief } = this;
    brief.work = work;
    try {
      for (let tried = 0; tried < TRIES; tried++) {
        try {
          return this.script.runInContext(brief, {
            timeout: Math.max(1, SMALL * this.budget),
          }) as boolean;
        } catch (error) {
          if (systemCodeOf(error) !== 'ERR_SCRIPT_EXECUTION_TIMEOUT') throw error;
        }
      }
      throw new OutOfTime(source, this.budget);
    } finally {
      delete brief.work;
    }
  }

  private compile(source: string): RegExp | undefined {
    if (!this.compiled.has(source)) this.compiled.set(source, compiledRegex(source));
    return this.compiled.get(source);
  }
}

/**
 * A regular expression as JSON Schema has it: with Unicode's rules, or without them where it is
 * none else (JSON Schema Core section 6.4); nothing where it is none at all.
 */
export function compiledRegex(source: string): RegExp | undefined {
  for (const flags of ['u', '']) {
    try {
      return new RegExp(source, flags);
    } catch {
      // The next, or none.
    }
  }
  return undefined;
}
