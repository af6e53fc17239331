import { keyed } from '../base/keyed.js';

/** What the texts of a problem can say besides words, by the problem's name. */
export const PROBLEM_ARGUMENTS: Readonly<Record<string, readonly string[]>> = keyed({
  // `fields` counts those of the violations that were read, which are not all where there are very
  // many.
  'invalid-fields': ['count', 'fields'],
  // Not every reader of JSON can tell the place.
  'malformed-body': ['located', 'line', 'column'],
  'too-many-requests': ['timed', 'seconds'],
  unavailable: ['timed', 'seconds'],
  'not-validated': ['timed', 'seconds'],
});
