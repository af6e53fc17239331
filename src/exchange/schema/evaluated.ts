import { isObject, type LooseObject } from '../../core/reading.js';
import type { SchemaVersion } from './bundle.js';

/** The results of other schemas that a keyword asks for. */
export interface Neighbours {
  readonly version: SchemaVersion;
  readonly isValid: (schema: unknown, value: unknown, pointer: string) => boolean;
  readonly definition: (reference: string) => unknown;
  readonly matches: (regex: string, text: string) => boolean | undefined;
}

const isSchema = (value: unknown): boolean => typeof value === 'boolean' || isObject(value);

/** Which members or entries of one value were looked at, by names or places. */
class Looked {
  all = false;
  readonly at = new Set<string | number>();
  /** Schemas gone through, since a reference can lead back to where it stands. */
  private readonly through = new Set<unknown>();

  constructor(
    private readonly value: unknown,
    private readonly pointer: string,
    private readonly around: Neighbours,
  ) {}

  /**
   * Adds what a schema looks at in this very value.
   * @param nested whether this is a part of the schema whose rest is asked for: then its own rest
   * is looked at too
   */
  by(schema: unknown, nested = true): void {
    if (!isObject(schema) || this.all || this.through.has(schema)) return;
    this.through.add(schema);
    if (Array.isArray(this.value)) this.entries(schema, this.value, nested);
    else if (isObject(this.value)) this.members(schema, this.value, nested);
    if (typeof schema.$ref === 'string') this.by(this.around.definition(schema.$ref));
    // Where one of these fails, all fails already, and its members need no second failure.
    for (const one of listOf(schema.allOf)) this.by(one);
    for (const list of [listOf(schema.anyOf), listOf(schema.oneOf)]) {
      const fitting = list.filter((one) => this.around.isValid(one, this.value, this.pointer));
      for (const one of fitting.length > 0 ? fitting : list) this.by(one);
    }
    this.condition(schema);
    for (const [name, one] of Object.entries(
      isObject(schema.dependentSchemas) ? schema.dependentSchemas : {},
    ))
      if (isObject(this.value) && Object.hasOwn(this.value, name)) this.by(one);
  }

  private ifValid(schema: unknown): boolean {
    const valid = this.around.isValid(schema, this.value, this.pointer);
    if (valid) this.by(schema);
    return valid;
  }

  private condition(schema: LooseObject): void {
    if (!isSchema(schema.if)) return;
    this.by(this.ifValid(schema.if) ? schema.then : schema.else);
  }

  private entries(schema: LooseObject, list: readonly unknown[], nested: boolean): void {
    const { prefixItems, items, additionalItems, contains } = schema;
    const first = Array.isArray(items) ? items : listOf(prefixItems);
    for (let at = 0; at < Math.min(first.length, list.length); at++) this.at.add(at);
    const rest = Array.isArray(items) ? additionalItems : items;
    if (isSchema(rest) || (nested && isSchema(schema.unevaluatedItems))) this.all = true;
    // In draft 2019-09 what is looked for is not thereby looked at.
    if (this.around.version !== '2020-12' || !isSchema(contains)) return;
    for (const [at, one] of list.entries())
      if (this.around.isValid(contains, one, `${this.pointer}/${at}`)) this.at.add(at);
  }

  private members(schema: LooseObject, object: LooseObject, nested: boolean): void {
    const { properties, patternProperties, additionalProperties } = schema;
    for (const name of Object.keys(isObject(properties) ? properties : {})) this.at.add(name);
    for (const regex of Object.keys(isObject(patternProperties) ? patternProperties : {}))
      for (const name of Object.keys(object))
        if (this.around.matches(regex, name)) this.at.add(name);
    if (isSchema(additionalProperties) || (nested && isSchema(schema.unevaluatedProperties)))
      this.all = true;
  }
}

const listOf = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);

/**
 * The members or entries of a value that nothing in a schema has looked at, but for the keyword
 * that asks (JSON Schema Core section 11): names, or places in a list.
 */
export function unevaluated(
  schema: LooseObject,
  value: unknown,
  pointer: string,
  around: Neighbours,
): readonly (string | number)[] {
  const looked = new Looked(value, pointer, around);
  looked.by(schema, false);
  if (looked.all) return [];
  const all: readonly (string | number)[] = Array.isArray(value)
    ? [...value.keys()]
    : isObject(value)
      ? Object.keys(value)
      : [];
  return all.filter((one) => !looked.at.has(one));
}
