import { described, isObject } from '../../core/reading.js';
import { foreignPart } from '../../core/rules/regex-trouble.js';
import { DEFINITIONS, LIST, MAP } from './applicators.js';

const TYPES = ['null', 'boolean', 'object', 'array', 'number', 'string', 'integer'];

/** The form that the value of a keyword must have. */
interface Shape {
  readonly fits: (value: unknown) => boolean;
  /** Its name, in a sentence that goes on with the actual value. */
  readonly is: string;
}

const isCount = (value: unknown): boolean => Number.isInteger(value) && Number(value) >= 0;
const isText = (value: unknown): boolean => typeof value === 'string';
const isNames = (value: unknown): boolean =>
  Array.isArray(value) && value.every(isText) && new Set(value).size === value.length;

const shape = (
  is: string,
  fits: (value: unknown) => boolean,
  ...keywords: readonly string[]
): [string, Shape][] => keywords.map((keyword) => [keyword, { fits, is }]);

/** @param flags `u` for what the standard asks for */
export function isRegex(text: unknown, flags: 'u' | ''): boolean {
  if (typeof text !== 'string') return false;
  try {
    new RegExp(text, flags);
    return true;
  } catch {
    return false;
  }
}

/**
 * Whether a text is an expression by which values can be judged: many that people write are none by
 * the rules of Unicode. Without these \A is the letter A: an expression of another dialect would
 * refuse what is right.
 */
export const isPattern = (text: unknown): boolean =>
  isRegex(text, 'u') ||
  (isRegex(text, '') && typeof text === 'string' && foreignPart(text) === undefined);

/**
 * By keyword, as the metaschemas of JSON Schema have it (2020-12, 2019-09 and draft 7 agree in
 * these).
 */
const KEYWORD_SHAPES: ReadonlyMap<string, Shape> = new Map([
  ...shape(
    `one of ${TYPES.join(', ')}, or a list of them without repetition`,
    (value) => {
      const types: readonly unknown[] = Array.isArray(value) ? value : [value];
      return (
        types.length > 0 &&
        new Set(types).size === types.length &&
        types.every((one) => typeof one === 'string' && TYPES.includes(one))
      );
    },
    'type',
  ),
  ...shape(
    'a list with one value at least',
    (value) => Array.isArray(value) && value.length > 0,
    'enum',
  ),
  ...shape(
    'a list of names without repetition; it stands beside "properties", not inside of one',
    isNames,
    'required',
  ),
  ...shape(
    'a number',
    Number.isFinite,
    'minimum',
    'maximum',
    'exclusiveMinimum',
    'exclusiveMaximum',
  ),
  ...shape('a number above 0', (value) => typeof value === 'number' && value > 0, 'multipleOf'),
  ...shape(
    'a whole number from 0',
    isCount,
    'minLength',
    'maxLength',
    'minItems',
    'maxItems',
    'minProperties',
    'maxProperties',
    'minContains',
    'maxContains',
  ),
  ...shape(
    'true or false',
    (value) => typeof value === 'boolean',
    'uniqueItems',
    'readOnly',
    'writeOnly',
  ),
  ...shape('a regular expression', isPattern, 'pattern'),
  ...shape(
    'a text',
    isText,
    'format',
    'title',
    'description',
    '$ref',
    '$dynamicRef',
    '$recursiveRef',
    '$id',
  ),
  ...shape('a list', Array.isArray, 'examples'),
  ...shape(
    'an object whose members are lists of names without repetition',
    (value) => isObject(value) && Object.values(value).every(isNames),
    'dependentRequired',
  ),
  ...shape(
    'a list with one schema at least',
    (value) => Array.isArray(value) && value.length > 0,
    ...LIST,
  ),
  ...shape('an object whose members are schemas', isObject, ...MAP, ...DEFINITIONS),
  ...shape('an object whose members are schemas or lists of names', isObject, 'dependencies'),
]);

/**
 * Returns the fault of a keyword's value, in one sentence with the remedy; nothing where it is
 * valid, or the keyword is unknown.
 */
export function keywordTrouble(keyword: string, value: unknown): string | undefined {
  const wanted = KEYWORD_SHAPES.get(keyword);
  if (!wanted || wanted.fits(value)) return undefined;
  const foreign =
    keyword === 'pattern' && typeof value === 'string' ? foreignPart(value) : undefined;
  if (foreign !== undefined)
    return `"${keyword}" is a regular expression of ECMA-262, and ${foreign}. Until then this keyword is passed over.`;
  const found =
    typeof value === 'string'
      ? JSON.stringify(value.length > 40 ? `${value.slice(0, 39)}…` : value)
      : described(value);
  return `"${keyword}" is ${wanted.is}, not ${found}. Correct it; until then this keyword is passed over.`;
}
