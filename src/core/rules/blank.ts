import { printPath } from '../path/path.js';
import type { Violation } from '../violation/violation.js';
import type { FormIndex } from './form-index.js';
import type { Field, FieldPlace, RuleUse } from './form.js';
import { Places } from './occurrences.js';
import { isBlank } from './given.js';

/** Whether a field must be given, whatever else is. */
export const isRequired = ({ rule, within, onlyIf }: RuleUse): boolean => rule === 'required' && !within && !onlyIf;

/** Whether null and blank texts at a field are told as missing. */
export const isBlankMissing = ({ blank, uses }: Field): boolean => blank === true && uses.some(({ rule }) => rule === 'required');

const isBlankOrNull = (value: unknown): boolean => value === null || isBlank(value);

function missing(field: Field, path: string, value: unknown): Violation {
  const as = field.uses.find(({ rule }) => rule === 'required')?.as;
  return {
    path,
    ...(field.in === 'body' ? {} : { in: field.in }),
    rule: 'required',
    ...(as === undefined ? {} : { as }),
    ...(value === undefined ? {} : { value }),
  };
}

/** What was validated, and which part of the request it is. */
export interface Validated {
  readonly value: unknown;
  readonly in: FieldPlace;
}

/** Blank values of required fields, by path. */
function* blanksIn(index: FormIndex, { value: root, in: part }: Validated): Generator<[Field, string, unknown]> {
  const places = new Places(root);
  for (const field of index.form.fields) {
    if (field.in !== part || !isBlankMissing(field) || !field.uses.some(isRequired)) continue;
    for (const { path, value } of places.of(field.pattern))
      if (isBlankOrNull(value) && index.field(path, part) === field) yield [field, printPath(path), value];
  }
}

/**
 * What is told of a value that counts as missing is that it is missing, once, whatever a validator made of it.
 * @param validated tells of those that the validator let through; without it only the values of violations are known
 */
export function blankAsMissing(violations: readonly Violation[], index: FormIndex, validated?: Validated): Violation[] {
  const told = new Set<string>();
  const found = violations.flatMap((violation) => {
    const { path, in: part = 'body', value, rule } = violation;
    if (!isBlankOrNull(value) && rule !== 'required') return [violation];
    const pattern = index.readPath(path, part);
    const field = index.field(pattern, part);
    if (!field || !isBlankMissing(field)) return [violation];
    const text = printPath(pattern);
    if (told.has(`${part} ${text}`)) return [];
    told.add(`${part} ${text}`);
    return [missing(field, text, value)];
  });
  if (found.length > 0 && validated)
    for (const [field, path, value] of blanksIn(index, validated))
      if (!told.has(`${field.in} ${path}`)) found.push(missing(field, path, value));
  return found;
}
