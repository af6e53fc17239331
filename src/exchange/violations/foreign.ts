import type { Path } from '../../core/path/path.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { RuleUse } from '../../core/rules/form.js';
import { memberOf, valueAt } from '../../core/rules/occurrences.js';
import { isGiven } from '../../core/rules/presence.js';

/** What another validator's report is read against. */
export interface Background {
  /** The rules that the form declares, where it is known: parameters that a report leaves out are looked up there. */
  readonly index?: FormIndex | undefined;
  /** The payload that was validated, where it is at hand: `{ value }`, since any value is one. */
  readonly payload?: { readonly value: unknown } | undefined;
}

/** A report that cannot be read as it stands: one sentence, and the keys that lead to the place. */
export class ForeignReportError extends Error {
  override name = 'ForeignReportError';
  constructor(
    message: string,
    readonly keys: readonly (string | number)[],
  ) {
    super(message);
  }
}

/** What the form declares of a rule at a place. */
export function declaredUse({ index }: Background, path: Path, rule: string): RuleUse | undefined {
  if (!index?.hasRule(rule)) return undefined;
  return index.field(path, 'body')?.uses.find((use) => use.rule === rule || use.as === rule);
}

/** The value at a path, as a member to spread: nothing where no payload is at hand. */
export function valueOf({ payload }: Background, path: Path): { readonly value?: unknown } {
  if (!payload) return {};
  const value = valueAt(payload.value, path);
  return value === undefined ? {} : { value };
}

/** The members of an object that the form declares with a rule. */
export function membersWith({ index }: Background, path: Path, rule: string): { name: string; use: RuleUse }[] {
  return (index?.form.fields ?? []).flatMap((field) => {
    const name = field.pattern.at(-1);
    if (field.in !== 'body' || typeof name !== 'string') return [];
    const use = field.uses.find((one) => one.rule === rule);
    return use && index?.field([...path, name], 'body')?.path === field.path ? [{ name, use }] : [];
  });
}

/** Whether an object of the payload has a member. */
export function hasMember({ payload }: Background, path: Path, name: string): boolean {
  return payload !== undefined && isGiven(memberOf(valueAt(payload.value, path), name));
}

/** The words in quotes in a sentence: validators name members so. */
export function quotedWords(sentence: string): readonly string[] {
  return [...sentence.matchAll(/(?:"[^"]+"|'[^']+'|`[^`]+`|“[^”]+”)/g)].map(([quoted]) => quoted.slice(1, -1));
}
