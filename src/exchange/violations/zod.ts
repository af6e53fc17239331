import type { Path } from '../../core/path/path.js';
import { printPath } from '../../core/path/path.js';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import { valueAt } from '../../core/rules/occurrences.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import type { Failure } from './failure.js';
import { declaredUse, ForeignReportError, valueOf, type Background } from './foreign.js';

/** Zod's names for types, as JSON has them. */
const TYPES: Readonly<Record<string, string>> = {
  ...{ string: 'string', number: 'number', int: 'integer', bigint: 'integer', boolean: 'boolean', null: 'null' },
  ...{ array: 'array', tuple: 'array', set: 'array', object: 'object', record: 'object', map: 'object', date: 'string' },
  ...{ nan: 'number', file: 'string' },
};

const FORMATS: Readonly<Record<string, string>> = {
  ...{ url: 'uri', datetime: 'date-time', guid: 'uuid', uuidv4: 'uuid', uuidv6: 'uuid', uuidv7: 'uuid' },
};

/** Which rule a bound is, by what it bounds: the one that includes the bound, and the one that does not. */
const BOUNDS: Readonly<Record<string, readonly [string, string, string, string]>> = {
  string: ['minLength', 'minLength', 'maxLength', 'maxLength'],
  array: ['minItems', 'minItems', 'maxItems', 'maxItems'],
  set: ['minItems', 'minItems', 'maxItems', 'maxItems'],
  object: ['minProperties', 'minProperties', 'maxProperties', 'maxProperties'],
  record: ['minProperties', 'minProperties', 'maxProperties', 'maxProperties'],
  map: ['minProperties', 'minProperties', 'maxProperties', 'maxProperties'],
  number: ['minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum'],
  int: ['minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum'],
  bigint: ['minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum'],
  file: ['minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum'],
  date: ['earliest', 'earliest', 'latest', 'latest'],
};

class IssueReader {
  /** The keys that lead to the issue at hand, for what is wrong with it. */
  private readonly keys: (string | number)[] = [];

  constructor(private readonly background: Background) {}

