import { getOrMake } from '../../core/base/get-or-make.js';
import { keyOf } from '../../core/base/memo.js';
import { ANY_ELEMENT, printPath, type Path } from '../../core/path/path.js';
import { PathTree } from '../../core/path/tree.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { RequestPart } from '../../core/rules/form.js';
import { violationOf, type Violation } from '../../core/rules/violation.js';
import { blankAsMissing } from '../../core/rules/blank.js';
import { EXPRESSION_RULES } from '../../core/rules/expressions.js';
import { typesOf } from '../../core/rules/types.js';
import { isObject } from '../../core/reading.js';
import { canonical } from '../../core/rules/equality.js';

/** A rule of the vocabulary that a validator found broken, whichever validator it was. */
export interface RuleFailure {
  readonly path: Path;
  /** The part of the request, where the report says it of each. */
  readonly in?: RequestPart | undefined;
  readonly rule: string;
  readonly as?: string;
  readonly params?: Readonly<Record<string, unknown>> | undefined;
  readonly value?: unknown;
  readonly branches?: undefined;
}

/** A choice between schemas of which a value fits none, or too many. */
export interface Choice {
  readonly path: Path;
  readonly in?: RequestPart | undefined;
  readonly rule: 'anyOf' | 'oneOf';
  readonly params?: undefined;
  readonly value?: unknown;
  /** The failures of each schema; empty where too many schemas matched. */
  readonly branches: readonly (readonly Failure[])[];
  /**
   * Where a member of the value says which of them it is meant to be: the place of that one,
   * none for a name that is none.
   */
  readonly meant?: {
    readonly branch: number | undefined;
    readonly property: string;
    readonly names: readonly string[];
  };
}

/** A failure of one value. */
export type Failure = RuleFailure | Choice;

/** Whether two paths are one; held against each other from the end, where they differ soonest. */
function samePath(one: Path, other: Path): boolean {
  if (one.length !== other.length) return false;
  for (let at = one.length - 1; at >= 0; at--) if (one[at] !== other[at]) return false;
  return true;
}

const isRule = (failure: Failure): failure is RuleFailure => failure.branches === undefined;

/** No schema finds as much wrong with a value as these stand for. */
const OTHER_VALUE = 1e6;
const OTHER_TYPE = 1e12;

/**
 * How far a value is from a schema: another type is farthest, then another value where one is
 * fixed, then every failure.
 */
function distance(branch: readonly Failure[], path: Path): number {
  let far = branch.length;
  for (const { rule, path: at } of branch)
    if (rule === 'type' && samePath(at, path)) far += OTHER_TYPE;
    else if ((rule === 'const' || rule === 'enum') && at.length <= path.length + 1)
      far += OTHER_VALUE;
  return far;
}

/** Choices may share what is inside them, so each is settled once. */
const settledChoices = new WeakMap<Failure, readonly Failure[]>();

function nearest(choice: Choice): readonly Failure[] {
  return getOrMake(settledChoices, choice, () => nearestOf(choice));
}

/**
 * Of a choice between schemas, what is wrong by the one that the value comes nearest to (the first
 * of equals).
 */
function nearestOf(choice: Choice): readonly Failure[] {
  const { path, rule, value, branches, meant } = choice;
  const itself: Failure = { path, rule, value };
  const settled = branches.map((branch) => settle(branch));
  if (meant && branches.length > 0) {
    const { branch, property, names } = meant;
    const said = isObject(value) ? value[property] : undefined;
    if (said === undefined) return [{ path: [...path, property], rule: 'required' }];
    if (branch === undefined)
      return [
        {
          path: [...path, property],
          rule: 'enum',
          params: { choices: names },
          value: said,
        },
      ];
    if (settled[branch]?.length) return settled[branch];
  }
  const either = byPresence(settled, choice);
  if (either) return [either];
  let best: { branch: readonly Failure[]; far: number } | undefined;
  for (const branch of settled) {
    const far = distance(branch, path);
    if (far > 0 && (!best || far < best.far)) best = { branch, far };
  }
  if (!best) return [itself];
  if (best.far < OTHER_TYPE)
    return fixedValues(settled, best.branch) ?? sharedBy(settled, best, path) ?? [itself];
  // None of them takes a value of this type: one failure has all accepted types.
  const types = settled.flat().filter((one) => one.rule === 'type' && samePath(one.path, path));
  const expected = [...new Set(types.flatMap((one) => typesOf(one.params?.expected)))];
  return [
    {
      path,
      rule: 'type',
      params: { expected: expected.length === 1 ? expected[0] : expected },
      value,
    },
  ];
}

