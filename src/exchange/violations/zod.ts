import { numberOf, wordOf } from '../../core/text/outer.js';
import type { Path } from '../../core/path/path.js';
import { printPath } from '../../core/path/path.js';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import { formatParams } from '../../core/rules/format-names.js';
import type { RuleUse } from '../../core/rules/form.js';
import { valueAt } from '../../core/rules/occurrences.js';
import { UNNAMED } from '../../core/rules/unnamed.js';
import { plainTextRule } from '../../core/rules/expressions.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import type { Failure } from '../keywords/failure.js';
import {
  declaredUse,
  ErrorListError,
  MOST_READ,
  unread,
  useOfKeyword,
  type Background,
} from './foreign.js';
import { keyed } from '../../core/base/keyed.js';

/** Zod's names for types, as JSON has them. */
const TYPES: Readonly<Record<string, string>> = keyed({
  string: 'string',
  number: 'number',
  int: 'integer',
  bigint: 'integer',
  boolean: 'boolean',
  null: 'null',
  array: 'array',
  tuple: 'array',
  set: 'array',
  object: 'object',
  record: 'object',
  map: 'object',
  file: 'file',
});

type BoundRules = readonly [string, string, string, string];

const NUMBERS: BoundRules = ['minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum'];
const ENTRIES: BoundRules = ['minItems', 'minItems', 'maxItems', 'maxItems'];
const MEMBERS: BoundRules = ['minProperties', 'minProperties', 'maxProperties', 'maxProperties'];

/**
 * Which rule a bound is, by what it bounds: the one that includes the bound, and the one that does
 * not.
 */
const BOUNDS: Readonly<Record<string, BoundRules>> = keyed({
  string: ['minLength', 'minLength', 'maxLength', 'maxLength'],
  array: ENTRIES,
  set: ENTRIES,
  tuple: ENTRIES,
  object: MEMBERS,
  record: MEMBERS,
  map: MEMBERS,
  number: NUMBERS,
  int: NUMBERS,
  bigint: NUMBERS,
  file: ['minBytes', 'minBytes', 'maxBytes', 'maxBytes'],
  date: ['earliest', 'earliest', 'latest', 'latest'],
});

/** Checks of texts that come as formats, with what says what they ask for. */
const TEXT_CHECKS: Readonly<
  Record<string, (issue: LooseObject) => readonly [string, LooseObject]>
> = keyed({
  starts_with: ({ prefix }) => ['beginsWith', { text: prefix }],
  ends_with: ({ suffix }) => ['finishesWith', { text: suffix }],
  includes: ({ includes }) => ['containsText', { text: includes }],
  lowercase: () => ['letterCase', { case: 'lower' }],
  uppercase: () => ['letterCase', { case: 'upper' }],
});

/** Types that say that nothing may stand there. */
const NOTHING: ReadonlySet<unknown> = new Set(['undefined', 'void']);

/** Converts a number of any size for JSON: a number where it is exact, else its digits. */
const numeric = (value: unknown): unknown =>
  typeof value !== 'bigint'
    ? value
    : Number.isSafeInteger(numberOf(value))
      ? numberOf(value)
      : wordOf(value);

/** A path of an issue, and what the payload has there. */
interface Spot {
  readonly path: Path;
  readonly value: unknown;
}

class IssueReader {
  /** The keys that lead to the issue at hand, for what is wrong with it. */
  private readonly keys: (string | number)[] = [];

  private count = 0;

  constructor(private readonly background: Background) {}

  list(issues: readonly Loose[], outer: Path = []): Failure[] {
    const found: Failure[] = [];
    for (let at = 0; at < issues.length; at++) {
      if ((this.count += 1) > MOST_READ) {
        this.background.skip?.(issues.length - at);
        break;
      }
      this.keys.push(at);
      const before = found.length;
      this.issue(issues[at], outer, found);
      if (this.keys.length === 1)
        this.background.trace?.({ at: `/${at}`, failures: found.slice(before) });
      this.keys.pop();
    }
    return found;
  }

  /** The issues of a list further inside. */
  private within(
    keys: readonly (string | number)[],
    issues: readonly Loose[],
    outer: Path,
  ): Failure[] {
    this.keys.push(...keys);
    const found = this.list(issues, outer);
    this.keys.length -= keys.length;
    return found;
  }

  /** Makes a failure without a name for an issue that no rule describes. */
  private unnamed(at: Spot, message: string, ...keys: string[]): Failure {
    unread(this.background, message, [...this.keys, ...keys]);
    return this.rule(at, UNNAMED);
  }

  /** A path, and what the payload has there: looked up once for all that is asked of an issue. */
  private spot(path: Path): Spot {
    const { payload } = this.background;
    return { path, value: payload && valueAt(payload.value, path) };
  }

