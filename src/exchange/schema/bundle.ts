import type { Origin } from '../../core/origin.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { LIST, MAP, ONE } from './applicators.js';
import {
  type Definition,
  Definitions,
  reachableFrom,
  referenceTo,
  type Schema,
} from './definitions.js';
import { type Documents, SchemaError, type Target, type Where } from './documents.js';
import { foreignPart } from '../../core/rules/regex-trouble.js';
import { isPattern, keywordTrouble } from './shapes.js';
import { isUploaded } from './file-schemas.js';
import { boundedWhole } from '../keywords/whole-numbers.js';
import { keyed } from '../../core/base/keyed.js';

/** How a document's schemas are to be read. */
export type SchemaVersion = 'draft-07' | '2019-09' | '2020-12';

export interface Dialect {
  readonly version: SchemaVersion;
  /** Boolean exclusive bounds, as OpenAPI 3.0 and JSON Schema draft 4 have them. */
  readonly booleanBounds: boolean;
  /**
   * Whether `nullable` means anything: in OpenAPI 3.0 alone, beside a `type` (OpenAPI 3.0.3, Schema
   * Object).
   */
  readonly nullable: boolean;
  /**
   * Whether what is marked `readOnly` is neither expected nor required, as in requests of OpenAPI.
   */
  readonly forRequests: boolean;
  /** Whether texts of another media type are files, as in the bodies that HTML forms send. */
  readonly uploads?: true;
}

export interface Choice {
  readonly property: string;
  /** By what the property says, the place of the alternative. */
  readonly branches: ReadonlyMap<string, number>;
}

/** A schema that needs nothing outside itself: all it refers to stands under `$defs`. */
export interface Bundle {
  readonly schema: LooseObject;
  readonly version: SchemaVersion;
  /** Those of `$defs` and of all other bundles that were made with this one. */
  readonly definitions: Definitions;
  /**
   * How a value says which of a schema's alternatives it means to be (OpenAPI, Discriminator
   * Object).
   */
  readonly choiceOf: (schema: LooseObject) => Choice | undefined;
  /** Where a schema object of the bundle was written. */
  readonly originOf: (schema: LooseObject) => Origin | undefined;
}

const REFERENCES: Readonly<Record<SchemaVersion, readonly string[]>> = {
  'draft-07': ['$ref'],
  '2019-09': ['$ref', '$recursiveRef'],
  '2020-12': ['$ref', '$dynamicRef'],
};

/** Keywords that name or describe, and that are useless once references are resolved. */
const DROPPED = new Set([
  '$id',
  'id',
  '$schema',
  '$anchor',
  '$dynamicAnchor',
  '$recursiveAnchor',
  '$vocabulary',
  '$comment',
  '$defs',
  'definitions',
  'discriminator',
  'xml',
  'externalDocs',
  '__proto__',
  '$async',
  '$ref',
  '$dynamicRef',
  '$recursiveRef',
]);

/** Keys that lead to a schema; nobody nests by hand as deep as this. */
const DEEPEST = 400;

/** The expression for a member that the validator passes over by name. */
export const PROTOTYPE = '^__proto__$';

/**
 * The targets of dynamic references, by name: the outermost resource on the way here that has such
 * an anchor. Mostly there is none, and then a definition is the same on every way.
 */
interface DynamicScope {
  readonly stops: ReadonlyMap<string, Target>;
  /** Distinguishes the meanings of a definition on different ways. */
  readonly id: string;
}

const NO_SCOPE: DynamicScope = { stops: new Map(), id: '' };

/**
 * Makes self-contained schemas out of documents whose schemas refer to each other. What is referred
 * to is read once.
 */
export class Bundler {
  private readonly definitions = new Definitions();
  /** Definitions that were referred to and are still to be read. */
  private readonly waiting: (() => void)[] = [];
  private readonly origins = new WeakMap<object, Origin>();
  private readonly choices = new WeakMap<object, Choice>();

