import type { Origin } from '../../core/origin.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { type Documents, SchemaError, type Where } from './documents.js';

/** How a document's schemas are to be read. */
export type Draft = 'draft-07' | '2019-09' | '2020-12';

export interface Dialect {
  readonly draft: Draft;
  /** Boolean exclusive bounds, as OpenAPI 3.0 and JSON Schema draft 4 have them. */
  readonly booleanBounds: boolean;
  /** Whether `nullable` means anything: in OpenAPI 3.0 alone, beside a `type` (OpenAPI 3.0.3, Schema Object). */
  readonly nullable: boolean;
  /** Whether what is marked `readOnly` is neither expected nor required, as in requests of OpenAPI. */
  readonly forRequests: boolean;
}

export type Schema = LooseObject | boolean;

/** A schema that needs nothing outside itself: all it refers to stands under `$defs`. */
export interface Bundle {
  readonly schema: LooseObject;
  readonly draft: Draft;
  /** Where a schema object of the bundle was written. */
  readonly originOf: (schema: LooseObject) => Origin | undefined;
}

const ONE = new Set([
  ...['additionalProperties', 'unevaluatedProperties', 'unevaluatedItems', 'items', 'additionalItems'],
  ...['contains', 'propertyNames', 'not', 'if', 'then', 'else'],
]);
const LIST = new Set(['allOf', 'anyOf', 'oneOf', 'prefixItems']);
const MAP = new Set(['properties', 'patternProperties', 'dependentSchemas']);
/** What names or describes and has done its work once references are resolved. */
const DROPPED = new Set([
  ...['$id', 'id', '$schema', '$anchor', '$dynamicAnchor', '$recursiveAnchor', '$vocabulary', '$comment'],
  ...['$defs', 'definitions', 'discriminator', 'xml', 'externalDocs', '__proto__'],
]);

/** Keys that lead to a schema; nobody nests by hand as deep as this. */
const DEEPEST = 400;

interface Definition {
  readonly name: string;
  schema: Schema;
  /** The definitions that it refers to, itself perhaps among them. */
  readonly refs: Set<Definition>;
}

/** Makes self-contained schemas out of documents whose schemas refer to each other. What is referred to is read once. */
export class Bundler {
  private readonly definitions = new Map<string, Definition>();
  private readonly origins = new WeakMap<object, Origin>();

  constructor(
    private readonly documents: Documents,
    private readonly dialect: Dialect,
    /** Told of each reference that leads nowhere; the schema goes on with one that allows anything in its place. */
    private readonly failed: (error: SchemaError) => void,
  ) {}

  bundle(node: unknown, where: Where): Bundle {
    const refs = new Set<Definition>();
    const root = this.schema(node, where, refs);
    const reachable = new Set<Definition>();
    const waiting = [...refs];
    for (let next = waiting.pop(); next; next = waiting.pop()) {
      if (reachable.has(next)) continue;
      reachable.add(next);
      waiting.push(...next.refs);
    }
    const $defs = Object.fromEntries([...reachable].map(({ name, schema }) => [name, schema]));
    // A schema that refers to itself as a whole is kept once, as a definition.
    const itself = this.definitions.get(idOf(where));
    const own =
      itself && reachable.has(itself) ? { $ref: `#/$defs/${itself.name}` } : typeof root === 'boolean' ? { allOf: [root] } : root;
    const schema = reachable.size > 0 ? { ...own, $defs } : own;
    this.origins.set(schema, where);
    return { schema, draft: this.dialect.draft, originOf: (one) => this.origins.get(one) };
  }

