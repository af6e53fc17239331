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
  constructor(private readonly background: Background) {}

  list(issues: readonly Loose[], keys: readonly (string | number)[], outer: Path = []): Failure[] {
    return issues.flatMap((issue, at) => this.issue(issue, [...keys, at], outer));
  }

  private issue(issue: Loose, keys: readonly (string | number)[], outer: Path): Failure[] {
    if (!isObject(issue) || typeof issue.code !== 'string' || !isPath(issue.path))
      throw new ForeignReportError('an issue is an object with "code" and "path"', keys);
    const path: Path = [...outer, ...issue.path];
    switch (issue.code) {
      case 'invalid_type':
        return this.type(issue, path);
      case 'too_small':
      case 'too_big':
        return [this.bound(issue, path)];
      case 'invalid_format':
        return [this.format(issue, path)];
      case 'not_multiple_of':
        return [this.rule(path, 'multipleOf', { step: issue.divisor })];
      case 'unrecognized_keys':
        return list(issue.keys).map((name) => this.rule(path, 'additionalProperties', { name }));
      case 'invalid_value':
        return [this.value(issue, path)];
      case 'invalid_union':
        return this.union(issue, path, keys);
      case 'invalid_key':
        return [this.rule(path.slice(0, -1), 'propertyNames', { name: String(path.at(-1)) })];
      case 'invalid_element':
        return this.list(list(issue.issues), [...keys, 'issues'], path);
      case 'custom':
        return [this.custom(issue, path, keys)];
      default:
        throw new ForeignReportError(`there is no issue code "${issue.code}"`, [...keys, 'code']);
    }
  }

  private rule(path: Path, rule: string, params: LooseObject = {}): Failure {
    return { kind: 'rule', path, rule, params, ...valueOf(this.background, path) };
  }

  /** Whether nothing was given there: the payload tells it, else the issue if it holds what it got. */
  private isMissing({ input, message }: LooseObject, path: Path): boolean {
    const { payload } = this.background;
    if (payload) return valueAt(payload.value, path) === undefined;
    return input === undefined && typeof message === 'string' && /\breceived undefined$/.test(message);
  }

  private type(issue: LooseObject, path: Path): Failure[] {
    if (this.isMissing(issue, path)) return [{ kind: 'rule', path, rule: 'required' }];
    const expected = String(issue.expected);
    if (expected === 'date' && declaredUse(this.background, path, 'format')) return [this.rule(path, 'format')];
    // A whole number of the wrong type is asked for as a number, and only then as a whole one.
    const declared = declaredUse(this.background, path, 'type')?.params.expected;
    const type = expected === 'number' && declared === 'integer' ? declared : (TYPES[expected] ?? expected);
    return [this.rule(path, 'type', { expected: type })];
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
    return this.rule(path, rule, { [lower ? 'min' : 'max']: limit });
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

  private union(issue: LooseObject, path: Path, keys: readonly (string | number)[]): Failure[] {
    const branches = list(issue.errors).map((branch, at) => this.list(list(branch), [...keys, 'errors', at], path));
    if (this.isMissing({ ...issue, message: '' }, path)) return [{ kind: 'rule', path, rule: 'required' }];
    return [{ kind: 'choice', path, rule: 'anyOf', branches, ...valueOf(this.background, path) }];
  }

  private custom({ params }: LooseObject, path: Path, keys: readonly (string | number)[]): Failure {
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
    throw new ForeignReportError(
      `the custom issue at ${printPath(path) || 'the body'} names no rule; give it "params": { "rule": "…" }`,
      [...keys, 'params'],
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

const isPath = (value: unknown): value is Path =>
  Array.isArray(value) && value.every((segment) => typeof segment === 'string' || typeof segment === 'number');

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
  return new IssueReader(background).list(issues, []);
}
