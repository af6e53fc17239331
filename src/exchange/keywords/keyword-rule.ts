import { numberOf } from '../../core/text/outer.js';
import { printPath, type Path } from '../../core/path/path.js';
import type { LooseObject } from '../../core/reading.js';
import { formatStated } from '../../core/rules/format-names.js';
import { WHOLE_NUMBERS } from './whole-numbers.js';
import { isUpload, patternBy } from './keywords.js';
import { keyed } from '../../core/base/keyed.js';

const limitAs =
  (name: string) =>
  ({ limit }: LooseObject): LooseObject => ({ [name]: limit });

/** Several types come as a list, or joined. */
const typeNames = (type: unknown): unknown =>
  typeof type === 'string' && type.includes(',') ? type.split(',') : type;

/** How a validator's keyword is told: our rule, and its parameters. */
const TOLD: Readonly<
  Record<
    string,
    readonly [string, (params: LooseObject, schema: unknown) => LooseObject] | undefined
  >
> = keyed({
  type: ['type', ({ type }, schema) => ({ expected: schema ?? typeNames(type) })],
  format: [
    'format',
    ({ format }) => (typeof format === 'string' ? { ...formatStated(format) } : { format }),
  ],
  enum: ['enum', ({ allowedValues }) => ({ choices: allowedValues })],
  const: ['const', ({ allowedValue }) => ({ expected: allowedValue })],
  minLength: ['minLength', limitAs('min')],
  maxLength: ['maxLength', limitAs('max')],
  minItems: ['minItems', limitAs('min')],
  maxItems: ['maxItems', limitAs('max')],
  minProperties: ['minProperties', limitAs('min')],
  maxProperties: ['maxProperties', limitAs('max')],
  minimum: ['minimum', limitAs('min')],
  maximum: ['maximum', limitAs('max')],
  exclusiveMinimum: ['exclusiveMinimum', limitAs('min')],
  exclusiveMaximum: ['exclusiveMaximum', limitAs('max')],
  multipleOf: ['multipleOf', ({ multipleOf }) => ({ step: multipleOf })],
  uniqueItems: [
    'uniqueItems',
    ({ i, j }) => ({
      first: Math.min(numberOf(i), numberOf(j)) + 1,
      second: Math.max(numberOf(i), numberOf(j)) + 1,
    }),
  ],
  additionalProperties: [
    'additionalProperties',
    ({ additionalProperty }) => ({ name: additionalProperty }),
  ],
  unevaluatedProperties: [
    'unevaluatedProperties',
    ({ unevaluatedProperty }) => ({ name: unevaluatedProperty }),
  ],
  propertyNames: ['propertyNames', ({ propertyName }) => ({ name: propertyName })],
  items: ['maxItems', limitAs('max')],
  additionalItems: ['maxItems', limitAs('max')],
  unevaluatedItems: ['maxItems', limitAs('max')],
  formatMinimum: ['earliest', ({ limit }) => ({ limit })],
  formatMaximum: ['latest', ({ limit }) => ({ limit })],
  formatExclusiveMinimum: ['earliest', ({ limit }) => ({ limit, exclusive: true })],
  formatExclusiveMaximum: ['latest', ({ limit }) => ({ limit, exclusive: true })],
  'false schema': ['false', () => ({})],
});

/** The same of uploads. */
const UPLOADS: typeof TOLD = {
  type: ['type', () => ({ expected: 'file' })],
  minLength: ['minBytes', limitAs('min')],
  maxLength: ['maxBytes', limitAs('max')],
};

/** An error of a JSON Schema validator, as far as it says what was broken. */
export interface KeywordError {
  readonly keyword: string;
  readonly params: LooseObject;
  /** The keyword's value, and what it stands in, where the validator tells them. */
  readonly schema?: unknown;
  readonly parentSchema?: LooseObject | undefined;
}

const text = (value: unknown): string => (typeof value === 'string' ? value : '');

function patternRule({ params, parentSchema = {} }: KeywordError): Told {
  const regex = text(params.pattern);
  const [stated] = patternBy(parentSchema, regex);
  if (!stated) return { rule: 'format', params: { format: parentSchema.format } };
  return stated.rule === 'pattern'
    ? { rule: 'pattern', params: { regex } }
    : { rule: stated.rule, params: stated.params };
}

interface Told {
  readonly rule: string;
  readonly params: LooseObject;
  /** The member that it is about, where it is not the value itself. */
  readonly member?: string;
}

/**
 * The rule that an error of a keyword is; nothing where others say what is wrong, as they do of
 * `if`. A keyword that is none of ours has its own name as its rule.
 */
export function keywordRule(error: KeywordError, path: Path): Told | undefined {
  const { keyword, params } = error;
  switch (keyword) {
    case 'if':
      return undefined;
    case 'required':
      return { rule: 'required', params: {}, member: text(params.missingProperty) };
    case 'dependencies':
    case 'dependentRequired': {
      // Where a whole schema depends on a member, its own errors say what is wrong.
      if (params.missingProperty === undefined) return undefined;
      const counterpart = printPath([...path, text(params.property)]);
      return {
        rule: 'dependentRequired',
        params: { counterpart },
        member: text(params.missingProperty),
      };
    }
    case 'format': {
      const [min, max] =
        (typeof params.format === 'string' ? WHOLE_NUMBERS[params.format] : undefined) ?? [];
      return min === undefined ? simpleRule(error) : { rule: 'range', params: { min, max } };
    }
    case 'pattern':
      return patternRule(error);
    default:
      return simpleRule(error);
  }
}

function simpleRule({ keyword, params, schema, parentSchema }: KeywordError): Told {
  const ofUpload = parentSchema && isUpload(parentSchema) && Object.hasOwn(UPLOADS, keyword);
  const simple = ofUpload
    ? UPLOADS[keyword]
    : Object.hasOwn(TOLD, keyword)
      ? TOLD[keyword]
      : undefined;
  return simple
    ? { rule: simple[0], params: simple[1](params, schema) }
    : { rule: keyword, params: {} };
}
