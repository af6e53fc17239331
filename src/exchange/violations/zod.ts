import type { Path } from '../../core/path/path.js';
import { printPath } from '../../core/path/path.js';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import { formatMeant } from '../../core/rules/format-names.js';
import type { RuleUse } from '../../core/rules/form.js';
import { valueAt } from '../../core/rules/occurrences.js';
import { UNNAMED } from '../../core/rules/unnamed.js';
import { plainTextRule } from '../../core/rules/expressions.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import type { Failure } from './failure.js';
import { declaredUse, expressionUse, ForeignReportError, unread, valueOf, type Background } from './foreign.js';

/** Zod's names for types, as JSON has them. */
const TYPES: Readonly<Record<string, string>> = {
  ...{ string: 'string', number: 'number', int: 'integer', bigint: 'integer', boolean: 'boolean', null: 'null' },
  ...{ array: 'array', tuple: 'array', set: 'array', object: 'object', record: 'object', map: 'object', file: 'file' },
};

type BoundRules = readonly [string, string, string, string];

const NUMBERS: BoundRules = ['minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum'];
const ENTRIES: BoundRules = ['minItems', 'minItems', 'maxItems', 'maxItems'];
const MEMBERS: BoundRules = ['minProperties', 'minProperties', 'maxProperties', 'maxProperties'];

/** Which rule a bound is, by what it bounds: the one that includes the bound, and the one that does not. */
const BOUNDS: Readonly<Record<string, BoundRules>> = {
  string: ['minLength', 'minLength', 'maxLength', 'maxLength'],
  ...{ array: ENTRIES, set: ENTRIES, tuple: ENTRIES, object: MEMBERS, record: MEMBERS, map: MEMBERS },
  ...{ number: NUMBERS, int: NUMBERS, bigint: NUMBERS },
  file: ['minBytes', 'minBytes', 'maxBytes', 'maxBytes'],
  date: ['earliest', 'earliest', 'latest', 'latest'],
};

/** Checks of texts that come as formats, with what says what they ask for. */
const TEXT_CHECKS: Readonly<Record<string, (issue: LooseObject) => readonly [string, LooseObject]>> = {
  starts_with: ({ prefix }) => ['beginsWith', { text: prefix }],
  ends_with: ({ suffix }) => ['finishesWith', { text: suffix }],
  includes: ({ includes }) => ['containsText', { text: includes }],
  lowercase: () => ['letterCase', { case: 'lower' }],
  uppercase: () => ['letterCase', { case: 'upper' }],
};

/** Types that say that nothing may stand there. */
const NOTHING: ReadonlySet<unknown> = new Set(['undefined', 'void']);

/** What JSON can say of a number of any size: a number where it is exact, else its digits. */
const numeric = (value: unknown): unknown =>
  typeof value !== 'bigint' ? value : Number.isSafeInteger(Number(value)) ? Number(value) : String(value);

class IssueReader {
  /** The keys that lead to the issue at hand, for what is wrong with it. */
  private readonly keys: (string | number)[] = [];

  constructor(private readonly background: Background) {}

  list(issues: readonly Loose[], outer: Path = []): Failure[] {
    const found: Failure[] = [];
    for (let at = 0; at < issues.length; at++) {
      this.keys.push(at);
      const before = found.length;
      this.issue(issues[at], outer, found);
      if (this.keys.length === 1) this.background.trace?.({ at: `/${at}`, failures: found.slice(before) });
      this.keys.pop();
    }
    return found;
  }

  /** The issues of a list further inside. */
  private within(keys: readonly (string | number)[], issues: readonly Loose[], outer: Path): Failure[] {
    this.keys.push(...keys);
    const found = this.list(issues, outer);
    this.keys.length -= keys.length;
    return found;
  }

  /** What cannot be said by a rule: something true of it is told all the same. */
  private unnamed(path: Path, message: string, ...keys: string[]): Failure {
    unread(this.background, message, [...this.keys, ...keys]);
    return { kind: 'rule', path, rule: UNNAMED, ...valueOf(this.background, path) };
  }

  private issue(issue: Loose, outer: Path, found: Failure[]): void {
    const path = isObject(issue) ? pathOf(issue.path, outer) : undefined;
    if (!isObject(issue) || !path || typeof issue.code !== 'string') {
      found.push(this.unnamed(path ?? outer, 'an issue is an object with "code" and "path"'));
      return;
    }
    switch (issue.code) {
      case 'invalid_type':
        found.push(this.type(issue, path));
        return;
      case 'too_small':
      case 'too_big':
        found.push(this.bound(issue, path));
        return;
      case 'invalid_format':
        found.push(this.format(issue, path));
        return;
      case 'not_multiple_of':
        found.push(this.rule(path, 'multipleOf', { step: numeric(issue.divisor) }));
        return;
      case 'unrecognized_keys':
        for (const name of list(issue.keys)) found.push(this.rule(path, 'additionalProperties', { name }));
        return;
      case 'invalid_value':
        found.push(this.value(issue, path));
        return;
      case 'invalid_union':
        found.push(this.union(issue, path));
        return;
      case 'invalid_key':
        // Of a map, nothing says which of its keys it is.
        if (issue.origin === 'map') found.push(this.rule(path, 'propertyNames', mapKey(issue)));
        else found.push(this.rule(path.slice(0, -1), 'propertyNames', { name: String(path.at(-1)) }));
        return;
      case 'invalid_element':
        found.push(...this.within(['issues'], list(issue.issues), path));
        return;
      case 'custom':
        found.push(this.custom(issue, path));
        return;
      default:
        found.push(this.unnamed(path, `there is no issue code "${issue.code}"`, 'code'));
    }
  }

