import { isBlank, isGiven } from './given.js';
import {
  argument,
  flag,
  holds,
  type Probe,
  type RuleDefinition,
  type Verdict,
} from './definition.js';

const name = argument('name', 'text', 'colour', "the member's name");
const counterpart = argument('counterpart', 'text', 'other field', 'the label of the other field');

const closed = { ...flag, on: false, about: 'false' } as const;

function undeclared(value: unknown, _: unknown, { declares }: Probe): Verdict {
  return Object.keys(value as object)
    .filter((member) => !declares(member))
    .map((member) => ({ name: member }));
}

export const PRESENCE: readonly RuleDefinition[] = [
  {
    id: 'required',
    family: 'presence',
    about: 'must be given: present, not null, not blank',
    appliesTo: 'any',
    parameters: [flag],
    arguments: [],
    looksAtAbsent: true,
    test: (value) => holds(isGiven(value) && !isBlank(value)),
  },
  {
    id: 'absent',
    family: 'presence',
    about: 'must be left out',
    appliesTo: 'any',
    parameters: [flag],
    arguments: [],
    test: (value) => holds(!isGiven(value)),
  },
  {
    id: 'dependentRequired',
    family: 'presence',
    about: 'must be given where another field is',
    appliesTo: 'any',
    parameters: [
      { name: 'field', type: 'field', about: 'the field whose presence asks for this one' },
    ],
    arguments: [counterpart],
    bySibling: true,
    looksAtAbsent: true,
    test: (value, _, { other }) => holds(isGiven(value) || !isGiven(other())),
  },
  {
    id: 'additionalProperties',
    family: 'presence',
    about: 'must have no members but those declared',
    appliesTo: 'object',
    parameters: [closed],
    arguments: [name],
    test: undeclared,
  },
  {
    id: 'unevaluatedProperties',
    family: 'presence',
    about: 'must have no members but those that some part of the schema declares',
    appliesTo: 'object',
    parameters: [closed],
    arguments: [name],
    test: undeclared,
  },
  {
    id: 'propertyNames',
    family: 'presence',
    about: 'must have members with names of the form asked for',
    appliesTo: 'object',
    parameters: [
      { name: 'regex', type: 'regex', about: 'a regular expression that every name matches' },
    ],
    arguments: [name],
    test: (value, { regex }, { matches }) =>
      Object.keys(value as object)
        .filter((member) => matches(String(regex), member) !== true)
        .map((member) => ({ name: member })),
  },
];
