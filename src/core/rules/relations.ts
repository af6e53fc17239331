import {
  argument,
  boundArguments,
  holds,
  type Parameter,
  type RuleDefinition,
  type Test,
} from './definition.js';
import { isObject } from '../reading.js';
import { canonical } from './equality.js';
import { comparedValues, withValues } from './row-conditions.js';
import { compareTimes } from './timeline.js';

const other: Parameter = { name: 'field', type: 'field', about: 'the other field' };
const counterpart = argument('counterpart', 'text', 'other field', 'the label of the other field');

/**
 * Compares a date or time with the limit. The rule ignores a value that is not a date, and a limit
 * that is none.
 */
const onSide =
  (side: 1 | -1): Test =>
  (value, { limit, exclusive }, { other, today, zone }) => {
    const bound = limit === 'today' ? today() : (limit ?? other());
    const order = compareTimes(value, bound, zone);
    return order === undefined || holds(order === 0 ? exclusive !== true : order === side);
  };

const dateRule = (id: string, about: string, sample: string, test: Test): RuleDefinition => ({
  id,
  family: 'relation',
  about,
  appliesTo: 'date',
  parameters: [
    { name: 'limit', type: 'date', about: 'a date or time, or `today`' },
    {
      name: 'exclusive',
      type: 'flag',
      about: 'whether the limit itself is refused',
      optional: true,
    },
  ],
  arguments: [
    argument('limit', 'date', sample, 'the limit'),
    argument(
      'limit_words',
      'text',
      'February 1, 2027',
      'the limit in words: a date, a time, or both with the zone where it matters',
    ),
    argument('limit_hour', 'number', 21, 'the hour of the limit, from 0 to 23, for prepositions'),
    argument('limit_day', 'number', 1, 'the day of the month of the limit, for prepositions'),
    argument(
      'limit_kind',
      'key',
      'date',
      '`date`, `time` or `instant` (both), `today`, or `field` where another field gives the limit',
    ),
    argument('exclusive', 'key', 'no', '`yes` where the limit itself is refused, else `no`'),
    ...boundArguments,
  ],
  bySibling: true,
  test,
});

const tableRule = (id: string, about: string, wanted: boolean): RuleDefinition => ({
  id,
  family: 'relation',
  about,
  appliesTo: 'any',
  parameters: [
    { name: 'table', type: 'table', about: "a table's name in zeitwort.yaml" },
    { name: 'column', type: 'column', about: 'the column to look into' },
    {
      name: 'having',
      type: 'conditions',
      about:
        'what other columns of the row must hold: a value, or `minimum`, `maximum`, `noneOf`, `field`',
      optional: true,
    },
  ],
  arguments: [argument('table', 'text', 'instruments', "the table's name")],
  // A table that is not there is a finding of the check; nothing can be held against it.
  test: (value, params, { looksUp, field, asksPlainly }) => {
    const having = isObject(params.having) ? { having: withValues(params.having, field) } : {};
    const found = looksUp({ ...params, ...having }, value);
    if (!found || found.fits === wanted) return true;
    // An absent row is reported once, and not for each condition on it.
    if (!found.row) return holds(isObject(params.having) && asksPlainly());
    return comparedValues(params, found.row);
  },
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
    test: (value, _, probe) => holds(canonical(value) === canonical(probe.other())),
  },
  {
    id: 'differsFrom',
    family: 'relation',
    about: 'must not be the same as another field',
    appliesTo: 'any',
    parameters: [other],
    arguments: [counterpart],
    bySibling: true,
    test: (value, _, probe) => holds(canonical(value) !== canonical(probe.other())),
  },
  dateRule('earliest', 'must not be before a date or a time', '2027-02-01', onSide(1)),
  dateRule('latest', 'must not be after a date or a time', '2027-07-31', onSide(-1)),
  tableRule('knownIn', "must stand in a table's column", true),
  tableRule('newIn', "must not stand in a table's column yet", false),
];
