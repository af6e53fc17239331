/** Whether something was given: null counts as nothing, as a form sends it for an empty input. */
export const isGiven = (value: unknown): boolean => value !== undefined && value !== null;

export const isBlank = (value: unknown): boolean =>
  typeof value === 'string' && value.trim() === '';
