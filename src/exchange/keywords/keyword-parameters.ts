import { keyed } from '../../core/base/keyed.js';

/** Rules that are keywords of JSON Schema, with the parameter that is the keyword's value. */
export const KEYWORD_PARAMETERS: Readonly<Record<string, string | undefined>> = keyed({
  type: 'expected',
  const: 'expected',
  format: 'format',
  minLength: 'min',
  maxLength: 'max',
  minItems: 'min',
  maxItems: 'max',
  minProperties: 'min',
  maxProperties: 'max',
  minimum: 'min',
  maximum: 'max',
  exclusiveMinimum: 'min',
  exclusiveMaximum: 'max',
  multipleOf: 'step',
  enum: 'choices',
});
