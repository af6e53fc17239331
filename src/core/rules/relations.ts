import { argument, boundArguments, type Parameter, type RuleDefinition } from './definition.js';

const other: Parameter = { name: 'field', type: 'field', about: 'the other field' };
const counterpart = argument('counterpart', 'text', 'other field', 'the label of the other field');

const dateRule = (id: string, about: string, sample: string): RuleDefinition => ({
  id,
  family: 'relation',
  about,
  appliesTo: 'date',
  parameters: [
    { name: 'limit', type: 'date', about: 'a date or time, or `today`' },
    { name: 'exclusive', type: 'flag', about: 'whether the limit itself is refused', optional: true },
  ],
  arguments: [
    argument('limit', 'date', sample, 'the limit'),
    argument('exclusive', 'key', 'no', '`yes` where the limit itself is refused, else `no`'),
    ...boundArguments,
  ],
  bySibling: true,
});

const tableRule = (id: string, about: string): RuleDefinition => ({
  id,
  family: 'relation',
  about,
  appliesTo: 'any',
  parameters: [
    { name: 'table', type: 'table', about: "a table's name in zeitwort.yaml" },
    { name: 'column', type: 'column', about: 'the column to look into' },
    { name: 'having', type: 'conditions', about: 'values that other columns of the row must have', optional: true },
  ],
  arguments: [argument('table', 'text', 'instruments', "the table's name")],
});

export const RELATIONS: readonly RuleDefinition[] = [
  {
    id: 'repeats',
    family: 'relation',
    about: 'must be the same as another field',
    appliesTo: 'any',
    parameters: [other],
    arguments: [counterpart],
    bySibling: true,
  },
  {
    id: 'differsFrom',
    family: 'relation',
    about: 'must not be the same as another field',
    appliesTo: 'any',
    parameters: [other],
    arguments: [counterpart],
    bySibling: true,
  },
  dateRule('earliest', 'must not be before', '2027-02-01'),
  dateRule('latest', 'must not be after', '2027-07-31'),
  tableRule('knownIn', "must stand in a table's column"),
  tableRule('newIn', "must not stand in a table's column yet"),
];