  constructor(
    private readonly documents: Documents,
    private readonly dialect: Dialect,
    /** Called with each reference that leads nowhere; in its place the schema allows anything. */
    private readonly failed: (error: SchemaError) => void,
  ) {}

  bundle(node: unknown, where: Where): Bundle {
    const refs = new Set<Definition>();
    const scope = this.entered(NO_SCOPE, this.documents.baseOf(node, where.base, where.file));
    const root = this.schema(node, where, refs, scope);
    for (let read = this.waiting.shift(); read; read = this.waiting.shift()) read();
    const reachable = reachableFrom(refs);
    const $defs = Object.fromEntries([...reachable].map(({ name, schema }) => [name, schema]));
    // A schema that refers to itself as a whole is kept once, as a definition.
    const itself = this.definitions.get(idOf(where) + scope.id);
    const own =
      itself && reachable.has(itself)
        ? { $ref: referenceTo(itself) }
        : typeof root === 'boolean'
          ? { allOf: [root] }
          : root;
    const schema = reachable.size > 0 ? { ...own, $defs } : own;
    this.origins.set(schema, where);
    const choice = typeof root === 'boolean' ? undefined : this.choices.get(root);
    if (choice) this.choices.set(schema, choice);
    return {
      schema,
      version: this.dialect.version,
      definitions: this.definitions,
      originOf: (one) => this.origins.get(one),
      choiceOf: (one) => this.choices.get(one),
    };
  }

  /** The scope inside of a resource: the anchors of what is further out hold. */
  private entered(scope: DynamicScope, base: string): DynamicScope {
    const added = [...this.documents.stopsIn(base)].filter(([name]) => !scope.stops.has(name));
    if (added.length === 0) return scope;
    const stops = new Map([...scope.stops, ...added]);
    const id = [...stops].map(([name, { where }]) => JSON.stringify([name, idOf(where)])).sort();
    return { stops, id: id.join() };
  }

  /**
   * @param found whether this is what a reference leads to: then its own `$id` is in its base
   * already
   */
  private schema(
    node: unknown,
    around: Where,
    refs: Set<Definition>,
    outer: DynamicScope,
    found = false,
  ): Schema {
    if (typeof node === 'boolean') return node;
    if (!isObject(node)) {
      this.failed(
        new SchemaError('A schema is an object, true or false. Write one of them.', around),
      );
      return true;
    }
    if (around.keys.length > DEEPEST) {
      this.failed(new SchemaError('This schema is nested too deep to be read.', around));
      return true;
    }
    // Before draft 2019-09 a reference stands alone: what is beside it does not count.
    const alone = this.dialect.version === 'draft-07' && typeof node.$ref === 'string';
    const where =
      alone || found
        ? around
        : { ...around, base: this.documents.baseOf(node, around.base, around.file) };
    const scope = where.base === around.base ? outer : this.entered(outer, where.base);
    const out: Record<string, unknown> = keyed();
    const at = (...keys: (string | number)[]): Where => ({
      ...where,
      keys: [...where.keys, ...keys],
    });
    const inner = (one: unknown, ...keys: (string | number)[]): Schema =>
      this.schema(one, at(...keys), refs, scope);
    for (const [key, value] of alone ? [] : Object.entries(node)) {
      if (!this.isSound(key, value, at(key)) || DROPPED.has(key)) continue;
      if (key === 'items' && Array.isArray(value))
        out[this.dialect.version === '2020-12' ? 'prefixItems' : key] = value.map(
          (one: unknown, place) => inner(one, key, place),
        );
      else if (ONE.has(key)) out[key] = inner(value, key);
      else if (LIST.has(key) && Array.isArray(value))
        out[key] = value.map((one: unknown, place) => inner(one, key, place));
      else if (MAP.has(key) && isObject(value))
        out[key] = mapped(
          value,
          (one, name) => inner(one, key, name),
          key === 'patternProperties' ? isPattern : undefined,
        );
      else if (key === 'dependencies' && isObject(value))
        out[key] = mapped(value, (one, name) => (Array.isArray(one) ? one : inner(one, key, name)));
      else out[key] = value;
    }
    this.refer(out, this.references(node, where, refs, scope));
    if (this.dialect.booleanBounds) modernise(out);
    boundedWhole(out);
    if (this.dialect.uploads && isUploaded(out)) out.format = 'binary';
    if (this.dialect.nullable) nullableType(out);
    // Elsewhere it is not a word of any standard, but one that the validator would take for one.
    delete out.nullable;
    if (this.dialect.forRequests && isObject(node.properties))
      this.forgetReadOnly(out, node.properties, at('properties'));
    withPrototypeName(out);
    if (this.dialect.forRequests) this.discriminate(node, out, where);
    this.origins.set(out, where);
    return out;
  }

