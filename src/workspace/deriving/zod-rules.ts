import { printPath } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { keyed } from '../../core/base/keyed.js';

/** The argument that Zod passes to an override of a part of its JSON Schema. */
interface Part {
  readonly zodSchema: unknown;
  readonly jsonSchema: Record<string, unknown>;
}

/** A definition behind one of Zod's objects. */
function defOf(value: unknown): LooseObject {
  const inner =
    typeof value === 'object' && value !== null && '_zod' in value ? value._zod : undefined;
  return isObject(inner) && isObject(inner.def) ? inner.def : {};
}

const checksOf = ({ checks }: LooseObject): LooseObject[] =>
  Array.isArray(checks) ? checks.map(defOf) : [];

const asJson = (value: unknown): unknown =>
  value instanceof Date ? value.toISOString() : typeof value === 'bigint' ? Number(value) : value;

const isSegment = (one: unknown): one is string | number =>
  typeof one === 'string' || typeof one === 'number';

type Rules = Record<string, Record<string, unknown>>;

function addRule(rules: Rules, path: string, rule: string, value: unknown): void {
  rules[path] = { ...rules[path], [rule]: value };
}

/** Rules that only the backend tests: a refinement that names itself in its `params`. */
function addCustom(rules: Rules, { path, params }: LooseObject): void {
  if (!isObject(params)) return;
  const { rule, id, ...rest } = params;
  const name = [rule, id].find((one) => typeof one === 'string');
  if (typeof name !== 'string') return;
  const segments = (Array.isArray(path) ? (path as unknown[]) : []).filter(isSegment);
  const at = printPath(segments);
  const samples: Record<string, unknown> = keyed();
  for (const [key, value] of Object.entries(rest))
    if (key !== 'as') samples[key] = { sample: asJson(value) };
  const before = rules[at]?.external;
  const declared = Object.keys(samples).length === 0 ? true : samples;
  addRule(rules, at, 'external', { ...(isObject(before) ? before : {}), [name]: declared });
}

/**
 * Dates come as texts; their bounds, those of uploads and the refinements have no keyword of their
 * own.
 */
function addRules({ zodSchema, jsonSchema }: Part): void {
  const def = defOf(zodSchema);
  const rules: Rules = {};
  for (const check of checksOf(def)) {
    const { check: kind, value, inclusive } = check;
    const exclusive = inclusive === false ? { exclusive: true } : {};
    if (kind === 'custom') addCustom(rules, check);
    else if (def.type === 'date' && kind === 'greater_than')
      addRule(rules, '', 'earliest', { limit: asJson(value), ...exclusive });
    else if (def.type === 'date' && kind === 'less_than')
      addRule(rules, '', 'latest', { limit: asJson(value), ...exclusive });
    else if (def.type === 'bigint' && kind === 'greater_than')
      jsonSchema[inclusive === false ? 'exclusiveMinimum' : 'minimum'] = asJson(value);
    else if (def.type === 'bigint' && kind === 'less_than')
      jsonSchema[inclusive === false ? 'exclusiveMaximum' : 'maximum'] = asJson(value);
    else if (def.type === 'bigint' && kind === 'multiple_of') jsonSchema.multipleOf = asJson(value);
    else if (kind === 'min_size' && def.type === 'file')
      addRule(rules, '', 'minBytes', check.minimum);
    else if (kind === 'max_size' && def.type === 'file')
      addRule(rules, '', 'maxBytes', check.maximum);
    else if (kind === 'mime_type') addRule(rules, '', 'mediaType', check.mime);
  }
  // A refinement may be the schema itself.
  if (def.check === 'custom') addCustom(rules, def);
  if (def.type === 'date') Object.assign(jsonSchema, { type: 'string', format: 'date-time' });
  if (def.type === 'bigint') jsonSchema.type = 'integer';
  if (def.type === 'file') {
    for (const key of ['minLength', 'maxLength', 'contentMediaType', 'anyOf'])
      Reflect.deleteProperty(jsonSchema, key);
  }
  if (Object.keys(rules).length > 0) jsonSchema['x-zeitwort-rules'] = rules;
}

/**
 * Options for Zod's JSON Schema: types that it cannot represent do not stop it, and its own checks
 * are included.
 */
export const withZodRules = (): object => ({ unrepresentable: 'any', override: addRules });