/** The rule that asks for at least one, or exactly one, of some members. */
export const eitherOf = (
  keyword: 'anyOf' | 'oneOf',
  names: readonly string[],
): { readonly rule: string; readonly params: { readonly members: readonly string[] } } => ({
  rule: keyword === 'anyOf' ? 'atLeastOne' : 'exactlyOne',
  params: { members: names.map((name) => printPath([name])) },
});

/**
 * Where nothing but missing members keeps a value from each of several schemas: that one of them is
 * missing, where each asks for one; else what they ask for cannot be said in a sentence.
 */
function byPresence(
  branches: readonly (readonly Failure[])[],
  { path, rule, value }: Choice,
): Failure | undefined {
  if (branches.length < 2) return undefined;
  const missing = branches.map((branch) =>
    branch.filter((one) => one.rule === 'required' && one.path.length === path.length + 1),
  );
  if (!branches.every((branch, at) => branch.length > 0 && branch.length === missing[at]?.length))
    return undefined;
  const nameOf = ({ path: at }: Failure): string => String(at.at(-1));
  const asked = missing.map((branch) => new Set(branch.map(nameOf)));
  // What all of them ask for is missing, whichever was meant.
  if ([...(asked[0] ?? [])].some((name) => asked.every((one) => one.has(name)))) return undefined;
  const names = new Set(asked.flatMap((one) => [...one]));
  const isOneEach = missing.every(({ length }) => length === 1) && names.size === missing.length;
  return { path, value, ...(isOneEach ? eitherOf(rule, [...names]) : { rule }) };
}

/** Returns the key of a failure, wherever it stands. */
const saidBy = ({ rule, params }: Failure): string => keyOf(rule, canonical(params ?? null));

/** Returns the failures that all the nearest schemas share; nothing where they differ. */
function sharedBy(
  branches: readonly (readonly Failure[])[],
  best: { readonly branch: readonly Failure[]; readonly far: number },
  path: Path,
): readonly Failure[] | undefined {
  const others = branches.filter(
    (branch) => branch.length > 0 && branch !== best.branch && distance(branch, path) === best.far,
  );
  const idOf = (one: Failure): string => keyOf(printPath(one.path), saidBy(one));
  const said = others.map((branch) => new Set(branch.map(idOf)));
  const shared = best.branch.filter((one) => said.every((ids) => ids.has(idOf(one))));
  return shared.length === 0 ? undefined : shared;
}

/** The values that a failure would take, where it asks for one out of a few. */
function valuesOf(failure: Failure): readonly unknown[] | undefined {
  const { rule, params } = failure;
  if (!params) return undefined;
  if (rule === 'const') return [params.expected];
  return rule === 'enum' && Array.isArray(params.choices)
    ? (params.choices as unknown[])
    : undefined;
}

/**
 * Where every branch asks for another value at one place, which distinguishes them, one failure has
 * all accepted values.
 */
function fixedValues(
  branches: readonly (readonly Failure[])[],
  nearest: readonly Failure[],
): readonly Failure[] | undefined {
  if (branches.length < 2) return undefined;
  // Of several at one place the first counts.
  const fixed = branches.map(
    (branch) =>
      new Map(
        branch
          .filter(valuesOf)
          .reverse()
          .map((one) => [printPath(one.path), one]),
      ),
  );
  for (const failure of nearest) {
    if (!isRule(failure) || !valuesOf(failure)) continue;
    const there = fixed.map((byPath) => byPath.get(printPath(failure.path)));
    if (!there.every((one) => one !== undefined)) continue;
    const choices = [
      ...new Map(
        there.flatMap((one) => valuesOf(one) ?? []).map((one) => [canonical(one), one]),
      ).values(),
    ];
    if (choices.length > 1) return [{ ...failure, rule: 'enum', params: { choices } }];
  }
  return undefined;
}

/**
 * Reduces several failures at one place: a wrong type alone, a length before a spelling, and no
 * duplicates.
 */
function reduced(here: readonly Failure[]): readonly Failure[] {
  const ruler =
    here.find(({ rule }) => rule === 'type') ?? here.find(({ rule }) => rule === 'maxLength');
  const hasFormat = here.some(({ rule }) => rule === 'format');
  const isMissing = here.some(({ rule }) => rule === 'required');
  const seen = new Set<string>();
  return here.filter((failure) => {
    if (ruler?.rule === 'type' && failure.rule !== 'type') return false;
    if (ruler?.rule === 'maxLength' && EXPRESSION_RULES.has(failure.rule)) return false;
    // A missing value is reported once, whatever else asks for it.
    if (isMissing && failure.rule === 'dependentRequired') return false;
    // Libraries write a format out as an expression too.
    if (hasFormat && failure.rule === 'pattern') return false;
    const id = saidBy(failure);
    return !seen.has(id) && seen.add(id);
  });
}

