import type { FormIndex } from '../rules/form-index.js';
import type { Field, Form, RuleUse } from '../rules/form.js';
import type { Violation } from '../rules/violation.js';

/** A violation that is no matter of fields, and the problem that it is. */
export interface BrokenProblem {
  readonly problem: string;
  readonly violation: Violation;
  readonly use: RuleUse;
}

/**
 * Statuses that say that nothing of a request counts: whoever may not ask, or asks for what is not
 * there, learns no more.
 */
const ALONE: ReadonlySet<number> = new Set([401, 403, 404, 405, 410]);

/**
 * Whether all that clients ever read of a rule is the problem that breaking it is: that always
 * comes alone, or nothing of the form can be broken but into problems.
 */
export function isOnlyProblem(
  { problem }: RuleUse,
  { fields }: Form,
  statuses: ReadonlyMap<string, number>,
): boolean {
  const status = problem === undefined ? undefined : statuses.get(problem);
  if (status === undefined) return false;
  // Where the body is not an object, nothing in it is broken.
  const isTold = ({ pattern, uses }: Field): boolean =>
    pattern.length > 0 && uses.some((use) => use.problem === undefined);
  return ALONE.has(status) || !fields.some(isTold);
}

function useOf(
  { path, in: part = 'body', rule, as }: Violation,
  index: FormIndex,
): RuleUse | undefined {
  const uses = index.field(index.readPath(path, part), part)?.uses;
  return uses?.find((use) => use.rule === rule && (as === undefined || use.as === as));
}

/**
 * The problem that a request is answered with, where its rules say so. One with a status of `ALONE`
 * comes before everything; any other only where nothing else is broken; the first in the order
 * given of several.
 */
export function problemOf(
  violations: readonly Violation[],
  index: FormIndex,
  statuses: ReadonlyMap<string, number>,
): BrokenProblem | undefined {
  if (!index.anyProblem) return undefined;
  const found = violations.flatMap((violation): BrokenProblem[] => {
    const use = useOf(violation, index);
    const { problem } = use ?? {};
    return use && problem !== undefined && statuses.has(problem)
      ? [{ problem, violation, use }]
      : [];
  });
  const alone = found.find(({ problem }) => ALONE.has(statuses.get(problem) ?? 0));
  return alone ?? (found.length === violations.length ? found[0] : undefined);
}
