import { parsePattern, PathSyntaxError, type Pattern } from '../path/path.js';
import { isObject, type Loose, type LooseObject } from '../reading.js';
import { suggestion } from '../text/closest.js';
import { cell } from './cell.js';

/** How a column of a row may be compared, besides with a value. */
const COMPARISONS = ['minimum', 'maximum', 'noneOf', 'field'] as const;

const isScalar = (value: Loose): boolean =>
  value === null || ['string', 'number', 'boolean'].includes(typeof value);

/** Another field that gives a value: `{ field: quantity }`. */
const fieldOf = (value: Loose): string | undefined =>
  isObject(value) && typeof value.field === 'string' && Object.keys(value).length === 1
    ? value.field
    : undefined;

function pathTrouble(path: string): string | undefined {
  try {
    parsePattern(path);
    return undefined;
  } catch (error) {
    if (error instanceof PathSyntaxError) return error.message;
    throw error;
  }
}

function comparisonTrouble(column: string, name: string, value: Loose): string | undefined {
  if (!COMPARISONS.some((one) => one === name))
    return `"${column}" is compared by ${COMPARISONS.join(', ')}${suggestion(name, COMPARISONS)}`;
  if (name === 'noneOf')
    return Array.isArray(value) && value.length > 0
      ? undefined
      : `"noneOf" of "${column}" is a list of values`;
  const field = name === 'field' ? value : isObject(value) ? value.field : undefined;
  if (typeof field === 'string') return pathTrouble(field);
  return typeof value === 'number'
    ? undefined
    : `"${name}" of "${column}" is a number, or { field: … }`;
}

/** Returns the fault of conditions on other columns of a row; nothing where they are valid. */
export function conditionsTrouble(conditions: LooseObject): string | undefined {
  for (const [column, wanted] of Object.entries(conditions)) {
    if (isScalar(wanted)) continue;
    if (!isObject(wanted) || Object.keys(wanted).length === 0)
      return `"${column}" is a value, or an object with ${COMPARISONS.join(', ')}`;
    for (const [name, value] of Object.entries(wanted)) {
      const trouble = comparisonTrouble(column, name, value);
      if (trouble !== undefined) return trouble;
    }
  }
  return undefined;
}

/** The parameters and arguments that a table's rule uses itself. */
const OWN = new Set(['table', 'column', 'having', 'value', 'label', 'subject', 'place']);

/** The columns that a rule compares: their values are arguments, by the column's name. */
export const comparedColumns = ({ having }: Readonly<Record<string, unknown>>): string[] =>
  isObject(having) ? Object.keys(having).filter((column) => !OWN.has(column)) : [];

/** Returns a row's values in the columns that a rule compares, numbers as numbers. */
export const comparedValues = (
  params: Readonly<Record<string, unknown>>,
  row: Readonly<Record<string, string>>,
): Record<string, unknown> =>
  Object.fromEntries(
    comparedColumns(params).flatMap((column): [string, unknown][] => {
      const text = row[column] ?? '';
      if (text === '') return [];
      return [[column, /^-?(?:0|[1-9]\d*)(?:\.\d+)?$/.test(text) ? Number(text) : text]];
    }),
  );

/** The other fields that conditions name. */
export function fieldsIn(conditions: Loose): Pattern[] {
  if (!isObject(conditions)) return [];
  const named = (value: Loose): string[] => {
    const own = fieldOf(value);
    if (own !== undefined) return [own];
    return isObject(value) ? Object.values(value).flatMap(named) : [];
  };
  return Object.values(conditions)
    .flatMap(named)
    .filter((path) => pathTrouble(path) === undefined)
    .map((path) => parsePattern(path));
}

/**
 * Conditions with the values of the fields that they name.
 * @param valueOf what another field holds; nothing where it was not given
 */
export function withValues(
  conditions: LooseObject,
  valueOf: (field: string) => unknown,
): LooseObject {
  const resolve = (value: Loose): Loose => {
    const field = fieldOf(value);
    if (field !== undefined) return { is: valueOf(field) };
    if (!isObject(value)) return value;
    return Object.fromEntries(
      Object.entries(value).map(([name, one]) => [
        name,
        name === 'noneOf' ? one : unwrapped(resolve(one)),
      ]),
    );
  };
  return Object.fromEntries(
    Object.entries(conditions).map(([column, wanted]) => [column, resolve(wanted)]),
  );
}

const unwrapped = (value: Loose): Loose => (isObject(value) && 'is' in value ? value.is : value);

/**
 * Whether what stands in a column fulfils its condition; a bound that nobody gave bounds nothing.
 */
export function fulfils(text: string | undefined, wanted: Loose): boolean {
  if (!isObject(wanted)) return text === cell(wanted);
  const number = text === undefined || text === '' ? Number.NaN : Number(text);
  return Object.entries(wanted).every(([name, value]) => {
    if (value === undefined || value === null) return true;
    switch (name) {
      case 'minimum':
        return number >= Number(value);
      case 'maximum':
        return number <= Number(value);
      case 'noneOf':
        return Array.isArray(value) && !value.some((one) => text === cell(one));
      default:
        return text === cell(value);
    }
  });
}