  /** Whether a keyword has a valid value; an invalid one is reported and left out. */
  private isSound(key: string, value: unknown, where: Where): boolean {
    if (
      this.dialect.booleanBounds &&
      typeof value === 'boolean' &&
      /^exclusive(?:Min|Max)imum$/.test(key)
    )
      return true;
    if (key === 'items' && Array.isArray(value) && this.dialect.version === '2020-12') {
      const message =
        '"items" is one schema for all entries in this draft. Write a list of them as "prefixItems".';
      this.failed(new SchemaError(message, where));
      return true;
    }
    const trouble = keywordTrouble(key, value);
    if (trouble !== undefined) this.failed(new SchemaError(trouble, where));
    if (key === 'patternProperties' && isObject(value)) {
      const wrong = Object.keys(value).filter((regex) => !isPattern(regex));
      for (const regex of wrong) {
        const foreign = foreignPart(regex);
        const message = foreign
          ? `"${regex}" is not a regular expression of ECMA-262: ${foreign}. Until then it is passed over.`
          : `"${regex}" is not a regular expression. Correct it; until then it is passed over.`;
        this.failed(new SchemaError(message, { ...where, keys: [...where.keys, regex] }));
      }
    }
    return trouble === undefined;
  }

  /** Rewrites the references of a schema as references into the bundle. */
  private references(
    node: LooseObject,
    where: Where,
    refs: Set<Definition>,
    scope: DynamicScope,
  ): string[] {
    const found: string[] = [];
    for (const keyword of REFERENCES[this.dialect.version]) {
      const reference = node[keyword];
      if (typeof reference !== 'string') continue;
      const target = this.reference(keyword, reference, where, refs, scope);
      if (target !== undefined) found.push(target);
    }
    return found;
  }

  private refer(out: Record<string, unknown>, [first, ...more]: readonly string[]): void {
    if (first !== undefined) out.$ref = first;
    if (more.length > 0)
      out.allOf = [
        ...(Array.isArray(out.allOf) ? (out.allOf as unknown[]) : []),
        ...more.map(($ref) => ({ $ref })),
      ];
  }

  private reference(
    keyword: string,
    reference: string,
    where: Where,
    refs: Set<Definition>,
    scope: DynamicScope,
  ): string | undefined {
    try {
      const { node, where: there } = this.stopped(
        keyword,
        reference,
        this.documents.resolve(reference, where),
        scope,
      );
      const inside = this.entered(scope, there.base);
      const id = idOf(there) + inside.id;
      let definition = this.definitions.get(id);
      if (!definition) {
        // It stands in the table before it is read, so that it can refer to itself; it waits, since
        // chains may be of any length.
        const added = this.definitions.add(id, there);
        definition = added;
        this.waiting.push(() => {
          added.schema = this.schema(node, there, added.refs, inside, true);
        });
      }
      refs.add(definition);
      return referenceTo(definition);
    } catch (error) {
      if (!(error instanceof SchemaError)) throw error;
      this.failed(error);
      return undefined;
    }
  }