  list(issues: readonly Loose[], outer: Path = []): Failure[] {
    const found: Failure[] = [];
    for (let at = 0; at < issues.length; at++) {
      this.keys.push(at);
      this.issue(issues[at], outer, found);
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

  private fail(message: string, ...keys: string[]): never {
    throw new ForeignReportError(message, [...this.keys, ...keys]);
  }

  private issue(issue: Loose, outer: Path, found: Failure[]): void {
    if (!isObject(issue) || typeof issue.code !== 'string' || !isPath(issue.path))
      return this.fail('an issue is an object with "code" and "path"');
    const path: Path = outer.length === 0 ? issue.path : [...outer, ...issue.path];
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
        found.push(this.rule(path, 'multipleOf', { step: issue.divisor }));
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
        found.push(this.rule(path.slice(0, -1), 'propertyNames', { name: String(path.at(-1)) }));
        return;
      case 'invalid_element':
        found.push(...this.within(['issues'], list(issue.issues), path));
        return;
      case 'custom':
        found.push(this.custom(issue, path));
        return;
      default:
        this.fail(`there is no issue code "${issue.code}"`, 'code');
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
    if (this.isMissing(issue, path)) return { kind: 'rule', path, rule: 'required' };
    const expected = String(issue.expected);
    if (expected === 'date' && declaredUse(this.background, path, 'format')) return this.rule(path, 'format');
    // A whole number of the wrong type is asked for as a number, and only then as a whole one.
    const declared = declaredUse(this.background, path, 'type')?.params.expected;
    const type = expected === 'number' && declared === 'integer' ? declared : (TYPES[expected] ?? expected);
    return this.rule(path, 'type', { expected: type });
  }

  private bound(issue: LooseObject, path: Path): Failure {
    const { origin, code, inclusive } = issue;
    const rules = BOUNDS[String(origin)] ?? BOUNDS.number ?? ['minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum'];
    const lower = code === 'too_small';
    const rule = rules[(lower ? 0 : 2) + (inclusive === false ? 1 : 0)] ?? 'minimum';
    const limit = lower ? issue.minimum : issue.maximum;
    if (origin === 'date')
      return this.rule(path, rule, {
        limit: new Date(Number(limit)).toISOString(),
        ...(inclusive === false ? { exclusive: true } : {}),
      });
    // A form that declares both ends as one rule has one text for both.
    if (declaredUse(this.background, path, 'range') && !declaredUse(this.background, path, rule)) return this.rule(path, 'range');
    return this.rule(path, rule, lower ? { min: limit } : { max: limit });
  }

  private format({ format, pattern }: LooseObject, path: Path): Failure {
    const name = String(format);
    const textual = ['regex', 'starts_with', 'ends_with', 'includes', 'lowercase', 'uppercase'].includes(name);
    if (!textual && !(declaredUse(this.background, path, 'pattern') && !declaredUse(this.background, path, 'format')))
      return this.rule(path, 'format', { format: FORMATS[name] ?? name });
    // The expression is written as a literal, with its slashes and flags.
    const source = typeof pattern === 'string' ? (/^\/(.*)\/[a-z]*$/s.exec(pattern)?.[1] ?? pattern) : undefined;
    return this.rule(path, 'pattern', source === undefined ? {} : { regex: source });
  }

  private value(issue: LooseObject, path: Path): Failure {
    if (this.isMissing(issue, path) && declaredUse(this.background, path, 'required'))
      return { kind: 'rule', path, rule: 'required' };
    const values = list(issue.values);
    const isConst =
      values.length === 1 && (declaredUse(this.background, path, 'const') ?? !declaredUse(this.background, path, 'enum'));
    return isConst ? this.rule(path, 'const', { expected: values[0] }) : this.rule(path, 'enum', { choices: values });
  }

  private union(issue: LooseObject, path: Path): Failure {
    const branches = list(issue.errors).map((branch, at) => this.within(['errors', at], list(branch), path));
    if (this.isMissing({ ...issue, message: '' }, path)) return { kind: 'rule', path, rule: 'required' };
    return { kind: 'choice', path, rule: 'anyOf', branches, ...valueOf(this.background, path) };
  }

  private custom({ params }: LooseObject, path: Path): Failure {
    const { rule, as, ...rest } = isObject(params) ? params : {};
    if (typeof rule === 'string')
      return {
        kind: 'rule',
        path,
        rule,
        params: rest,
        ...(typeof as === 'string' ? { as } : {}),
        ...valueOf(this.background, path),
      };
    // Where the form leaves no choice, the issue needs no name.
    const uses = this.background.index?.field(path, 'body')?.uses.filter((use) => use.external || !hasOwnIssue(use.rule)) ?? [];
    const [only] = uses;
    if (only && uses.length === 1)
      return {
        kind: 'rule',
        path,
        rule: only.rule,
        params: rest,
        ...(only.as === undefined ? {} : { as: only.as }),
        ...valueOf(this.background, path),
      };
    return this.fail(
      `the custom issue at ${printPath(path) || 'the body'} names no rule; give it "params": { "rule": "…" }`,
      'params',
    );
  }
}

/** Rules that are no custom issue when they break: the validator has an issue code for them. */
const hasOwnIssue = (rule: string): boolean => {
  const family = VOCABULARY.get(rule)?.family;
  return (
    family !== 'relation' && rule !== 'uniqueItems' && rule !== 'noneOf' && rule !== 'absent' && rule !== 'dependentRequired'
  );
};

const list = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);

function isPath(value: unknown): value is Path {
  if (!Array.isArray(value)) return false;
  // A loop, since this is done for every issue.
  for (const segment of value as unknown[]) if (typeof segment !== 'string' && typeof segment !== 'number') return false;
  return true;
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
 * @throws {ForeignReportError} when an issue is none, or a custom one names no rule
 */
export function fromZodIssues(value: Loose, background: Background): Failure[] {
  const issues = zodIssues(value);
  if (!issues) throw new ForeignReportError('this holds no list of issues', []);
  return new IssueReader(background).list(issues);
}
