import type { Path } from '../../core/path/path.js';
import { parsePointer, toPointer } from '../../core/path/pointer.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { RequestPart, RuleUse } from '../../core/rules/form.js';
import { valueAt } from '../../core/rules/occurrences.js';
import { EXPRESSION_RULES } from '../../core/rules/expressions.js';
import type { Violation } from '../../core/rules/violation.js';
import type { Warn } from '../../core/violation/warning.js';
import type { Failure } from '../keywords/failure.js';

/** The context of another validator's report. */
export interface Background {
  /**
   * The rules that the form declares, where it is known: parameters that a report leaves out are
   * looked up there.
   */
  readonly index?: FormIndex | undefined;
  /** The payload that was validated, where it is at hand: `{ value }`, since any value is one. */
  readonly payload?: { readonly value: unknown } | undefined;
  /** The part of the request that was validated; the body where absent. */
  readonly in?: RequestPart | undefined;
  /** The prefix of all paths of the report. */
  readonly prefix?: Path | undefined;
  /** Called with entries that could not be read as they stand. */
  readonly warn?: Warn | undefined;
  /** Whether such an entry is refused. */
  readonly strict?: boolean | undefined;
  /** Runs the form's own rules on the payload; absent where they cannot be run. */
  readonly judge?: (() => readonly Violation[]) | undefined;
  /** Called with the number of entries that are not read, since there are too many. */
  readonly skip?: ((count: number) => void) | undefined;
  /** Called with the result of each entry. */
  readonly trace?: ((read: ReadEntry) => void) | undefined;
}

/** An entry of a report, as a JSON Pointer, and what was made of it. */
export interface ReadEntry {
  readonly at: string;
  readonly failures: readonly Failure[];
}

/** A report that cannot be read as it stands: one sentence, and the keys that lead to the place. */
export class ErrorListError extends Error {
  override name = 'ErrorListError';
  constructor(
    message: string,
    readonly keys: readonly (string | number)[],
  ) {
    super(message);
  }
}

/** The part of a JSON Pointer that can be read: all, or what is before the first bad token. */
export function nearestPointer(text: string): string {
  // No pointer that leads anywhere has more tokens.
  let near = text.split('/', 201).join('/');
  for (;;)
    try {
      parsePointer(near);
      return near;
    } catch {
      near = near.slice(0, Math.max(0, near.lastIndexOf('/')));
    }
}

/**
 * Reports an entry that cannot be read as it stands; the answer goes on without it.
 * @throws {ErrorListError} where the caller is strict
 */
export function unread(
  { strict, warn }: Background,
  message: string,
  keys: readonly (string | number)[],
): void {
  if (strict) throw new ErrorListError(message, keys);
  warn?.({
    kind: 'unread',
    at: toPointer(keys),
    message: `An entry of the report is answered without its rule: ${message}.`,
  });
}

/** Returns the form's declaration of a rule at a place. */
export function declaredUse(
  { index, in: part = 'body' }: Background,
  path: Path,
  rule: string,
): RuleUse | undefined {
  if (!index?.hasRule(rule)) return undefined;
  return index.field(path, part)?.uses.find((use) => use.rule === rule || use.as === rule);
}

/**
 * The rule that a keyword is at a place, as the form has it: some expressions say no more than a
 * beginning, or write out a format, and what is ruled out may be a list of values.
 */
export function useOfKeyword(
  background: Background,
  path: Path,
  keyword: string,
): RuleUse | undefined {
  for (const rule of READ_AS.get(keyword) ?? []) {
    const use = declaredUse(background, path, rule);
    if (use) return use;
  }
  return undefined;
}

const READ_AS: ReadonlyMap<string, readonly string[]> = new Map([
  ['pattern', [...EXPRESSION_RULES, 'format']],
  ['not', ['not', 'noneOf', 'false']],
]);

/** The value at a path, as a member to spread: nothing where no payload is at hand. */
export function valueOf({ payload }: Background, path: Path): { readonly value?: unknown } {
  if (!payload) return {};
  const value = valueAt(payload.value, path);
  return value === undefined ? {} : { value };
}

/** The most entries of a report that are read: more than any answer has. The others are counted. */
export const MOST_READ = 10_000;