  private schema(node: unknown, where: Where, refs: Set<Definition>): Schema {
    if (typeof node === 'boolean') return node;
    if (!isObject(node)) {
      this.failed(new SchemaError('A schema is an object, true or false.', where));
      return true;
    }
    if (where.keys.length > DEEPEST) {
      this.failed(new SchemaError('This schema is nested too deep to be read.', where));
      return true;
    }
    const out: Record<string, unknown> = {};
    const at = (...keys: (string | number)[]): Where => ({ ...where, keys: [...where.keys, ...keys] });
    const reference = node.$ref ?? node.$dynamicRef ?? node.$recursiveRef;
    if (typeof reference === 'string') {
      const target = this.reference(reference, where, refs);
      if (target !== undefined) out.$ref = target;
    }
    // Before draft 2019-09 a reference stands alone: what is beside it does not count.
    const alone = this.dialect.draft === 'draft-07' && typeof node.$ref === 'string';
    for (const [key, value] of alone ? [] : Object.entries(node)) {
      if (DROPPED.has(key) || key === '$ref' || key === '$dynamicRef' || key === '$recursiveRef') continue;
      if (ONE.has(key) && !Array.isArray(value)) out[key] = this.schema(value, at(key), refs);
      else if ((LIST.has(key) || key === 'items') && Array.isArray(value))
        out[key] = value.map((one: unknown, place) => this.schema(one, at(key, place), refs));
      else if (MAP.has(key) && isObject(value)) out[key] = mapped(value, (one, name) => this.schema(one, at(key, name), refs));
      else if (key === 'dependencies' && isObject(value))
        out[key] = mapped(value, (one, name) => (Array.isArray(one) ? one : this.schema(one, at(key, name), refs)));
      else out[key] = value;
    }
    if (this.dialect.booleanBounds) modernise(out);
    if (this.dialect.nullable) nullableType(out);
    // Elsewhere it is no word of any standard, but one that the validator would take for one.
    delete out.nullable;
    if (this.dialect.forRequests && isObject(node.properties)) this.forgetReadOnly(out, node.properties, at('properties'));
    this.origins.set(out, where);
    return out;
  }

  private reference(reference: string, where: Where, refs: Set<Definition>): string | undefined {
    try {
      const { node, where: there } = this.documents.resolve(reference, where);
      const id = idOf(there);
      let definition = this.definitions.get(id);
      if (!definition) {
        definition = { name: `d${this.definitions.size}`, schema: true, refs: new Set() };
        // It stands in the table before it is read, so that it can refer to itself.
        this.definitions.set(id, definition);
        definition.schema = this.schema(node, there, definition.refs);
      }
      refs.add(definition);
      return `#/$defs/${definition.name}`;
    } catch (error) {
      if (!(error instanceof SchemaError)) throw error;
      this.failed(error);
      return undefined;
    }
  }

  private isReadOnly(node: unknown, where: Where, depth = 0): boolean {
    if (!isObject(node)) return false;
    if (node.readOnly === true) return true;
    if (typeof node.$ref !== 'string' || depth > 16) return false;
    try {
      const target = this.documents.resolve(node.$ref, where);
      return this.isReadOnly(target.node, target.where, depth + 1);
    } catch (error) {
      if (error instanceof SchemaError) return false;
      throw error;
    }
  }

  private forgetReadOnly(out: Record<string, unknown>, properties: LooseObject, where: Where): void {
    const readOnly = Object.keys(properties).filter((name) =>
      this.isReadOnly(properties[name], { ...where, keys: [...where.keys, name] }),
    );
    if (readOnly.length === 0 || !isObject(out.properties)) return;
    // Clients often send back what they were given, so it may stand there, whatever it is.
    out.properties = { ...out.properties, ...Object.fromEntries(readOnly.map((name) => [name, true])) };
    if (Array.isArray(out.required)) out.required = out.required.filter((name) => !readOnly.includes(String(name)));
  }
}

const idOf = ({ file, keys }: Where): string => `${file}#${JSON.stringify(keys)}`;

/** Like Object.fromEntries over entries, but `__proto__` becomes a member like any other. */
function mapped(from: LooseObject, make: (value: unknown, name: string) => unknown): LooseObject {
  return Object.fromEntries(Object.entries(from).map(([name, value]) => [name, make(value, name)]));
}

/** OpenAPI 3.0 (Schema Object) and draft 4 put into the words of later drafts. */
function modernise(schema: Record<string, unknown>): void {
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum } = schema;
  if (typeof exclusiveMinimum === 'boolean') {
    if (exclusiveMinimum && minimum !== undefined) schema.exclusiveMinimum = minimum;
    else delete schema.exclusiveMinimum;
    if (exclusiveMinimum) delete schema.minimum;
  }
  if (typeof exclusiveMaximum === 'boolean') {
    if (exclusiveMaximum && maximum !== undefined) schema.exclusiveMaximum = maximum;
    else delete schema.exclusiveMaximum;
    if (exclusiveMaximum) delete schema.maximum;
  }
}

function nullableType(schema: Record<string, unknown>): void {
  if (schema.nullable !== true || typeof schema.type !== 'string') return;
  schema.type = [schema.type, 'null'];
  if (Array.isArray(schema.enum) && !schema.enum.includes(null)) schema.enum = [...(schema.enum as unknown[]), null];
}
