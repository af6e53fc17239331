/** The separator of ids in the name of a set of forms. */
const BETWEEN = ', ';

/**
 * Several forms that share texts, as one name: each id once, in order, so that all files that list
 * them mean one set.
 */
export const nameOfForms = (ids: readonly string[]): string =>
  [...new Set(ids)].sort().join(BETWEEN);

/** The forms of a name: of a set each, else the one. */
export const formsNamed = (name: string): readonly string[] => name.split(BETWEEN);

/** Whether what is said of some forms is said of one of them; what names none is said of all. */
export const speaksOf = (name: string | undefined, form: string): boolean =>
  name === undefined ||
  name === form ||
  (name.includes(BETWEEN) && formsNamed(name).includes(form));

/** Returns the name of a set as a catalog writes it. */
export function formsWritten(name: string): string | readonly string[] {
  const ids = formsNamed(name);
  return ids.length === 1 ? name : ids;
}
