import type { RequestPart } from './form.js';

/** One rule that one concrete field broke. */
export interface Violation {
  /** In our notation (`targets[2].name`) or as a JSON Pointer (`/targets/2/name`). */
  readonly path: string;
  /** Where the field stands; `body` where absent. */
  readonly in?: RequestPart | undefined;
  /** An id of the vocabulary or of an external rule. */
  readonly rule: string;
  /** The message key and code of the use that was broken, where it has its own. */
  readonly as?: string | undefined;
  /** By the parameters' names; what is left out is taken from the form's rules. */
  readonly params?: Readonly<Record<string, unknown>> | undefined;
  /** The value that was sent. */
  readonly value?: unknown;
  /** The field's label, where only the request knows it, as for fields that people add. */
  readonly label?: string | undefined;
}

/**
 * A violation without the members that would say nothing; put together step by step, since every
 * report is made of such.
 */
export function violationOf(
  path: string,
  part: RequestPart,
  { rule, as, params, value }: Omit<Violation, 'path' | 'in'>,
): Violation {
  const violation: { -readonly [key in keyof Violation]: Violation[key] } =
    part === 'body' ? { path, rule } : { path, in: part, rule };
  if (as !== undefined) violation.as = as;
  if (params && hasMembers(params)) violation.params = params;
  if (value !== undefined) violation.value = value;
  return violation;
}

function hasMembers(params: object): boolean {
  for (const name in params) if (Object.hasOwn(params, name)) return true;
  return false;
}
