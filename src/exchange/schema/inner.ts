import { ANY_ELEMENT, ANY_KEY, type PatternSegment } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { PROTOTYPE } from './bundle.js';

/** A schema inside of another. */
export interface Inner {
  readonly schema: unknown;
  /**
   * The segment from the value to the one that the schema is about; absent where that is the value
   * itself.
   */
  readonly segment?: PatternSegment;
  /** The keys that lead to it, where it has a place of its own in sentences about its origin. */
  readonly keys: readonly (string | number)[];
  /** Of a part that holds for some values only, its name among the others. */
  readonly alternative?: string;
}

const entriesOf = (value: unknown): [string, unknown][] =>
  isObject(value) ? Object.entries(value) : [];
const listOf = (value: unknown): readonly unknown[] =>
  Array.isArray(value) ? (value as unknown[]) : [];

function* membersOf(schema: LooseObject): Generator<Inner> {
  for (const [name, one] of entriesOf(schema.properties))
    yield { schema: one, segment: name, keys: ['properties', name] };
  for (const keyword of ['dependentRequired', 'dependencies'])
    for (const [given, one] of entriesOf(schema[keyword]))
      if (!Array.isArray(one)) yield { schema: one, keys: [keyword, given] };
  for (const [name, one] of entriesOf(schema.patternProperties))
    if (name !== PROTOTYPE)
      yield {
        schema: one,
        segment: ANY_KEY,
        keys: ['patternProperties', name],
        alternative: `patternProperties/${name}`,
      };
  for (const key of ['additionalProperties', 'unevaluatedProperties'])
    if (isObject(schema[key])) yield { schema: schema[key], segment: ANY_KEY, keys: [] };
}

function* elementsOf({
  prefixItems,
  items,
  additionalItems,
  unevaluatedItems,
}: LooseObject): Generator<Inner> {
  for (const list of [prefixItems, items])
    for (const [at, one] of listOf(list).entries()) yield { schema: one, segment: at, keys: [] };
  for (const one of Array.isArray(items) ? [additionalItems] : [items, unevaluatedItems])
    if (isObject(one)) yield { schema: one, segment: ANY_ELEMENT, keys: [] };
}

/**
 * Returns the schemas inside of a bundled one that restrict the value, in the order of their
 * failures.
 */
export function* innerSchemas(schema: LooseObject): Generator<Inner> {
  yield* membersOf(schema);
  yield* elementsOf(schema);
  for (const one of listOf(schema.allOf)) yield { schema: one, keys: [] };
  for (const key of ['anyOf', 'oneOf'])
    for (const [at, one] of listOf(schema[key]).entries())
      yield { schema: one, keys: [], alternative: `${key}/${at}` };
  for (const key of ['then', 'else']) yield { schema: schema[key], keys: [], alternative: key };
  for (const [name, one] of entriesOf(schema.dependentSchemas))
    yield { schema: one, keys: [], alternative: `dependentSchemas/${name}` };
}