  private issue(issue: Loose, outer: Path, found: Failure[]): void {
    const path = isObject(issue) ? pathOf(issue.path, outer) : undefined;
    const at = this.spot(path ?? outer);
    if (!isObject(issue) || !path || typeof issue.code !== 'string') {
      found.push(this.unnamed(at, 'an issue is an object with "code" and "path"'));
      return;
    }
    switch (issue.code) {
      case 'invalid_type':
        found.push(this.type(issue, at));
        return;
      case 'too_small':
      case 'too_big':
        found.push(this.bound(issue, at));
        return;
      case 'invalid_format':
        found.push(this.format(issue, at));
        return;
      case 'not_multiple_of':
        found.push(this.rule(at, 'multipleOf', { step: numeric(issue.divisor) }));
        return;
      case 'unrecognized_keys':
        for (const name of list(issue.keys))
          found.push(this.rule(at, 'additionalProperties', { name }));
        return;
      case 'invalid_value':
        found.push(this.value(issue, at));
        return;
      case 'invalid_union':
        found.push(this.union(issue, at));
        return;
      case 'invalid_key':
        // Of a map, nothing says which of its keys it is.
        if (issue.origin === 'map') found.push(this.rule(at, 'propertyNames', mapKey(issue)));
        else
          found.push(
            this.rule(this.spot(path.slice(0, -1)), 'propertyNames', { name: wordOf(path.at(-1)) }),
          );
        return;
      case 'invalid_element':
        found.push(...this.within(['issues'], list(issue.issues), path));
        return;
      case 'custom':
        found.push(this.custom(issue, at));
        return;
      default:
        found.push(this.unnamed(at, `there is no issue code "${issue.code}"`, 'code'));
    }
  }

  private rule({ path, value }: Spot, rule: string, params?: LooseObject): Failure {
    return { path, rule, params, value };
  }

  private missing({ path }: Spot): Failure {
    return { path, rule: 'required' };
  }

  private use({ path }: Spot, rule: string): RuleUse | undefined {
    return declaredUse(this.background, path, rule);
  }

  /** Whether nothing was sent there: by the payload, else by the issue if it has its input. */
  private isMissing({ input, message }: LooseObject, { value }: Spot): boolean {
    if (this.background.payload) return value === undefined;
    return (
      input === undefined && typeof message === 'string' && /\breceived undefined$/.test(message)
    );
  }

  private type(issue: LooseObject, at: Spot): Failure {
    const { expected } = issue;
    if (expected === 'nonoptional' || this.isMissing(issue, at)) return this.missing(at);
    if (expected === 'never') return this.rule(at, 'false');
    if (NOTHING.has(expected)) return this.rule(at, 'absent');
    // In JSON it is written as a text, and no other one will do.
    if (expected === 'nan') return this.rule(at, 'const', { expected: 'NaN' });
    if (expected === 'date')
      return this.rule(at, 'format', {
        format: this.use(at, 'format')?.params.format ?? 'date-time',
      });
    // A whole number of the wrong type is asked for as a number, and only then as a whole one.
    const declared = this.use(at, 'type')?.params.expected;
    const type =
      expected === 'number' && declared === 'integer' ? declared : TYPES[wordOf(expected)];
    if (type === undefined)
      return this.unnamed(at, `there is no rule for the type "${wordOf(expected)}"`, 'expected');
    return this.rule(at, 'type', { expected: type });
  }

  private bound(issue: LooseObject, at: Spot): Failure {
    const { origin, code, inclusive } = issue;
    const rules = BOUNDS[wordOf(origin)] ?? NUMBERS;
    const lower = code === 'too_small';
    const rule = rules[(lower ? 0 : 2) + (inclusive === false ? 1 : 0)] ?? 'minimum';
    const limit = numeric(lower ? issue.minimum : issue.maximum);
    if (origin === 'date') return this.date(at, rule, limit, inclusive === false);
    // A form that declares both ends as one rule has one text for both.
    if (this.use(at, 'range') && !this.use(at, rule)) return this.rule(at, 'range');
    return this.rule(at, rule, lower ? { min: limit } : { max: limit });
  }

  private date(at: Spot, rule: string, limit: unknown, exclusive: boolean): Failure {
    const moment = new Date(numberOf(limit));
    if (Number.isNaN(moment.getTime())) return this.unnamed(at, 'the bound of a date is none');
    return this.rule(at, rule, {
      limit: moment.toISOString(),
      ...(exclusive ? { exclusive } : {}),
    });
  }

  private format(issue: LooseObject, at: Spot): Failure {
    const name = wordOf(issue.format);
    const check = Object.hasOwn(TEXT_CHECKS, name) ? TEXT_CHECKS[name] : undefined;
    if (check) {
      const [rule, params] = check(issue);
      // Where the form asks for it by an expression of its own, that is the rule.
      const use = this.use(at, rule)
        ? undefined
        : useOfKeyword(this.background, at.path, 'pattern');
      return use ? this.rule(at, use.rule, use.params) : this.rule(at, rule, params);
    }
    const expression = name === 'regex' || name === 'template_literal';
    const isDeclared = this.use(at, 'pattern') && !this.use(at, 'format');
    if (!expression && !isDeclared) return this.rule(at, 'format', { ...formatParams(name) });
    // The expression is written as a literal, with its slashes and flags.
    const { pattern } = issue;
    const source =
      typeof pattern === 'string' ? (/^\/(.*)\/[a-z]*$/s.exec(pattern)?.[1] ?? pattern) : undefined;
    const use = useOfKeyword(this.background, at.path, 'pattern');
    const plain = use ?? (source === undefined ? undefined : plainTextRule(source));
    if (plain && plain.rule !== 'pattern') return this.rule(at, plain.rule, plain.params);
    return this.rule(at, 'pattern', source === undefined ? {} : { regex: source });
  }

