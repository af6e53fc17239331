/**
 * Values by names that come from anywhere: an object without a prototype, so that under a name such
 * as `constructor` or `__proto__` only what was put there is found, and nothing else is written.
 */
// @__NO_SIDE_EFFECTS__
export const keyed = <T>(members: Readonly<Record<string, T>> = {}): Record<string, T> =>
  Object.assign(Object.create(null) as Record<string, T>, members);
