import { described, isObject, type Loose } from '../../core/reading.js';
import type { Failure } from '../keywords/failure.js';
import type { Background } from './foreign.js';
import { ERROR_LIST_SHAPES, type ForeignShape, type ErrorListShape } from './report-shapes.js';
import { fromSchemaOutput } from './schema-output.js';
import { isNativeError } from './native-error.js';
import { fromNativeErrors, nativeErrors } from './schema-errors.js';
import { fromZodIssues, zodIssues } from './zod.js';

interface Shape {
  /** Its name in sentences. */
  readonly name: string;
  readonly read: (value: Loose, background: Background) => Failure[];
}

export const LIST_READERS: Readonly<Record<ForeignShape, Shape>> = {
  'schema-output': { name: 'the output of a JSON Schema validator', read: fromSchemaOutput },
  'schema-errors': { name: 'a list of errors of a JSON Schema validator', read: fromNativeErrors },
  zod: { name: 'a list of issues', read: fromZodIssues },
};

/** The keys by which each shape is known, for what is none of them. */
const KEYS: Readonly<Record<ErrorListShape, readonly string[]>> = {
  violations: ['form', 'violations', 'instance'],
  'schema-output': [
    'valid',
    'errors',
    'details',
    'keywordLocation',
    'instanceLocation',
    'evaluationPath',
    'schemaLocation',
  ],
  'schema-errors': [
    'instancePath',
    'dataPath',
    'keyword',
    'params',
    'schemaPath',
    'validation',
    'validationContext',
  ],
  zod: ['issues', 'code', 'path', 'message', 'error', 'success'],
};

const WRITTEN: Readonly<Record<ErrorListShape, string>> = {
  violations: '{ "form": …, "violations": [ { "path", "rule" } ] }',
  'schema-output': '{ "valid": false, "errors": [ { "keywordLocation", "instanceLocation" } ] }',
  'schema-errors': '[ { "instancePath", "keyword", "params" } ]',
  zod: '[ { "code", "path" } ] or { "issues": [ … ] }',
};

/** Which shape a report has; nothing where it has none that we know. */
export function shapeOf(value: Loose): ErrorListShape | undefined {
  if (isObject(value)) {
    if ('violations' in value || 'form' in value) return 'violations';
    if (typeof value.valid === 'boolean') return 'schema-output';
  }
  const native = nativeErrors(value);
  if (native && native.errors.length > 0 && native.errors.every(isNativeError))
    return 'schema-errors';
  const issues = zodIssues(value);
  if (issues?.length === 0) return Array.isArray(value) ? 'violations' : 'zod';
  return issues?.every((issue) => isObject(issue) && 'code' in issue && 'path' in issue)
    ? 'zod'
    : undefined;
}

/**
 * The sentence about a report of no known shape: which one it comes nearest to, and how that is
 * written.
 */
export function nearestShape(value: Loose): string {
  const sample: Loose = Array.isArray(value) ? (value as Loose[])[0] : value;
  const keys = isObject(sample) ? Object.keys(sample) : [];
  const counts = ERROR_LIST_SHAPES.map(
    (shape) => KEYS[shape].filter((key) => keys.includes(key)).length,
  );
  const most = Math.max(...counts);
  const near = ERROR_LIST_SHAPES[counts.indexOf(most)] ?? 'violations';
  const what = isObject(value) || Array.isArray(value) ? 'this report' : described(value);
  return `${what} has none of the shapes that are read (${ERROR_LIST_SHAPES.join(', ')}); the nearest is ${near}, written ${WRITTEN[near]}`;
}
