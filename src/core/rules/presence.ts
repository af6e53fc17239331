import { argument, flag, type RuleDefinition } from './definition.js';

const name = argument('name', 'text', 'colour', "the member's name");
const counterpart = argument('counterpart', 'text', 'other field', 'the label of the other field');

export const PRESENCE: readonly RuleDefinition[] = [
  {
    id: 'required',
    family: 'presence',
    about: 'must be given: present, not null, not blank',
    appliesTo: 'any',
    parameters: [flag],
    arguments: [],
  },
  { id: 'absent', family: 'presence', about: 'must be left out', appliesTo: 'any', parameters: [flag], arguments: [] },
  {
    id: 'dependentRequired',
    family: 'presence',
    about: 'must be given where another field is',
    appliesTo: 'any',
    parameters: [{ name: 'field', type: 'field', about: 'the field whose presence asks for this one' }],
    arguments: [counterpart],
    bySibling: true,
  },
  {
    id: 'additionalProperties',
    family: 'presence',
    about: 'must have no members but those declared',
    appliesTo: 'object',
    parameters: [flag],
    arguments: [name],
  },
  {
    id: 'unevaluatedProperties',
    family: 'presence',
    about: 'must have no members but those that some part of the schema declares',
    appliesTo: 'object',
    parameters: [flag],
    arguments: [name],
  },
  {
    id: 'propertyNames',
    family: 'presence',
    about: 'must have members with names of the form asked for',
    appliesTo: 'object',
    parameters: [{ name: 'regex', type: 'regex', about: 'a regular expression that every name matches' }],
    arguments: [name],
  },
];