  private rule(path: Path, rule: string, params: LooseObject = {}): Failure {
    const { payload } = this.background;
    const value = payload && valueAt(payload.value, path);
    return value === undefined ? { kind: 'rule', path, rule, params } : { kind: 'rule', path, rule, params, value };
  }

  /** Whether nothing was given there: the payload tells it, else the issue if it holds what it got. */
  private isMissing({ input, message }: LooseObject, path: Path): boolean {
    const { payload } = this.background;
    if (payload) return valueAt(payload.value, path) === undefined;
    return input === undefined && typeof message === 'string' && /\breceived undefined$/.test(message);
  }

  private type(issue: LooseObject, path: Path): Failure {
    const { expected } = issue;
    if (expected === 'nonoptional' || this.isMissing(issue, path)) return { kind: 'rule', path, rule: 'required' };
    if (expected === 'never') return this.rule(path, 'false');
    if (NOTHING.has(expected)) return this.rule(path, 'absent');
    // In JSON it is written as a text, and no other one will do.
    if (expected === 'nan') return this.rule(path, 'const', { expected: 'NaN' });
    if (expected === 'date') {
      const format = declaredUse(this.background, path, 'format')?.params.format ?? 'date-time';
      return this.rule(path, 'format', { format });
    }
    // A whole number of the wrong type is asked for as a number, and only then as a whole one.
    const declared = declaredUse(this.background, path, 'type')?.params.expected;
    const type = expected === 'number' && declared === 'integer' ? declared : TYPES[String(expected)];
    if (type === undefined) return this.unnamed(path, `there is no rule for the type "${String(expected)}"`, 'expected');
    return this.rule(path, 'type', { expected: type });
  }

  private bound(issue: LooseObject, path: Path): Failure {
    const { origin, code, inclusive } = issue;
    const rules = BOUNDS[String(origin)] ?? NUMBERS;
    const lower = code === 'too_small';
    const rule = rules[(lower ? 0 : 2) + (inclusive === false ? 1 : 0)] ?? 'minimum';
    const limit = numeric(lower ? issue.minimum : issue.maximum);
    if (origin === 'date') return this.date(path, rule, limit, inclusive === false);
    // A form that declares both ends as one rule has one text for both.
    if (declaredUse(this.background, path, 'range') && !declaredUse(this.background, path, rule)) return this.rule(path, 'range');
    return this.rule(path, rule, lower ? { min: limit } : { max: limit });
  }

  private date(path: Path, rule: string, limit: unknown, exclusive: boolean): Failure {
    const moment = new Date(Number(limit));
    if (Number.isNaN(moment.getTime())) return this.unnamed(path, 'the bound of a date is none');
    const told = { limit: moment.toISOString(), ...(exclusive ? { exclusive } : {}) };
    return this.rule(path, rule, told);
  }

  private format(issue: LooseObject, path: Path): Failure {
    const name = String(issue.format);
    const check = Object.hasOwn(TEXT_CHECKS, name) ? TEXT_CHECKS[name] : undefined;
    if (check) {
      const [rule, params] = check(issue);
      // Where the form asks for it by an expression of its own, that is the rule.
      const use = declaredUse(this.background, path, rule) ? undefined : expressionUse(this.background, path);
      return use ? this.rule(path, use.rule, use.params) : this.rule(path, rule, params);
    }
    const expression = name === 'regex' || name === 'template_literal';
    const isDeclared = declaredUse(this.background, path, 'pattern') && !declaredUse(this.background, path, 'format');
    if (!expression && !isDeclared) return this.rule(path, 'format', { format: formatMeant(name) });
    // The expression is written as a literal, with its slashes and flags.
    const { pattern } = issue;
    const source = typeof pattern === 'string' ? (/^\/(.*)\/[a-z]*$/s.exec(pattern)?.[1] ?? pattern) : undefined;
    const use = expressionUse(this.background, path);
    const plain = use ?? (source === undefined ? undefined : plainTextRule(source));
    if (plain && plain.rule !== 'pattern') return this.rule(path, plain.rule, plain.params);
    return this.rule(path, 'pattern', source === undefined ? {} : { regex: source });
  }

