import { wordOf } from '../text/outer.js';
import type { RuleUse } from './form.js';

/** The types of JSON Schema, each a key for `select`. */
export const TYPE_NAMES = [
  'string',
  'number',
  'integer',
  'boolean',
  'array',
  'object',
  'null',
] as const;

/** A file that came with a request. */
export const FILE = 'file';

/**
 * Whether a value is of a JSON type; a number without a fraction is an integer (JSON Schema Core
 * section 4.2.3).
 */
export function isOfType(value: unknown, type: string): boolean {
  switch (type) {
    case 'null':
      return value === null;
    case 'array':
      return Array.isArray(value);
    case 'object':
      return typeof value === 'object' && value !== null && !Array.isArray(value);
    case 'integer':
      return Number.isInteger(value);
    case FILE:
      return (
        typeof value === 'object' &&
        value !== null &&
        'size' in value &&
        typeof value.size === 'number'
      );
    default:
      return typeof value === type;
  }
}

/** The types that a use of the rule allows. */
export const typesOf = (expected: unknown): readonly string[] =>
  Array.isArray(expected) ? expected.map(wordOf) : [wordOf(expected)];

/** The types that a field's rules allow; none where nothing says. */
export const declaredTypes = (uses: readonly Pick<RuleUse, 'rule' | 'params'>[]): string[] =>
  uses.flatMap(({ rule, params }) => (rule === 'type' ? typesOf(params.expected) : []));
