/** The rules that an expression in a schema can be. */
export const EXPRESSION_RULES: ReadonlySet<string> = new Set([
  'pattern',
  'beginsWith',
  'finishesWith',
  'containsText',
  'letterCase',
]);

/**
 * A regular expression that asks for nothing but a literal text, with its escapes taken off;
 * nothing where it asks for more.
 */
function literal(source: string): string | undefined {
  const plain = source.replace(/\\([$()*+./?[\\\]^{|}-])/g, '');
  if (source === '' || /[$()*+.?[\\\]^{|}]/.test(plain)) return undefined;
  return source.replace(/\\(.)/gs, '$1');
}

/**
 * Returns the rule that says the same as an expression, since libraries write their simpler checks
 * of texts as expressions.
 */
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
