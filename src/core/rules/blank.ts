import { printPath, type Path } from '../path/path.js';
import { violationOf, type Violation } from './violation.js';
import type { FormIndex } from './form-index.js';
import type { Field, RequestPart, RuleUse } from './form.js';
import { isBlank } from './given.js';

/** Whether a field must be given, whatever else is. */
export const isRequired = ({ rule, within, onlyIf }: RuleUse): boolean =>
  rule === 'required' && !within && !onlyIf;

/** Returns the rule that reports null and blank texts at a field as missing. */
const blankUse = (field: Field | undefined): RuleUse | undefined =>
  field?.blank ? field.uses.find(({ rule }) => rule === 'required') : undefined;

/** Whether null and blank texts at a field are reported as missing. */
export const isBlankMissing = (field: Field): boolean => blankUse(field) !== undefined;

/** A text that begins with a letter or digit is not blank; most do. */
const isBlankOrNull = (value: unknown): boolean =>
  value === null ||
  (typeof value === 'string' &&
    !(value.charCodeAt(0) > 0x20 && value.charCodeAt(0) < 0x7f) &&
    isBlank(value));

/** A place in a value: what it holds, under which key of what. */
interface Blank {
  readonly value: unknown;
  readonly key: string | number;
  readonly around: Blank | undefined;
}

function pathOf(place: Blank): Path {
  const path: (string | number)[] = [];
  for (let at = place; at.around; at = at.around) path.push(at.key);
  return path.reverse();
}

/** The places of a value that hold something blank; mostly there are none. */
function blanksOf(root: unknown): Blank[] {
  const found: Blank[] = [];
  // Without recursion: clients choose the depth. Only what holds others is a place of its own.
  const waiting: Blank[] = [];
  const visit = (value: unknown, key: string | number, around: Blank | undefined): void => {
    if (typeof value === 'object' && value !== null) waiting.push({ value, key, around });
    else if (isBlankOrNull(value)) found.push({ value, key, around });
  };
  visit(root, '', undefined);
  for (let place = waiting.pop(); place; place = waiting.pop()) {
    const { value } = place;
    if (Array.isArray(value))
      for (let key = 0; key < value.length; key++) visit((value as unknown[])[key], key, place);
    else
      for (const key in value as object)
        visit((value as Readonly<Record<string, unknown>>)[key], key, place);
  }
  return found;
}

const missing = (part: RequestPart, path: string, { as }: RuleUse, value: unknown): Violation =>
  violationOf(path, part, { rule: 'required', as, value });

/** The validated value, and its part of the request. */
export interface Validated {
  readonly value: unknown;
  readonly in: RequestPart;
}

/**
 * Reports a value that counts as missing as missing, once, whatever a validator reported.
 * @param validated has those values that the validator accepted; without it only the values of
 * violations are known
 * @param paths of the violations, where the caller has parsed them
 */
export function blankAsMissing(
  violations: Violation[],
  index: FormIndex,
  validated?: Validated,
  paths?: readonly Path[],
): Violation[] {
  const blanks = validated ? blanksOf(validated.value) : [];
  if (blanks.length === 0 && !violations.some(({ value }) => isBlankOrNull(value)))
    return violations;
  const reported = new Set<string>();
  const keyOf = (part: RequestPart, path: string): string => `${part} ${path}`;
  const found: Violation[] = [];
  // A loop, since this is done for every report.
  for (let at = 0; at < violations.length; at++) {
    const violation = violations[at];
    if (!violation) continue;
    const { rule, value } = violation;
    if (rule !== 'required' && !isBlankOrNull(value)) {
      found.push(violation);
      continue;
    }
    const { path, in: part = 'body' } = violation;
    const use = blankUse(index.field(paths?.[at] ?? index.readPath(path, part), part));
    if (!use) found.push(violation);
    else if (!reported.has(keyOf(part, path))) {
      reported.add(keyOf(part, path));
      found.push(rule === 'required' ? violation : missing(part, path, use, value));
    }
  }
  if (found.length === 0 || !validated) return found;
  for (const place of blanks) {
    const path = pathOf(place);
    const field = index.field(path, validated.in);
    const use = blankUse(field);
    if (!use || !field?.uses.some(isRequired)) continue;
    const text = printPath(path);
    if (!reported.has(keyOf(field.in, text))) found.push(missing(field.in, text, use, place.value));
  }
  return found;
}
