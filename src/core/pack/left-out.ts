import { printPath, type Pattern } from '../path/path.js';
import type { Field } from '../rules/form.js';

/** A sentence that needs ICU, and why. */
export interface Unsimple {
  readonly form: string;
  /** Where it is said; absent for problems, which are said anywhere. */
  readonly place?: Pick<Field, 'pattern' | 'in'>;
  readonly code: string;
  readonly why: string;
}

/** Where a field is found in a pack: `query:dryRun` for what is not of the body. */
export const fieldKey = (pattern: Pattern, part: Field['in']): string =>
  part === 'body' ? printPath(pattern) : `${part}:${printPath(pattern)}`;

/** Where a sentence would be found that a pack does not have; empty for problems. */
export const placeOf = ({ place }: Pick<Unsimple, 'place'>): string =>
  place ? fieldKey(place.pattern, place.in) : '';

/** Whether two entries are about one sentence, for one reason. */
export const isSame = (one: Unsimple, other: Unsimple): boolean =>
  one.form === other.form &&
  placeOf(one) === placeOf(other) &&
  one.code === other.code &&
  one.why === other.why;

/** The code under which the title or the detail of a problem is named where it is left out. */
export const problemKey = (problem: string, part: string): string => `${problem} ${part}`;
