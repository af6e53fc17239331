import { keyed } from '../base/keyed.js';

/** The arguments of each problem's texts, by the problem's name. */
export const PROBLEM_ARGUMENTS: Readonly<Record<string, readonly string[]>> = keyed({
  // `fields` counts those of the violations that were read, which are not all where there are very
  // many.
  'invalid-fields': ['count', 'fields'],
  // Not every reader of JSON has the place.
  'malformed-body': ['located', 'line', 'column'],
  'too-many-requests': ['timed', 'seconds'],
  unavailable: ['timed', 'seconds'],
  'not-validated': ['timed', 'seconds'],
});
