import { printPath, type Path } from '../../core/path/path.js';
import type { FieldPlace } from '../../core/rules/form.js';
import type { Violation } from '../../core/violation/violation.js';
import { typesOf } from '../../core/rules/kinds.js';
import { canonical } from '../../core/rules/equality.js';

/** What a validator says of one value, whichever validator it was: a rule of the vocabulary, or a choice between schemas. */
export type Failure =
  | {
      readonly kind: 'rule';
      readonly path: Path;
      readonly rule: string;
      readonly as?: string;
      readonly params?: Readonly<Record<string, unknown>>;
      readonly value?: unknown;
    }
  | {
      readonly kind: 'choice';
      readonly path: Path;
      readonly rule: 'anyOf' | 'oneOf';
      readonly value?: unknown;
      /** What each of the schemas found wrong; empty where too many of them fitted. */
      readonly branches: readonly (readonly Failure[])[];
    };

const samePath = (one: Path, other: Path): boolean => one.length === other.length && one.every((part, at) => part === other[at]);

const pathText = (path: Path): string => JSON.stringify(path);

type RuleFailure = Extract<Failure, { kind: 'rule' }>;

const isRule = (failure: Failure): failure is RuleFailure => failure.kind === 'rule';

/** How far a value is from a schema: another type is farthest, then another value where one is fixed, then every failure. */
function distance(branch: readonly Failure[], path: Path): readonly [number, number, number] {
  const rules = branch.filter(isRule);
  const otherType = rules.some((failure) => failure.rule === 'type' && samePath(failure.path, path));
  const otherValue = rules.filter(
    ({ rule, path: at }) => (rule === 'const' || rule === 'enum') && at.length <= path.length + 1,
  ).length;
  return [otherType ? 1 : 0, otherValue, branch.length];
}

function isNearer(one: readonly number[], other: readonly number[]): boolean {
  const at = one.findIndex((part, place) => part !== other[place]);
  return at >= 0 && (one[at] ?? 0) < (other[at] ?? 0);
}

/** Choices may share what is inside them, so each is settled once. */
const settledChoices = new WeakMap<Failure, readonly Failure[]>();

function nearest(choice: Extract<Failure, { kind: 'choice' }>): readonly Failure[] {
  let found = settledChoices.get(choice);
  if (!found) settledChoices.set(choice, (found = nearestOf(choice)));
  return found;
}

/** Of a choice between schemas, what is wrong by the one that the value comes nearest to (the first of equals). */
function nearestOf(choice: Extract<Failure, { kind: 'choice' }>): readonly Failure[] {
  const { path, rule, value, branches } = choice;
  const itself: Failure = { kind: 'rule', path, rule, value };
  const settled = branches.map((branch) => settle(branch));
  let best: { branch: readonly Failure[]; far: readonly [number, number, number] } | undefined;
  for (const branch of settled) {
    const far = distance(branch, path);
    if (branch.length > 0 && (!best || isNearer(far, best.far))) best = { branch, far };
  }
  if (!best) return [itself];
  if (best.far[0] === 0) return best.branch;
  // None of them takes a value of this type: all types that would do are told at once.
  const types = settled.flat().filter((one) => isRule(one) && one.rule === 'type' && samePath(one.path, path));
  const expected = [...new Set(types.flatMap((one) => (isRule(one) ? typesOf(one.params?.expected) : [])))];
  return [{ kind: 'rule', path, rule: 'type', params: { expected: expected.length === 1 ? expected[0] : expected }, value }];
}

/**
 * Resolves choices, tells what stands twice once, and lets a wrong type speak alone: its consequences help nobody. What is
 * too long is not also told that its spelling is wrong.
 */
export function settle(failures: readonly Failure[]): readonly Failure[] {
  const resolved = failures.flatMap((failure) => (failure.kind === 'choice' ? nearest(failure) : [failure]));
  const alone = new Map<string, string>();
  for (const failure of resolved) {
    const text = pathText(failure.path);
    if (failure.rule === 'type' || (failure.rule === 'maxLength' && !alone.has(text))) alone.set(text, failure.rule);
  }
  const seen = new Set<string>();
  return resolved.filter((failure) => {
    const ruler = alone.get(pathText(failure.path));
    if (ruler === 'type' && failure.rule !== 'type') return false;
    if (ruler === 'maxLength' && failure.rule === 'pattern') return false;
    const id = canonical([failure.path, failure.rule, isRule(failure) ? (failure.params ?? null) : null]);
    return !seen.has(id) && seen.add(id);
  });
}

/** Failures as our violations. */
export function violationsOf(failures: readonly Failure[], place: FieldPlace = 'body'): Violation[] {
  return settle(failures)
    .filter(isRule)
    .map(({ path, rule, as, params, value }) => ({
      path: printPath(path),
      ...(place === 'body' ? {} : { in: place }),
      rule,
      ...(as === undefined ? {} : { as }),
      ...(params && Object.keys(params).length > 0 ? { params } : {}),
      ...(value === undefined ? {} : { value }),
    }));
}
