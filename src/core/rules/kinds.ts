import { argument, holds, type RuleDefinition } from './definition.js';
import { canonical } from './equality.js';
import { FORMAT_NAMES } from './format-names.js';

/** The types of JSON Schema, each a key for `select`. */
export const TYPE_NAMES = ['string', 'number', 'integer', 'boolean', 'array', 'object', 'null'] as const;

/** Whether a value is of a JSON type; a number without a fraction is an integer (JSON Schema Core section 4.2.3). */
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
    default:
      return typeof value === type;
  }
}

/** The types that a use of the rule allows. */
export const typesOf = (expected: unknown): readonly string[] =>
  Array.isArray(expected) ? expected.map(String) : [String(expected)];

export const KINDS: readonly RuleDefinition[] = [
  {
    id: 'type',
    family: 'kind',
    about: 'must be of a JSON type',
    appliesTo: 'any',
    parameters: [{ name: 'expected', type: 'types', about: `one of ${TYPE_NAMES.join(', ')}, or a list of them` }],
    arguments: [argument('expected', 'key', 'number', 'the type, for `select`; `several` where there is a choice')],
    test: (value, { expected }) => holds(typesOf(expected).some((type) => isOfType(value, type))),
  },
  {
    id: 'format',
    family: 'kind',
    about: 'must have a well-known format',
    appliesTo: 'text',
    parameters: [{ name: 'format', type: 'format', about: `one of ${FORMAT_NAMES.join(', ')}` }],
    arguments: [
      argument('format', 'key', 'date', 'the format, for `select`; `-` is written `_`'),
      argument('format_name', 'text', 'Base64', 'its name in the trade, the same in all languages'),
      argument('example', 'text', 'WmVpdHdvcnQ=', 'a text that has it'),
      argument('hint', 'key', 'yes', '`yes` where there is an example, else `no`'),
    ],
    test: (value, { format }, { hasFormat }) => holds(hasFormat(String(format), String(value))),
  },
  {
    id: 'const',
    family: 'kind',
    about: 'must be one value',
    appliesTo: 'any',
    parameters: [{ name: 'expected', type: 'value', about: 'the value' }],
    arguments: [argument('expected', 'text', 'yes', 'the value, as text')],
    test: (value, { expected }) => holds(canonical(value) === canonical(expected)),
  },
];
