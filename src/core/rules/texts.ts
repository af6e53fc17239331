import { argument, holds, type Parameter, type RuleDefinition, type Test } from './definition.js';

const part = (about: string): Parameter => ({ name: 'text', type: 'text', about });

const textRule = (id: string, about: string, parameter: Parameter, sample: string, test: Test): RuleDefinition => ({
  ...{ id, family: 'text', about, appliesTo: 'text', parameters: [parameter], test },
  arguments: [argument('text', 'text', sample, parameter.about)],
});

/** Letters that have another case than the one asked for; signs and scripts without cases have none. */
const inCase = (text: string, wanted: unknown): boolean =>
  wanted === 'upper' ? !/\p{Ll}/u.test(text) : !/[\p{Lu}\p{Lt}]/u.test(text);

export const TEXTS: readonly RuleDefinition[] = [
  textRule('beginsWith', 'must begin with a text', part('what it begins with'), 'OBS-', (value, { text }) =>
    holds(String(value).startsWith(String(text))),
  ),
  textRule('finishesWith', 'must end with a text', part('what it ends with'), '.fits', (value, { text }) =>
    holds(String(value).endsWith(String(text))),
  ),
  textRule('containsText', 'must contain a text', part('what it contains'), 'NGC', (value, { text }) =>
    holds(String(value).includes(String(text))),
  ),
  {
    id: 'letterCase',
    family: 'text',
    about: 'must be in capital or in small letters only',
    appliesTo: 'text',
    parameters: [
      { name: 'case', type: 'option', options: ['upper', 'lower'], about: '`upper` for capital letters, `lower` for small ones' },
    ],
    arguments: [argument('case', 'key', 'upper', '`upper` or `lower`')],
    test: (value, params) => holds(inCase(String(value), params.case)),
  },
];

/** The rules that an expression in a schema can be. */
export const EXPRESSION_RULES: ReadonlySet<string> = new Set(['pattern', ...TEXTS.map(({ id }) => id)]);

/** A regular expression that asks for nothing but a literal text, with its escapes taken off; nothing where it asks for more. */
function literal(source: string): string | undefined {
  const plain = source.replace(/\\([$()*+./?[\\\]^{|}-])/g, '');
  if (source === '' || /[$()*+.?[\\\]^{|}]/.test(plain)) return undefined;
  return source.replace(/\\(.)/gs, '$1');
}

/** What can be said better than with an expression: libraries write their simpler checks of texts as one. */
export function plainTextRule(
  regex: string,
  hasExample = false,
): { readonly rule: string; readonly params: Readonly<Record<string, unknown>> } | undefined {
  if (regex === '^[^A-Z]*$') return { rule: 'letterCase', params: { case: 'lower' } };
  if (regex === '^[^a-z]*$') return { rule: 'letterCase', params: { case: 'upper' } };
  // Who gives an example wants it said.
  if (hasExample) return undefined;
  const shapes: readonly [RegExp, string][] = [
    [/^\^(.+?)(?:\.\*)?$/s, 'beginsWith'],
    [/^(?:\.\*)?(.+)\$$/s, 'finishesWith'],
  ];
  for (const [shape, rule] of shapes) {
    const text = literal(shape.exec(regex)?.[1] ?? '');
    if (text !== undefined) return { rule, params: { text } };
  }
  const text = literal(regex);
  return text === undefined ? undefined : { rule: 'containsText', params: { text } };
}
