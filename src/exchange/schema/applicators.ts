// The keywords of JSON Schema that hold schemas (2020-12, 2019-09, draft 7), by how they hold them.

export const ONE: ReadonlySet<string> = new Set([
  'additionalProperties',
  'unevaluatedProperties',
  'unevaluatedItems',
  'items',
  'additionalItems',
  'contains',
  'propertyNames',
  'not',
  'if',
  'then',
  'else',
]);
export const LIST: ReadonlySet<string> = new Set(['allOf', 'anyOf', 'oneOf', 'prefixItems']);
export const MAP: ReadonlySet<string> = new Set([
  'properties',
  'patternProperties',
  'dependentSchemas',
]);
/** Where definitions stand until somebody refers to them. */
export const DEFINITIONS: ReadonlySet<string> = new Set(['$defs', 'definitions']);
