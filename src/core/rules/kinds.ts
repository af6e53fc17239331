import { argument, type RuleDefinition } from './definition.js';

/** The types of JSON Schema, each a key for `select`. */
export const TYPE_NAMES = ['string', 'number', 'integer', 'boolean', 'array', 'object', 'null'] as const;

/** The formats that a sheet can ask for (JSON Schema Validation section 7.3), each asserted. */
export const FORMAT_NAMES = [
  ...['date', 'time', 'date-time', 'duration', 'email', 'hostname', 'ipv4', 'ipv6'],
  ...['uri', 'uri-reference', 'uuid', 'json-pointer', 'regex'],
] as const;

export const KINDS: readonly RuleDefinition[] = [
  {
    id: 'type',
    family: 'kind',
    about: 'must be of a JSON type',
    appliesTo: 'any',
    parameters: [{ name: 'expected', type: 'types', about: `one of ${TYPE_NAMES.join(', ')}, or a list of them` }],
    arguments: [argument('expected', 'key', 'number', 'the type, for `select`; `several` where there is a choice')],
  },
  {
    id: 'format',
    family: 'kind',
    about: 'must have a well-known format',
    appliesTo: 'text',
    parameters: [{ name: 'format', type: 'format', about: `one of ${FORMAT_NAMES.join(', ')}` }],
    arguments: [argument('format', 'key', 'date', 'the format, for `select`; `-` is written `_`')],
  },
  {
    id: 'const',
    family: 'kind',
    about: 'must be one value',
    appliesTo: 'any',
    parameters: [{ name: 'expected', type: 'value', about: 'the value' }],
    arguments: [argument('expected', 'text', 'yes', 'the value, as text')],
  },
];