  private value(issue: LooseObject, path: Path): Failure {
    if (this.isMissing(issue, path) && declaredUse(this.background, path, 'required'))
      return { kind: 'rule', path, rule: 'required' };
    const all = list(issue.values);
    const values = all.filter((value) => value !== undefined && typeof value !== 'symbol').map(numeric);
    if (values.length === 0) return all.length > 0 ? this.rule(path, 'absent') : this.unnamed(path, 'an issue lists no values');
    if (this.areMediaTypes(path, values)) return this.rule(path, 'mediaType', { types: values });
    const isConst =
      values.length === 1 && (declaredUse(this.background, path, 'const') ?? !declaredUse(this.background, path, 'enum'));
    return isConst ? this.rule(path, 'const', { expected: values[0] }) : this.rule(path, 'enum', { choices: values });
  }

  /** What an upload may be: its issue says no more than a list of values that happen to be media types. */
  private areMediaTypes(path: Path, values: readonly unknown[]): boolean {
    if (declaredUse(this.background, path, 'mediaType')) return true;
    if (declaredUse(this.background, path, 'enum') ?? declaredUse(this.background, path, 'const')) return false;
    const given = this.background.payload && valueAt(this.background.payload.value, path);
    if (typeof given === 'string') return false;
    return values.every((one) => typeof one === 'string' && MEDIA_TYPE.test(one));
  }

  private union(issue: LooseObject, path: Path): Failure {
    const branches = list(issue.errors).map((branch, at) => this.within(['errors', at], list(branch), path));
    if (this.isMissing({ ...issue, message: '' }, path)) return { kind: 'rule', path, rule: 'required' };
    const options = list(issue.options)
      .filter((one) => one !== undefined)
      .map(numeric);
    if (branches.length === 0 && options.length > 0) return this.rule(path, 'enum', { choices: options });
    const rule = issue.inclusive === false ? 'oneOf' : 'anyOf';
    return { kind: 'choice', path, rule, branches, ...valueOf(this.background, path) };
  }

  private custom({ params }: LooseObject, path: Path): Failure {
    const { rule, as, ...rest } = isObject(params) ? params : {};
    const told = Object.fromEntries(Object.entries(rest).map(([name, value]) => [name, numeric(value)]));
    if (typeof rule === 'string' && rule !== '')
      return { kind: 'rule', path, rule, params: told, ...asOf(as), ...valueOf(this.background, path) };
    // Where the form leaves no choice, the issue needs no name.
    const uses = this.background.index?.field(path, this.background.in ?? 'body')?.uses.filter(needsName) ?? [];
    const [only] = uses;
    if (only && uses.length === 1)
      return { kind: 'rule', path, rule: only.rule, params: told, ...asOf(only.as), ...valueOf(this.background, path) };
    const where = printPath(path) || 'the body';
    return this.unnamed(path, `the custom issue at ${where} names no rule; give it "params": { "rule": "…" }`, 'params');
  }
}

const MEDIA_TYPE = /^(?:application|audio|font|image|message|model|multipart|text|video)\/[\w.+*-]+$/;

const asOf = (as: unknown): { readonly as?: string } => (typeof as === 'string' ? { as } : {});

/** The key that an issue of a map is about, where its own issues tell what they got. */
const mapKey = ({ issues }: LooseObject): LooseObject => {
  const [first] = list(issues);
  return isObject(first) && typeof first.input === 'string' ? { name: first.input } : {};
};

/** Whether a rule comes as a custom issue when it breaks: for others the validator has an issue code. */
const needsName = ({ rule, external }: RuleUse): boolean => {
  if (external) return true;
  const family = VOCABULARY.get(rule)?.family;
  return family === 'relation' || ['uniqueItems', 'noneOf', 'absent', 'dependentRequired'].includes(rule);
};

const list = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);

/** The path of an issue behind another; nothing where it is none. What JSON has no keys for is no part of it. */
function pathOf(value: unknown, outer: Path): Path | undefined {
  if (!Array.isArray(value)) return undefined;
  // A loop, since this is done for every issue.
  for (const segment of value as unknown[]) if (typeof segment !== 'string' && typeof segment !== 'number') return undefined;
  return outer.length === 0 ? (value as Path) : [...outer, ...(value as Path)];
}

/** The issues of an error of Zod 4, of its JSON, or of a failed `safeParse`; nothing where it is none of these. */
export function zodIssues(value: Loose): readonly Loose[] | undefined {
  if (Array.isArray(value)) return value as Loose[];
  if (!isObject(value)) return undefined;
  if (Array.isArray(value.issues)) return value.issues as Loose[];
  if (isObject(value.error)) return zodIssues(value.error);
  // As JSON, such an error has its issues as a text.
  if (value.name === 'ZodError' && typeof value.message === 'string') {
    try {
      return zodIssues(JSON.parse(value.message));
    } catch {
      return undefined;
    }
  }
  return undefined;
}

/**
 * Reads the issues of Zod 4.
 * @throws {ForeignReportError} when there are none; with `strict`, when one cannot be read as it stands
 */
export function fromZodIssues(value: Loose, background: Background): Failure[] {
  const issues = zodIssues(value);
  if (!issues) throw new ForeignReportError('this holds no list of issues', []);
  return new IssueReader(background).list(issues, background.prefix);
}
