import { actual, argument, type Parameter, type RuleDefinition } from './definition.js';

const least = (of: string): Parameter => ({ name: 'min', type: 'count', about: `the least number of ${of}` });
const most = (of: string): Parameter => ({ name: 'max', type: 'count', about: `the greatest number of ${of}` });

function pair(
  noun: string,
  ids: readonly [string, string],
  appliesTo: RuleDefinition['appliesTo'],
  samples: readonly [number, number],
): RuleDefinition[] {
  const [lower, upper] = ids;
  const [min, max] = samples;
  return [
    {
      id: lower,
      family: 'size',
      about: `must have at least so many ${noun}`,
      appliesTo,
      parameters: [least(noun)],
      arguments: [argument('min', 'number', min, `the least number of ${noun}`), actual(noun, min - 1)],
    },
    {
      id: upper,
      family: 'size',
      about: `must have at most so many ${noun}`,
      appliesTo,
      parameters: [most(noun)],
      arguments: [argument('max', 'number', max, `the greatest number of ${noun}`), actual(noun, max + 1)],
    },
  ];
}

export const SIZES: readonly RuleDefinition[] = [
  ...pair('characters', ['minLength', 'maxLength'], 'text', [3, 120]),
  ...pair('entries', ['minItems', 'maxItems'], 'array', [1, 12]),
  ...pair('members', ['minProperties', 'maxProperties'], 'object', [1, 8]),
  {
    id: 'contains',
    family: 'size',
    about: 'must contain an entry of the kind asked for',
    appliesTo: 'array',
    parameters: [{ name: 'expected', type: 'value', about: 'the value of which one entry at least must be' }],
    arguments: [],
  },
  ...pair('entries of the kind asked for', ['minContains', 'maxContains'], 'array', [1, 2]),
];