/** Reports are mostly as short as that, and then each failure is held against each other. */
const FEW = 32;

/** Whether each of a few failures is of a place of its own. */
function areApart(failures: readonly Failure[]): boolean {
  if (failures.length > FEW) return false;
  for (let at = 1; at < failures.length; at++) {
    const one = failures[at];
    if (!one) continue;
    const { path, in: part } = one;
    for (let before = 0; before < at; before++) {
      const other = failures[before];
      if (other && other.in === part && samePath(other.path, path)) return false;
    }
  }
  return true;
}

/**
 * Resolves choices, removes duplicates, and keeps a wrong type alone, since its consequences help
 * nobody. A text that is too long has no further failure about its spelling, and one without the
 * format none about an expression.
 */
export function settle(all: readonly Failure[]): readonly Failure[] {
  const failures = all.every(isRule)
    ? all
    : all.flatMap((failure) => (isRule(failure) ? [failure] : nearest(failure)));
  // Mostly each has a place of its own, and then all are kept.
  if (areApart(failures)) return failures;
  const places = new Map<string, Failure[]>();
  for (const failure of failures) {
    const key = `${failure.in ?? ''}@${printPath(failure.path)}`;
    getOrMake(places, key, () => []).push(failure);
  }
  const kept = new Set(
    [...places.values()].flatMap((here) => (here.length > 1 ? reduced(here) : here)),
  );
  return failures.filter((failure) => kept.has(failure));
}

/**
 * Converts failures to our violations.
 * @param paths gets the path of each, for callers that look for its field
 */
export function violationsOf(
  all: readonly Failure[],
  part: RequestPart = 'body',
  paths?: Path[],
): Violation[] {
  const found: Violation[] = [];
  for (const failure of settle(all)) {
    if (!isRule(failure)) continue;
    paths?.push(failure.path);
    found.push(violationOf(printPath(failure.path), failure.in ?? part, failure));
  }
  return found;
}

/**
 * A parameter of a request by the name that a report has for it; of headers the case does not
 * matter (RFC 9110 section 5.1).
 */
function parameterAt(path: string, index: FormIndex): Pick<Violation, 'path' | 'in'> | undefined {
  for (const part of ['query', 'path'] as const)
    if (index.knows(path, part)) return { path, in: part };
  const header = index.form.fields.find(
    (field) => field.in === 'header' && field.path.toLowerCase() === path.toLowerCase(),
  );
  return header && { path: header.path, in: 'header' };
}

/**
 * Removes failures inside of a list with too many entries, as our own judge does: the answer says
 * only that there are too many.
 */
function outsideLongLists(
  failures: readonly Failure[],
  index: FormIndex,
  place: RequestPart,
): readonly Failure[] {
  if (!failures.some(({ rule }) => rule === 'maxItems')) return failures;
  const long = new Map<RequestPart, PathTree<true>>();
  for (const { rule, path, in: part = place } of failures) {
    if (rule !== 'maxItems') continue;
    const tree = getOrMake(long, part, () => new PathTree<true>());
    tree.set(path, true);
  }
  const isInside = ({ path, in: part = place }: Failure): boolean => {
    for (const [length] of long.get(part)?.along(path) ?? [])
      if (
        length < path.length &&
        index.declared(path.slice(0, length + 1), part)?.at(-1) === ANY_ELEMENT
      )
        return true;
    return false;
  };
  return failures.filter((failure) => !isInside(failure));
}

/** The subject of a report, as far as it is known. */
export interface ListedOf {
  readonly index?: FormIndex | undefined;
  readonly payload?: { readonly value: unknown } | undefined;
  readonly in?: RequestPart | undefined;
}

/**
 * Failures of a report as our violations. Few reports say where a value stood: what the body of the
 * form has not and one of its parameters is, is that parameter.
 */
export function listed(
  failures: readonly Failure[],
  { index, payload, in: part = 'body' }: ListedOf,
): Violation[] {
  if (!index) return violationsOf(failures, part);
  const paths: Path[] = [];
  const all = violationsOf(outsideLongLists(failures, index, part), part, paths);
  const isElsewhere = part === 'body' && paths.some((path) => index.mayBeParameter(path));
  const violations = index.anyBlank
    ? blankAsMissing(all, index, payload && { value: payload.value, in: part }, paths)
    : all;
  if (!isElsewhere) return violations;
  return violations.map((violation) => {
    const { path } = violation;
    const parameter =
      path === '' || violation.in !== undefined || index.knows(path, 'body')
        ? undefined
        : parameterAt(path, index);
    return parameter ? { ...violation, ...parameter } : violation;
  });
}
