import { parsePath } from '../path/path.js';
import { isBlank, isGiven } from './given.js';
import { valueAt } from './occurrences.js';
import {
  argument,
  flag,
  holds,
  type Params,
  type Probe,
  type RuleDefinition,
  type Verdict,
} from './definition.js';

const name = argument('name', 'text', 'colour', "the member's name");
const counterpart = argument('counterpart', 'text', 'other field', 'the label of the other field');

const members = argument(
  'members',
  'list',
  ['email', 'phone'],
  'the labels of the members, joined by "or"',
);

const inside = argument(
  'inside',
  'key',
  'yes',
  '`yes` where the object stands inside of another, `no` where it is the whole body',
);

/** The common members of the rules about some members of an object. */
const either = {
  family: 'presence',
  appliesTo: 'object',
  parameters: [{ name: 'members', type: 'paths', about: 'the members, as paths inside of it' }],
  arguments: [members, inside],
} as const;

/** Those of the members that an object has. */
const givenOf = (value: unknown, { members: paths }: Params): readonly string[] =>
  (paths as readonly string[]).filter((one) => {
    const inside = valueAt(value, parsePath(one));
    return isGiven(inside) && !isBlank(inside);
  });

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
    ...either,
    id: 'atLeastOne',
    about: 'must have at least one of some members, all of which may be left out alone',
    test: (value, params) => holds(givenOf(value, params).length > 0),
  },
  {
    ...either,
    id: 'exactlyOne',
    about: 'must have one of some members, and not a second one',
    test: (value, params) => holds(givenOf(value, params).length === 1),
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
