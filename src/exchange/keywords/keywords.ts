import { isObject, type LooseObject } from '../../core/reading.js';
import { eitherOf } from './failure.js';
import { formatStated } from '../../core/rules/format-names.js';
import { plainTextRule } from '../../core/rules/expressions.js';
import { KEYWORD_PARAMETERS } from './keyword-parameters.js';
import { keyed } from '../../core/base/keyed.js';

/** A rule of the vocabulary as a schema states it. */
export interface Stated {
  readonly rule: string;
  readonly params: Readonly<Record<string, unknown>>;
  /** The keyword, for the place. */
  readonly keyword: string;
}

/** An example of a schema that an expression fits. */
function exampleOf({ examples, example }: LooseObject, regex: string): string | undefined {
  let shape: RegExp;
  try {
    shape = new RegExp(regex, 'u');
  } catch {
    return undefined;
  }
  return [...(Array.isArray(examples) ? (examples as unknown[]) : []), example].find(
    (one) => typeof one === 'string' && one.length < 100 && shape.test(one),
  ) as string | undefined;
}

/** How many entries a list may have whose schema allows none behind the first few. */
export function closedAt(schema: LooseObject): { max: number; keyword: string } | undefined {
  const { prefixItems, items, additionalItems } = schema;
  if (Array.isArray(items))
    return additionalItems === false
      ? { max: items.length, keyword: 'additionalItems' }
      : undefined;
  if (items === false)
    return { max: Array.isArray(prefixItems) ? prefixItems.length : 0, keyword: 'items' };
  if (schema.unevaluatedItems === false && Array.isArray(prefixItems))
    return { max: prefixItems.length, keyword: 'unevaluatedItems' };
  return undefined;
}

/**
 * The values that a schema lets through, where it says nothing else of them; those of one that says
 * nothing at all are all.
 */
function valuesOf(schema: unknown): readonly unknown[] | 'all' | undefined {
  if (schema === true) return 'all';
  if (!isObject(schema)) return undefined;
  const said = Object.keys(schema).filter((key) => !ANNOTATIONS.has(key));
  if (said.length === 0) return 'all';
  if (said.length > 1) return undefined;
  return 'const' in schema
    ? [schema.const]
    : Array.isArray(schema.enum)
      ? (schema.enum as unknown[])
      : undefined;
}

/** Returns the rule of `not`: where it lists values, that the value is none of them. */
export function notRule(schema: unknown): Omit<Stated, 'keyword'> {
  const values = valuesOf(schema);
  if (values === 'all') return { rule: 'false', params: {} };
  return values && values.length > 0
    ? { rule: 'noneOf', params: { choices: values } }
    : { rule: 'not', params: {} };
}

/** Keywords for people, which no validator checks (JSON Schema Validation, section 9). */
const ANNOTATIONS = new Set([
  'title',
  'description',
  'default',
  'examples',
  'example',
  'deprecated',
  '$comment',
]);

function containing({ contains, minContains, maxContains }: LooseObject): Stated[] {
  const least = typeof minContains === 'number' ? minContains : 1;
  const values = valuesOf(contains);
  const what =
    Array.isArray(values) && values.length === 1 ? { expected: values[0] as unknown } : {};
  return [
    ...(least === 1 ? [{ rule: 'contains', params: what, keyword: 'contains' }] : []),
    ...(least > 1
      ? [{ rule: 'minContains', params: { min: least, ...what }, keyword: 'minContains' }]
      : []),
    ...(typeof maxContains === 'number'
      ? [{ rule: 'maxContains', params: { max: maxContains, ...what }, keyword: 'maxContains' }]
      : []),
  ];
}

/** Marks an expression in derived schemas that is a library's way to write the format beside it. */
export const PATTERN_OF_FORMAT = 'x-pattern-of-format';

