import { printPath, type Path } from '../path/path.js';
import { samplePathIn } from '../rules/sample-path.js';
import type { RuleDefinition } from '../rules/definition.js';
import { comparedColumns } from '../rules/row-conditions.js';
import type { Field, Form, RuleUse } from '../rules/form.js';
import { VOCABULARY } from '../rules/vocabulary.js';
import type { Violation } from '../rules/violation.js';
import { isLongList } from './few-choices.js';

/** A value that just breaks the bound declared. */
function sampleNumber({ max, min }: RuleUse['params']): number {
  if (typeof max === 'number') return max + 1;
  return typeof min === 'number' ? min - 1 : 27.5;
}

const VALUES: Record<Exclude<RuleDefinition['appliesTo'], 'number'>, unknown> = {
  any: 'abc',
  text: 'abc',
  array: [],
  object: {},
  date: '2027-01-31',
};

/**
 * Arguments that depend on the value. All others follow from the declaration, and a sample would
 * contradict it.
 */
export const FOUND: ReadonlySet<string> = new Set(['actual', 'first', 'second', 'name']);

/** Near to no value of a list, so that a sample names the first of many as they stand. */
const FAR = 'none of these values';

function sampleValue(definition: RuleDefinition | undefined, params: RuleUse['params']): unknown {
  if (definition?.appliesTo === 'number') return sampleNumber(params);
  return isLongList(params.choices) ? FAR : VALUES[definition?.appliesTo ?? 'any'];
}

/**
 * A violation of a rule as it might come, for showing what its message says: declared parameters,
 * else the vocabulary's samples.
 */
export function sampleViolation(field: Field, use: RuleUse, path: Path): Violation {
  const definition = VOCABULARY.get(use.rule);
  const found = (definition?.arguments ?? []).filter(({ name }) => FOUND.has(name));
  const params = Object.fromEntries([
    ...found.map(({ name, sample }) => [name, sample] as const),
    ...comparedColumns(use.params).map((column) => [column, 3] as const),
  ]);
  return {
    path: printPath(path),
    in: field.in,
    rule: use.rule,
    as: use.as,
    params: { ...params, ...use.params },
    value: sampleValue(definition, use.params),
  };
}

/** Returns the sample at a place that the field has in its form. */
export const sampleIn = (form: Form, field: Field, use: RuleUse): Violation =>
  sampleViolation(field, use, samplePathIn(form, field.pattern, field.in));
