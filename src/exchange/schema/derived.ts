import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import { PATTERN_OF_FORMAT } from '../keywords/keywords.js';
import { lastWordOf } from './names.js';

/** Where a derived schema came from, for whoever opens the file. */
export interface DerivedFrom {
  /** The module, by its name in the workspace. */
  readonly module: string;
  readonly export: string;
}

const REFERENCE = /^#\/(?:\$defs|definitions)\/([^/]+)$/;

/**
 * The id of a form: the schema's own, the definition that its root refers to, else the name of the
 * export (of the module, where that is the default).
 */
export function formIdOf(schema: LooseObject, { module, export: name }: DerivedFrom): string {
  const { $id, id, $ref } = schema;
  const named = typeof $id === 'string' ? lastWordOf($id) : '';
  for (const own of [named, id]) if (typeof own === 'string' && own !== '') return own;
  const definition = typeof $ref === 'string' ? REFERENCE.exec($ref)?.[1] : undefined;
  if (definition !== undefined)
    return decodeURIComponent(definition).replaceAll('~1', '/').replaceAll('~0', '~');
  return name === 'default' ? (module.split('/').at(-1) ?? module).replace(/\.[^.]+$/, '') : name;
}

/**
 * Formats that libraries name for their simpler checks of texts; the expression beside each says
 * all of it.
 */
const NO_FORMATS: ReadonlySet<unknown> = new Set([
  'starts_with',
  'ends_with',
  'includes',
  'lowercase',
  'uppercase',
  'regex',
  'template_literal',
]);

/** Keywords that hold values, and keywords that hold schemas by names of others' choice. */
const VALUES: ReadonlySet<string> = new Set([
  'const',
  'enum',
  'default',
  'examples',
  'required',
  'x-zeitwort-rules',
]);
const NAMES: ReadonlySet<string> = new Set([
  'properties',
  'patternProperties',
  '$defs',
  'definitions',
  'dependentSchemas',
]);

function tidy(schema: LooseObject): LooseObject {
  const { label, ...rest } = schema;
  const tidied: Record<string, unknown> = rest;
  if (typeof label === 'string') tidied.title ??= label;
  if (NO_FORMATS.has(tidied.format)) delete tidied.format;
  // A library writes out what it means by a format; what somebody asks for besides stands in a
  // schema of its own.
  if (typeof tidied.format === 'string' && typeof tidied.pattern === 'string')
    tidied[PATTERN_OF_FORMAT] = true;
  return tidied;
}

function walk(value: Loose, isNames: boolean): Loose {
  if (Array.isArray(value)) return value.map((one: Loose) => walk(one, false));
  if (!isObject(value)) return value;
  const inner = Object.fromEntries(
    Object.entries(value).map(([key, one]) => [
      key,
      !isNames && VALUES.has(key) ? one : walk(one, !isNames && NAMES.has(key)),
    ]),
  );
  return isNames ? inner : tidy(inner);
}

/** The words by which a file is known as one that may be written anew. */
export const DERIVED_MARK = 'Written by "zeitwort derive" from ';

/** A schema of a module as it is written into its file. */
export function derivedText(
  schema: LooseObject,
  id: string,
  { module, export: name }: DerivedFrom,
): string {
  const {
    $schema = 'https://json-schema.org/draft/2020-12/schema',
    $id = id,
    ...rest
  } = walk(schema, false) as LooseObject;
  const comment = `${DERIVED_MARK}${module}, export ${name}; change it there.`;
  return `${JSON.stringify({ $schema, $id, $comment: comment, ...rest }, undefined, 2)}\n`;
}