/** An expression, or the better rule that says the same. */
export function patternBy(schema: LooseObject, regex: string): Stated[] {
  if (schema[PATTERN_OF_FORMAT] === true) return [];
  const example = exampleOf(schema, regex);
  const params = example === undefined ? { regex } : { regex, example };
  const plain = plainTextRule(regex, example !== undefined);
  return [{ ...(plain ?? { rule: 'pattern', params }), keyword: 'pattern' }];
}

/** The member that a schema asks for, where it says nothing else. */
function onlyRequired(schema: unknown): string | undefined {
  if (!isObject(schema) || !Array.isArray(schema.required)) return undefined;
  const said = Object.keys(schema).filter((key) => !ANNOTATIONS.has(key) && key !== 'type');
  const [name, ...more] = schema.required as unknown[];
  return said.length === 1 && more.length === 0 && typeof name === 'string' ? name : undefined;
}

/**
 * Returns the rule of a choice between schemas each of which requires one member and nothing else.
 */
export function eitherRule(
  keyword: 'anyOf' | 'oneOf',
  schemas: unknown,
): Omit<Stated, 'keyword'> | undefined {
  if (!Array.isArray(schemas) || schemas.length < 2) return undefined;
  const names = (schemas as unknown[]).map(onlyRequired);
  if (!names.every((name) => name !== undefined)) return undefined;
  return eitherOf(keyword, names);
}

/** Whether a schema is of an upload: OpenAPI 3.0 writes it so, and libraries do for files. */
export const isUpload = ({ type, format }: LooseObject): boolean =>
  format === 'binary' && (type === 'string' || type === undefined);

/** The rules of keywords for an upload, which has a number of bytes and a media type. */
const UPLOAD_RULES: Readonly<Record<string, ((value: unknown) => Stated[]) | undefined>> = keyed({
  type: () => [{ rule: 'type', params: { expected: 'file' }, keyword: 'type' }],
  format: () => [],
  minLength: (min) => [{ rule: 'minBytes', params: { min }, keyword: 'minLength' }],
  maxLength: (max) => [{ rule: 'maxBytes', params: { max }, keyword: 'maxLength' }],
  contentMediaType: (type) =>
    typeof type === 'string'
      ? [{ rule: 'mediaType', params: { types: [type] }, keyword: 'contentMediaType' }]
      : [],
});

/** The rules that a schema states about the value itself, in the order of its keywords. */
export function statedBy(schema: LooseObject): Stated[] {
  const closed = closedAt(schema);
  return Object.entries(schema).flatMap(([keyword, value]): Stated[] => {
    const parameter = KEYWORD_PARAMETERS[keyword];
    const upload = isUpload(schema) ? UPLOAD_RULES[keyword] : undefined;
    if (upload) return upload(value);
    if (keyword === 'format' && typeof value === 'string')
      return [{ rule: keyword, params: { ...formatStated(value) }, keyword }];
    if (parameter !== undefined)
      return [{ rule: keyword, params: { [parameter]: value }, keyword }];
    switch (keyword) {
      case 'pattern':
        return typeof value === 'string' ? patternBy(schema, value) : [];
      case 'uniqueItems':
        return value === true ? [{ rule: keyword, params: {}, keyword }] : [];
      case 'additionalProperties':
      case 'unevaluatedProperties':
        return value === false ? [{ rule: keyword, params: {}, keyword }] : [];
      case 'propertyNames': {
        const regex = isObject(value) ? value.pattern : undefined;
        // Names are texts anyway; libraries say so of every record.
        if (isObject(value) && Object.keys(value).every((key) => key === 'type')) return [];
        return [{ rule: keyword, params: typeof regex === 'string' ? { regex } : {}, keyword }];
      }
      case 'contains':
        return containing(schema);
      case 'anyOf':
      case 'oneOf': {
        const either = eitherRule(keyword, value);
        return [{ ...(either ?? { rule: keyword, params: {} }), keyword }];
      }
      case 'not':
        return [{ ...notRule(value), keyword }];
      default:
        return closed?.keyword === keyword
          ? [{ rule: 'maxItems', params: { max: closed.max }, keyword }]
          : [];
    }
  });
}
