import { measured } from '../text/value.js';
import {
  actual,
  argument,
  holds,
  type ArgumentDefinition,
  type Parameter,
  type Params,
  type RuleDefinition,
  type Test,
} from './definition.js';
import { canonical } from './equality.js';

const least = (of: string): Parameter => ({
  name: 'min',
  type: 'count',
  unit: of,
  about: `the least number of ${of}`,
});
const most = (of: string): Parameter => ({
  name: 'max',
  type: 'count',
  unit: of,
  about: `the greatest number of ${of}`,
});

function pair(
  noun: string,
  ids: readonly [string, string],
  appliesTo: RuleDefinition['appliesTo'],
  samples: readonly [number, number],
  counted: {
    readonly by: (value: unknown, params: Params) => number;
    readonly also?: readonly Parameter[];
    readonly args?: readonly ArgumentDefinition[];
  } = {
    by: (value) => measured(value) ?? 0,
  },
): RuleDefinition[] {
  const [lower, upper] = ids;
  const { also = [], args = [] } = counted;
  const bounded =
    (fine: (actual: number, params: Params) => boolean): Test =>
    (value, params) => {
      const actual = counted.by(value, params);
      return fine(actual, params) || { actual };
    };
  const [min, max] = samples;
  return [
    {
      id: lower,
      family: 'size',
      about: `must have at least so many ${noun}`,
      appliesTo,
      parameters: [least(noun), ...also],
      arguments: [
        argument('min', 'number', min, `the least number of ${noun}`),
        actual(noun, min - 1),
        ...args,
      ],
      test: bounded((actual, params) => actual >= Number(params.min)),
    },
    {
      id: upper,
      family: 'size',
      about: `must have at most so many ${noun}`,
      appliesTo,
      parameters: [most(noun), ...also],
      arguments: [
        argument('max', 'number', max, `the greatest number of ${noun}`),
        actual(noun, max + 1),
        ...args,
      ],
      test: bounded((actual, params) => actual <= Number(params.max)),
    },
  ];
}

const wanted: Parameter = {
  name: 'expected',
  type: 'value',
  about: 'the value that entries are held against',
};

const wantedArguments = [
  argument(
    'expected',
    'text',
    '“gift”',
    'the value, as it has to be sent: a text in quotes, all else as JSON',
  ),
  argument(
    'hint',
    'key',
    'yes',
    '`yes` where it is one value, `no` where a schema says what is asked for',
  ),
];

const countOf = (value: unknown, { expected }: Params): number => {
  const text = canonical(expected);
  return Array.isArray(value) ? value.filter((entry) => canonical(entry) === text).length : 0;
};

export const SIZES: readonly RuleDefinition[] = [
  ...pair('characters', ['minLength', 'maxLength'], 'text', [3, 120]),
  ...pair('entries', ['minItems', 'maxItems'], 'array', [1, 12]),
  ...pair('members', ['minProperties', 'maxProperties'], 'object', [1, 8]),
  {
    id: 'contains',
    family: 'size',
    about: 'must contain an entry of the kind asked for',
    appliesTo: 'array',
    parameters: [
      { name: 'expected', type: 'value', about: 'the value of which one entry at least must be' },
    ],
    arguments: wantedArguments,
    test: (value, params) => holds(countOf(value, params) > 0),
  },
  ...pair('entries of the kind asked for', ['minContains', 'maxContains'], 'array', [1, 2], {
    by: countOf,
    also: [wanted],
    args: wantedArguments,
  }),
];
