import { argument, holds, type RuleDefinition } from './definition.js';
import { canonical } from './equality.js';
import { DIGESTS, ENCODINGS, FORMAT_NAMES, formatKey } from './format-names.js';
import { isOfType, TYPE_NAMES, typesOf } from './types.js';

export const KINDS: readonly RuleDefinition[] = [
  {
    id: 'type',
    family: 'kind',
    about: 'must be of a JSON type',
    appliesTo: 'any',
    parameters: [
      {
        name: 'expected',
        type: 'types',
        about: `one of ${TYPE_NAMES.join(', ')}, or a list of them`,
      },
    ],
    arguments: [
      argument(
        'expected',
        'key',
        'number',
        'the type, for `select`; `several` where there is a choice',
      ),
      argument('expected_words', 'text', 'a number', 'the type in words; several joined by "or"'),
    ],
    test: (value, { expected }) => holds(typesOf(expected).some((type) => isOfType(value, type))),
  },
  {
    id: 'format',
    family: 'kind',
    about: 'must have a well-known format',
    appliesTo: 'text',
    parameters: [
      { name: 'format', type: 'format', about: `one of ${FORMAT_NAMES.join(', ')}` },
      {
        name: 'algorithm',
        type: 'option',
        options: Object.keys(DIGESTS),
        about: `of \`digest\`: ${Object.keys(DIGESTS).join(', ')}; else sha-256`,
        optional: true,
      },
      {
        name: 'encoding',
        type: 'option',
        options: Object.keys(ENCODINGS),
        about: `of \`digest\`: ${Object.keys(ENCODINGS).join(', ')}; else hex`,
        optional: true,
      },
    ],
    arguments: [
      argument('format', 'key', 'date', 'the format, for `select`; `-` is written `_`'),
      argument(
        'format_words',
        'text',
        'a date in the form “2027-03-09”',
        'the format in words, mostly with an example',
      ),
      argument('format_name', 'text', 'Base64', 'its name in the trade, the same in all languages'),
      argument('example', 'text', '“WmVpdHdvcnQ=”', 'a text that has it, quoted'),
      argument('hint', 'key', 'yes', '`yes` where there is an example, else `no`'),
    ],
    test: (value, params, { hasFormat }) => holds(hasFormat(formatKey(params), String(value))),
  },
  {
    id: 'const',
    family: 'kind',
    about: 'must be one value',
    appliesTo: 'any',
    parameters: [{ name: 'expected', type: 'value', about: 'the value' }],
    arguments: [
      argument(
        'expected',
        'text',
        '“yes”',
        'the value, as it has to be sent: a text in quotes, all else as JSON',
      ),
    ],
    test: (value, { expected }) => holds(canonical(value) === canonical(expected)),
  },
];
