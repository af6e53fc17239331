import { numberOf } from '../../core/text/outer.js';
import { printPath, type Path } from '../../core/path/path.js';
import type { LooseObject } from '../../core/reading.js';
import { formatStated } from '../../core/rules/format-names.js';
import { WHOLE_NUMBERS } from './whole-numbers.js';
import { isUpload, patternBy } from './keywords.js';
import { KEYWORD_PARAMETERS } from './keyword-parameters.js';
import { keyed } from '../../core/base/keyed.js';

/** Several types come as a list, or joined. */
const typeNames = (type: unknown): unknown =>
  typeof type === 'string' && type.includes(',') ? type.split(',') : type;

/** Keywords that say what a rule of another name says. */
const RULES: Readonly<Record<string, string | undefined>> = keyed({
  items: 'maxItems',
  additionalItems: 'maxItems',
  unevaluatedItems: 'maxItems',
  formatMinimum: 'earliest',
  formatExclusiveMinimum: 'earliest',
  formatMaximum: 'latest',
  formatExclusiveMaximum: 'latest',
  'false schema': 'false',
});

/** The rules of keywords for uploads. */
const UPLOADS: typeof RULES = keyed({ type: 'type', minLength: 'minBytes', maxLength: 'maxBytes' });

/** Where an error of a rule has its parameter, if not at `limit`. */
const SOURCES: typeof RULES = keyed({
  enum: 'allowedValues',
  const: 'allowedValue',
  multipleOf: 'multipleOf',
  additionalProperties: 'additionalProperty',
  unevaluatedProperties: 'unevaluatedProperty',
  propertyNames: 'propertyName',
});

/** An error of a JSON Schema validator, as far as it says what was broken. */
export interface KeywordError {
  readonly keyword: string;
  readonly params: LooseObject;
  /** The keyword's value, and the object around it, where the validator has them. */
  readonly schema?: unknown;
  readonly parentSchema?: LooseObject | undefined;
}

const text = (value: unknown): string => (typeof value === 'string' ? value : '');

function patternRule({ params, parentSchema = {} }: KeywordError): StatedRule {
  const [stated] = patternBy(parentSchema, text(params.pattern));
  return stated
    ? { rule: stated.rule, params: stated.params }
    : { rule: 'format', params: { format: parentSchema.format } };
}

interface StatedRule {
  readonly rule: string;
  readonly params: LooseObject;
  /** The member that it is about, where it is not the value itself. */
  readonly member?: string;
}

/**
 * The rule that an error of a keyword is; nothing where others say what is wrong, as they do of
 * `if`. A keyword that is none of ours has its own name as its rule.
 */
export function keywordRule(error: KeywordError, path: Path): StatedRule | undefined {
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

/** The parameters of a rule that an error's own stand for. */
function paramsOf(rule: string, { keyword, params, schema }: KeywordError): LooseObject {
  const { type, format, limit, i, j } = params;
  switch (rule) {
    case 'type':
      return { expected: schema ?? typeNames(type) };
    case 'format':
      return typeof format === 'string' ? { ...formatStated(format) } : { format };
    case 'uniqueItems':
      return {
        first: Math.min(numberOf(i), numberOf(j)) + 1,
        second: Math.max(numberOf(i), numberOf(j)) + 1,
      };
    case 'earliest':
    case 'latest':
      return keyword.includes('Exclusive') ? { limit, exclusive: true } : { limit };
    default: {
      const source = SOURCES[rule];
      const parameter = KEYWORD_PARAMETERS[rule] ?? (source && 'name');
      return parameter ? { [parameter]: params[source ?? 'limit'] } : {};
    }
  }
}

function simpleRule(error: KeywordError): StatedRule {
  const { keyword, params, parentSchema } = error;
  const upload = parentSchema && isUpload(parentSchema) ? UPLOADS[keyword] : undefined;
  if (upload)
    return {
      rule: upload,
      params:
        upload === 'type'
          ? { expected: 'file' }
          : { [KEYWORD_PARAMETERS[keyword] ?? '']: params.limit },
    };
  const rule = RULES[keyword] ?? keyword;
  return { rule, params: paramsOf(rule, error) };
}
