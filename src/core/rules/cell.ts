/** A value as it stands in a table. */
export const cell = (value: unknown): string =>
  typeof value === 'string' ? value : value === undefined ? '' : JSON.stringify(value);
