import { argument, holds, type Parameter, type RuleDefinition, type Test } from './definition.js';

const part = (about: string): Parameter => ({ name: 'text', type: 'text', about });

const textRule = (
  id: string,
  about: string,
  parameter: Parameter,
  sample: string,
  test: Test,
): RuleDefinition => ({
  id,
  family: 'text',
  about,
  appliesTo: 'text',
  parameters: [parameter],
  test,
  arguments: [argument('text', 'text', sample, parameter.about)],
});

/**
 * Letters that have another case than the one asked for; signs and scripts without cases have none.
 */
const inCase = (text: string, wanted: unknown): boolean =>
  wanted === 'upper' ? !/\p{Ll}/u.test(text) : !/[\p{Lu}\p{Lt}]/u.test(text);

export const TEXTS: readonly RuleDefinition[] = [
  textRule(
    'beginsWith',
    'must begin with a text',
    part('what it begins with'),
    'OBS-',
    (value, { text }) => holds(String(value).startsWith(String(text))),
  ),
  textRule(
    'finishesWith',
    'must end with a text',
    part('what it ends with'),
    '.fits',
    (value, { text }) => holds(String(value).endsWith(String(text))),
  ),
  textRule(
    'containsText',
    'must contain a text',
    part('what it contains'),
    'HRF',
    (value, { text }) => holds(String(value).includes(String(text))),
  ),
  {
    id: 'letterCase',
    family: 'text',
    about: 'must be in capital or in small letters only',
    appliesTo: 'text',
    parameters: [
      {
        name: 'case',
        type: 'option',
        options: ['upper', 'lower'],
        about: '`upper` for capital letters, `lower` for small ones',
      },
    ],
    arguments: [argument('case', 'key', 'upper', '`upper` or `lower`')],
    test: (value, params) => holds(inCase(String(value), params.case)),
  },
];
