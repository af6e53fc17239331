import { argument, holds, type RuleDefinition } from './definition.js';
import { firstTwins, isAmong } from './equality.js';

const isChoice = (value: unknown, list: unknown): boolean =>
  Array.isArray(list) && isAmong(value, list);

const choices = [
  argument(
    'choices',
    'list',
    ['“red”', '“green”', '“blue”'],
    'the values by their names, or else quoted, joined by "or"',
  ),
  argument(
    'choices_listed',
    'text',
    '“red”, “green”, “blue”',
    'the same with marks only between them',
  ),
  argument(
    'choices_literal',
    'text',
    '“red”, “green” or “blue”',
    'the values as they have to be sent, whether they have names or not',
  ),
  argument('choices_several', 'key', 'yes', '`yes` where there is more than one, else `no`'),
];

export const CHOICES: readonly RuleDefinition[] = [
  {
    id: 'pattern',
    family: 'text',
    about: 'must match a regular expression',
    appliesTo: 'text',
    parameters: [
      { name: 'regex', type: 'regex', about: 'an ECMA-262 regular expression, not anchored' },
      { name: 'example', type: 'text', about: 'a text that matches, for people', optional: true },
    ],
    arguments: [
      argument('example', 'text', '“2027A”', 'a text that matches, quoted'),
      argument('hint', 'key', 'yes', '`yes` where there is an example, else `no`'),
      argument('regex', 'text', '^\\d{4}[AB]$', 'the regular expression, for developers'),
    ],
    test: (value, { regex }, { matches }) => holds(matches(String(regex), String(value)) ?? false),
  },
  {
    id: 'enum',
    family: 'choice',
    about: 'must be one of a list',
    appliesTo: 'any',
    parameters: [{ name: 'choices', type: 'list', about: 'the values' }],
    arguments: choices,
    test: (value, params) => holds(isChoice(value, params.choices)),
  },
  {
    id: 'noneOf',
    family: 'choice',
    about: 'must be none of a list',
    appliesTo: 'any',
    parameters: [{ name: 'choices', type: 'list', about: 'the values' }],
    arguments: choices,
    test: (value, params) => holds(!isChoice(value, params.choices)),
  },
  {
    id: 'uniqueItems',
    family: 'choice',
    about: 'must have no entry twice',
    appliesTo: 'array',
    parameters: [{ name: 'holds', type: 'flag', about: 'true' }],
    arguments: [
      argument('first', 'number', 1, 'the position of the first of the two, from 1'),
      argument('second', 'number', 3, 'the position of the second, from 1'),
    ],
    test: (value) => {
      const twins = firstTwins(value as readonly unknown[]);
      return twins ? { first: twins[0] + 1, second: twins[1] + 1 } : true;
    },
  },
];