  private value(issue: LooseObject, at: Spot): Failure {
    if (this.isMissing(issue, at) && this.use(at, 'required')) return this.missing(at);
    const all = list(issue.values);
    const values = all
      .filter((value) => value !== undefined && typeof value !== 'symbol')
      .map(numeric);
    if (values.length === 0)
      return all.length > 0
        ? this.rule(at, 'absent')
        : this.unnamed(at, 'an issue lists no values');
    if (this.areMediaTypes(at, values)) return this.rule(at, 'mediaType', { types: values });
    const isConst = values.length === 1 && (this.use(at, 'const') ?? !this.use(at, 'enum'));
    return isConst
      ? this.rule(at, 'const', { expected: values[0] })
      : this.rule(at, 'enum', { choices: values });
  }

  /** Whether the listed values are media types of an upload. Its issue lists values only. */
  private areMediaTypes(at: Spot, values: readonly unknown[]): boolean {
    if (this.use(at, 'mediaType')) return true;
    if (
      typeof at.value === 'string' ||
      !values.every((one) => typeof one === 'string' && MEDIA_TYPE.test(one))
    )
      return false;
    return !(this.use(at, 'enum') ?? this.use(at, 'const'));
  }

  private union(issue: LooseObject, at: Spot): Failure {
    const { path, value } = at;
    const branches = list(issue.errors).map((branch, nth) =>
      this.within(['errors', nth], list(branch), path),
    );
    if (this.isMissing({ ...issue, message: '' }, at)) return this.missing(at);
    const options = list(issue.options)
      .filter((one) => one !== undefined)
      .map(numeric);
    if (branches.length === 0 && options.length > 0)
      return this.rule(at, 'enum', { choices: options });
    return {
      path,
      rule: issue.inclusive === false ? 'oneOf' : 'anyOf',
      branches,
      value,
    };
  }

  private custom({ params }: LooseObject, at: Spot): Failure {
    const { rule, as, ...rest } = isObject(params) ? params : {};
    const parameters = Object.fromEntries(
      Object.entries(rest).map(([name, value]) => [name, numeric(value)]),
    );
    if (typeof rule === 'string' && rule !== '')
      return { ...this.rule(at, rule, parameters), ...asOf(as) };
    // Where the form leaves no choice, the issue needs no name.
    const uses =
      this.background.index?.field(at.path, this.background.in ?? 'body')?.uses.filter(needsName) ??
      [];
    const [only] = uses;
    if (only && uses.length === 1)
      return { ...this.rule(at, only.rule, parameters), ...asOf(only.as) };
    const { index, in: part = 'body' } = this.background;
    const where = printPath(index?.shownPath(at.path, part) ?? at.path) || 'the body';
    return this.unnamed(
      at,
      `the custom issue at ${where} names no rule; give it "params": { "rule": "…" }`,
      'params',
    );
  }
}

const MEDIA_TYPE =
  /^(?:application|audio|font|image|message|model|multipart|text|video)\/[\w.+*-]+$/;

const asOf = (as: unknown): { readonly as?: string } => (typeof as === 'string' ? { as } : {});

/** The key that an issue of a map is about, where its own issues have their input. */
const mapKey = ({ issues }: LooseObject): LooseObject => {
  const [first] = list(issues);
  return isObject(first) && typeof first.input === 'string' ? { name: first.input } : {};
};

/**
 * Whether a rule comes as a custom issue when it breaks: for others the validator has an issue
 * code.
 */
const needsName = ({ rule, external }: RuleUse): boolean => {
  if (external) return true;
  const family = VOCABULARY.get(rule)?.family;
  return (
    family === 'relation' || ['uniqueItems', 'noneOf', 'absent', 'dependentRequired'].includes(rule)
  );
};

const list = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);

/**
 * The path of an issue behind another; nothing where it is none. What JSON has no keys for is no
 * part of it.
 */
function pathOf(value: unknown, outer: Path): Path | undefined {
  if (!Array.isArray(value)) return undefined;
  // A loop, since this is done for every issue.
  for (const segment of value as unknown[])
    if (typeof segment !== 'string' && typeof segment !== 'number') return undefined;
  return outer.length === 0 ? (value as Path) : [...outer, ...(value as Path)];
}

/**
 * The issues of an error of Zod 4, of its JSON, or of a failed `safeParse`; nothing where it is
 * none of these.
 */
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
 * @throws {ErrorListError} when there are none; with `strict`, when one cannot be read as it
 * stands
 */
export function fromZodIssues(value: Loose, background: Background): Failure[] {
  const issues = zodIssues(value);
  if (!issues) throw new ErrorListError('this holds no list of issues', []);
  return new IssueReader(background).list(issues, background.prefix);
}