  /**
   * Where a reference that hangs on the way here stops: at the outermost anchor of the name that it
   * found first.
   */
  private stopped(
    keyword: string,
    reference: string,
    found: Target,
    { stops }: DynamicScope,
  ): Target {
    if (keyword === '$ref') return found;
    const name = keyword === '$recursiveRef' ? '' : reference.slice(reference.indexOf('#') + 1);
    const own = this.documents.stopsIn(found.where.base).get(name);
    return own?.node === found.node ? (stops.get(name) ?? found) : found;
  }

  private discriminate(
    { discriminator, oneOf, anyOf }: LooseObject,
    out: LooseObject,
    where: Where,
  ): void {
    const alternatives: unknown = oneOf ?? anyOf;
    if (
      !isObject(discriminator) ||
      typeof discriminator.propertyName !== 'string' ||
      !Array.isArray(alternatives)
    )
      return;
    const references = alternatives.map((one: unknown) =>
      isObject(one) && typeof one.$ref === 'string' ? one.$ref : undefined,
    );
    const branches = new Map<string, number>();
    for (const [value, name] of Object.entries(
      isObject(discriminator.mapping) ? discriminator.mapping : {},
    )) {
      const meant = references.findIndex(
        (one) => one !== undefined && (lastNameOf(one) === name || this.isSame(one, name, where)),
      );
      if (meant >= 0) branches.set(value, meant);
    }
    for (const [at, one] of references.entries()) {
      const mapped = [...branches.values()].includes(at);
      if (one !== undefined && !mapped && !branches.has(lastNameOf(one)))
        branches.set(lastNameOf(one), at);
    }
    if (branches.size > 0)
      this.choices.set(out, { property: discriminator.propertyName, branches });
  }

  private isSame(one: string, other: unknown, where: Where): boolean {
    if (one === other) return true;
    if (typeof other !== 'string') return false;
    try {
      const [first, second] = [one, other].map((reference) =>
        idOf(this.documents.resolve(reference, where).where),
      );
      return first === second;
    } catch (error) {
      if (error instanceof SchemaError) return false;
      throw error;
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

  private forgetReadOnly(
    out: Record<string, unknown>,
    properties: LooseObject,
    where: Where,
  ): void {
    const readOnly = Object.keys(properties).filter((name) =>
      this.isReadOnly(properties[name], { ...where, keys: [...where.keys, name] }),
    );
    if (readOnly.length === 0 || !isObject(out.properties)) return;
    // Clients often send back what they were given, so it may stand there, whatever it is.
    out.properties = {
      ...out.properties,
      ...Object.fromEntries(readOnly.map((name) => [name, true])),
    };
    if (Array.isArray(out.required))
      out.required = out.required.filter((name) => !readOnly.includes(String(name)));
  }
}

/** `#/components/schemas/Queue` → `Queue`, by which a discriminator names it. */
const lastNameOf = (reference: string): string =>
  (reference.split('/').at(-1) ?? '')
    .replaceAll('~1', '/')
    .replaceAll('~0', '~')
    .replace(/\.json$/, '');

const idOf = ({ file, keys }: Where): string => `${file}#${JSON.stringify(keys)}`;

/** Like Object.fromEntries over entries, but `__proto__` becomes a member like any other. */
function mapped(
  from: LooseObject,
  make: (value: unknown, name: string) => unknown,
  wanted: (name: string) => boolean = () => true,
): LooseObject {
  const members = Object.entries(from).filter(([name]) => wanted(name));
  return Object.fromEntries(members.map(([name, value]) => [name, make(value, name)]));
}

/**
 * A member called `__proto__` is passed over by the validator, but not where an expression names
 * it.
 */
function withPrototypeName(schema: Record<string, unknown>): void {
  const { properties, patternProperties } = schema;
  if (isObject(properties) && Object.hasOwn(properties, '__proto__'))
    schema.patternProperties = {
      ...(isObject(patternProperties) ? patternProperties : {}),
      [PROTOTYPE]: properties['__proto__'],
    };
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
  if (Array.isArray(schema.enum) && !schema.enum.includes(null))
    schema.enum = [...(schema.enum as unknown[]), null];
}
