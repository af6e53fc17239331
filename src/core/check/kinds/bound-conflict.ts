import type { Remark } from '../../finding.js';
import type { Field, Form, RuleUse } from '../../rules/form.js';
import { isOfType, typesOf } from '../../rules/types.js';
import { compareTimes } from '../../rules/timeline.js';
import { measured } from '../../text/value.js';
import type { Kind } from '../subject/kind.js';

const PAIRS: readonly (readonly [string, string, boolean])[] = [
  ['minLength', 'maxLength', false],
  ['minItems', 'maxItems', false],
  ['minProperties', 'maxProperties', false],
  ['minContains', 'maxContains', false],
  ['minimum', 'maximum', false],
  ['exclusiveMinimum', 'maximum', true],
  ['minimum', 'exclusiveMaximum', true],
  ['exclusiveMinimum', 'exclusiveMaximum', true],
];

/** Without one of these a field has nothing that could contradict another rule. */
const CONTRARY: ReadonlySet<string> = new Set([
  ...PAIRS.map(([lower]) => lower),
  'range',
  'earliest',
  'enum',
]);

/** Uses that always hold: without a condition, and with a bound of their own. */
const settled = ({ uses }: Field, rule: string): RuleUse[] =>
  uses.filter((use) => use.rule === rule && !use.onlyIf && !use.counterpart);

/**
 * Whether two uses hold of one value: neither stands in an alternative that the other does not
 * stand in.
 */
function together({ within: one = [] }: RuleUse, { within: other = [] }: RuleUse): boolean {
  const shared = Math.min(one.length, other.length);
  return one.slice(0, shared).every((alternative, at) => alternative === other[at]);
}

function* pairConflicts(field: Field): Generator<{ use: RuleUse; why: string }> {
  for (const [lower, upper, open] of PAIRS) {
    for (const low of settled(field, lower)) {
      for (const high of settled(field, upper)) {
        if (!together(low, high)) continue;
        const [min, max] = [Number(low.params.min), Number(high.params.max)];
        if (min > max || (open && min === max))
          yield { use: high, why: `"${upper}" ${max} leaves nothing above "${lower}" ${min}` };
      }
    }
  }
  for (const range of settled(field, 'range'))
    if (Number(range.params.min) > Number(range.params.max))
      yield { use: range, why: '"min" of the range is above its "max"' };
  for (const early of settled(field, 'earliest')) {
    for (const late of settled(field, 'latest'))
      if (together(early, late) && compareTimes(early.params.limit, late.params.limit, 'UTC') === 1)
        yield {
          use: late,
          why: `"latest" ${String(late.params.limit)} is before "earliest" ${String(early.params.limit)}`,
        };
  }
}

/** Why a listed value can never be given, by another rule of the field. */
function refusal(value: unknown, listed: RuleUse, field: Field): string | undefined {
  const settledHere = (rule: string): RuleUse[] =>
    settled(field, rule).filter((use) => together(use, listed));
  const types = settledHere('type').map(({ params }) => typesOf(params.expected));
  if (types.some((allowed) => !allowed.some((type) => isOfType(value, type))))
    return 'the type refuses it';
  if (typeof value === 'number') {
    if (settledHere('minimum').some(({ params }) => value < Number(params.min)))
      return '"minimum" refuses it';
    return settledHere('maximum').some(({ params }) => value > Number(params.max))
      ? '"maximum" refuses it'
      : undefined;
  }
  if (typeof value !== 'string') return undefined;
  const length = measured(value) ?? 0;
  if (settledHere('minLength').some(({ params }) => length < Number(params.min)))
    return '"minLength" refuses it';
  if (settledHere('maxLength').some(({ params }) => length > Number(params.max)))
    return '"maxLength" refuses it';
  // Values of a list are short, and so the regular expression has no time to be slow.
  const refused =
    value.length <= 64 &&
    settledHere('pattern').some(({ params }) => !matches(String(params.regex), value));
  return refused ? '"pattern" refuses it' : undefined;
}

function matches(regex: string, value: string): boolean {
  try {
    return new RegExp(regex, 'u').test(value);
  } catch {
    return true;
  }
}

function* conflictsIn(form: Form): Generator<Remark> {
  for (const field of form.fields) {
    if (!field.uses.some(({ rule }) => CONTRARY.has(rule))) continue;
    const found = [...pairConflicts(field)];
    for (const use of settled(field, 'enum')) {
      for (const value of Array.isArray(use.params.choices)
        ? (use.params.choices as unknown[])
        : []) {
        const why = refusal(value, use, field);
        if (why !== undefined)
          found.push({ use, why: `${JSON.stringify(value)} is listed, but ${why}` });
      }
    }
    for (const { use, why } of found)
      yield {
        kind: 'bound-conflict',
        form: form.id,
        path: field.path,
        rule: use.as ?? use.rule,
        message: `No value of ${field.path || 'the body'} can satisfy its rules: ${why}. Correct one of the two.`,
        spot: { ...use.origin, at: 'value' },
      };
  }
}

export const boundConflict: Kind = {
  kind: 'bound-conflict',
  severity: 'error',
  about:
    'Two rules of a field contradict each other, so that no value, or not every listed one, can ever be given.',
  remedy: 'Correct one of the two.',
  example: 'title: { minLength: 80, maxLength: 40 }',
  *findInRules({ subject }) {
    for (const form of subject.forms) yield* conflictsIn(form);
  },
};
