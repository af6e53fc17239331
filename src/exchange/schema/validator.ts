import type { ErrorObject, ValidateFunction } from 'ajv';
import type { Path } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { memberOf, pathThrough } from '../../core/rules/occurrences.js';
import type { Failure } from '../violations/failure.js';
import { newAjv, type Counting, type Keywords, type Matcher } from './ajv.js';
import type { Bundle } from './bundle.js';
import { unevaluated, type Neighbours } from './evaluated.js';
import { keywordRule } from './keyword-rule.js';
import { recursiveDefinitions } from './references.js';

const text = (value: unknown): string => (typeof value === 'string' ? value : '');

/**
 * What is worked out for a schema at a place, once; what leads back to itself meanwhile gets `nothing`. Names of members are
 * held against schemas at the place of their object, so the value counts too.
 */
class Once<T> {
  private readonly known = new Map<unknown, Map<string, { readonly value: unknown; made: T }>>();

  constructor(private readonly nothing: T) {}

  get(schema: unknown, pointer: string, value: unknown, make: () => T): T {
    let places = this.known.get(schema);
    if (!places) this.known.set(schema, (places = new Map<string, { readonly value: unknown; made: T }>()));
    const there = places.get(pointer);
    if (there && Object.is(there.value, value)) return there.made;
    const entry = { value, made: this.nothing };
    places.set(pointer, entry);
    return (entry.made = make());
  }
}

/** Keywords whose parts say something by themselves. */
const COMPOSITE = new Set(['anyOf', 'oneOf', 'contains']);

const contextAt = (instancePath: string): Parameters<ValidateFunction>[1] & object => ({
  ...{ instancePath, parentData: {}, parentDataProperty: '', rootData: {}, dynamicAnchors: {} },
});

/** Runs a bundled schema on values and says what each breaks. It is compiled when first needed, its parts as well. */
export class Validator {
  private readonly ajv: Counting;
  private readonly compiled = new WeakMap<object, ValidateFunction>();
  /** The bundled schema without its definitions, which are compiled by themselves. */
  private readonly whole: LooseObject;
  private root: unknown;
  /** What each part said of each place, in the run at hand: however many ways lead there, it is asked once. */
  private said = new Once<readonly ErrorObject[]>([]);
  private told = new Once<readonly Failure[]>([]);

  constructor(
    private readonly bundle: Bundle,
    matches: Matcher,
  ) {
    this.whole = Object.fromEntries(Object.entries(bundle.schema).filter(([key]) => key !== '$defs'));
    const recursive = recursiveDefinitions(bundle.schema);
    const refers: Keywords['refers'] = (reference) => {
      const definition = this.definition(reference);
      // What leads back to itself at the very same place, as `{"$ref": "#"}` does, is asked once there and says nothing more.
      if (recursive.has(reference)) return (value, pointer) => this.errors(definition, value, pointer).length === 0;
      // What cannot lead back to itself is asked again where somebody wants its errors; most lists have none.
      let validate: ValidateFunction | undefined;
      return (value, pointer) =>
        typeof definition === 'boolean'
          ? definition
          : (validate ??= this.compile(definition))?.(value, contextAt(pointer)) === true;
    };
    this.ajv = newAjv(bundle.draft, matches, { refers, unevaluated: this.rest(matches) });
    // Whatever cannot be compiled is told now, and not to a client.
    this.compile(bundle.schema);
    if (isObject(bundle.schema.$defs)) for (const one of Object.values(bundle.schema.$defs)) this.compile(one);
  }

  /** What is wrong with what a schema leaves over, by names or places. */
  private rest(matches: Matcher): Keywords['unevaluated'] {
    const around: Neighbours = {
      draft: this.bundle.draft,
      matches,
      isValid: (schema, value, pointer) => this.isValid(schema, value, pointer),
      definition: (reference) => this.definition(reference),
    };
    return (wanted, parent) => (value, pointer) => {
      const left = wanted === true ? [] : unevaluated(parent, value, pointer, around);
      if (wanted !== false)
        return left.filter((at) => !this.isValid(wanted, memberOf(value, at), below(pointer, at))).map((at) => ({ at }));
      const [first] = left;
      // A list that is looked at from its beginning has too many entries; else some of them have no place in it.
      if (typeof first === 'number' && Array.isArray(value) && left.length === value.length - first) return [{ limit: first }];
      return left.map((at) => (typeof at === 'number' ? { at } : { unevaluatedProperty: at }));
    };
  }

  /** How many failures there are besides those told: a run keeps some thousand. */
  get more(): number {
    return this.ajv.overflow;
  }

  private definition(reference: string): unknown {
    const { $defs } = this.bundle.schema;
    const name = reference.replace('#/$defs/', '');
    return isObject($defs) && Object.hasOwn($defs, name) ? $defs[name] : true;
  }

  private compile(schema: unknown): ValidateFunction | undefined {
    if (!isObject(schema)) return undefined;
    let validate = this.compiled.get(schema);
    if (!validate) {
      // A part is run as it stands, inside a new whole: errors are told apart by the object that they come from.
      const part = schema === this.bundle.schema ? this.whole : schema;
      this.compiled.set(schema, (validate = this.ajv.compile({ allOf: [part] })));
    }
    return validate;
  }

  /** What a value breaks, in the validator's own order. */
  failures(value: unknown): readonly Failure[] {
    this.root = value;
    this.said = new Once<readonly ErrorObject[]>([]);
    this.told = new Once<readonly Failure[]>([]);
    this.ajv.overflow = 0;
    return this.tell(this.errors(this.bundle.schema, value, ''));
  }

  private isValid(schema: unknown, value: unknown, pointer: string): boolean {
    if (typeof schema === 'boolean') return schema;
    return this.compile(schema)?.(value, contextAt(pointer)) === true;
  }

  private errors(schema: unknown, value: unknown, pointer: string): readonly ErrorObject[] {
    if (schema === false)
      return [{ keyword: 'false schema', instancePath: pointer, schemaPath: '', params: {}, data: value, parentSchema: {} }];
    return this.said.get(schema, pointer, value, () => {
      const validate = this.compile(schema);
      if (!validate) return [];
      validate(value, contextAt(pointer));
      return (validate.errors ?? []).filter((error) => (error as ErrorObject | undefined) !== undefined);
    });
  }

  /** Turns a flat list into failures; what the parts of a choice say is taken out of the list and kept with the choice. */
  private tell(errors: readonly ErrorObject[]): readonly Failure[] {
    const lists: (readonly Failure[])[] = [];
    const inner = new Map<string, number>();
    const hasParts = errors.some(({ keyword }) => COMPOSITE.has(keyword));
    for (let at = errors.length - 1; at >= 0; at--) {
      const error = errors[at];
      if (!error) continue;
      if (hasParts) {
        const id = identity(error);
        const owed = inner.get(id) ?? 0;
        if (owed > 0) {
          inner.set(id, owed - 1);
          continue;
        }
      }
      if (error.keyword === '$ref') {
        lists.push(this.below(error));
        continue;
      }
      const { at: left } = error.params as { at?: string | number };
      if (left !== undefined) {
        lists.push(this.leftOver(error, left));
        continue;
      }
      const parts = this.parts(error);
      for (const part of parts.flat()) inner.set(identity(part), (inner.get(identity(part)) ?? 0) + 1);
      lists.push(this.one(error, parts));
    }
    return [...new Set(lists.reverse().flat())];
  }

  /** What is wrong behind a reference, worked out once for each place. */
  private below({ schema, data, instancePath }: ErrorObject): readonly Failure[] {
    const definition = this.definition(text(schema));
    return this.told.get(definition, instancePath, data, () => this.tell(this.errors(definition, data, instancePath)));
  }

  /** What is wrong with one of the members or entries that nothing else looks at. */
  private leftOver({ schema, data, instancePath }: ErrorObject, left: string | number): readonly Failure[] {
    return this.tell(this.errors(schema, memberOf(data, left), below(instancePath, left)));
  }

  /** What each part of a composite says by itself; only its sum stands in the list. */
  private parts({ keyword, schema, data, instancePath }: ErrorObject): (readonly ErrorObject[])[] {
    if ((keyword === 'anyOf' || keyword === 'oneOf') && Array.isArray(schema))
      return schema.map((branch) => this.errors(branch, data, instancePath));
    if (keyword === 'contains' && Array.isArray(data))
      return data.map((entry, at) => this.errors(schema, entry, `${instancePath}/${at}`));
    return [];
  }

  private one(error: ErrorObject, parts: readonly (readonly ErrorObject[])[]): Failure[] {
    const { keyword, instancePath, data: value } = error;
    const params: LooseObject = isObject(error.params) ? error.params : {};
    const path = pathThrough(instancePath, this.root);
    const rule = (id: string, told: LooseObject = {}, where: Path = path): Failure[] => [
      { kind: 'rule', path: where, rule: id, params: told, ...(where === path && value !== undefined ? { value } : {}) },
    ];
    // The names themselves are not told apart from what `propertyNames` says of them.
    if (error.propertyName !== undefined && keyword !== 'propertyNames') return [];
    switch (keyword) {
      case 'anyOf':
      case 'oneOf': {
        const branches = Array.isArray(params.passingSchemas) ? [] : parts.map((part) => this.tell(part));
        return [{ kind: 'choice', path, rule: keyword, value, branches, ...this.meant(error) }];
      }
      case 'contains':
        return this.contained(error, parts, rule);
      default: {
        const told = keywordRule({ keyword, params, schema: error.schema, parentSchema: error.parentSchema }, path);
        return told ? rule(told.rule, told.params, told.member === undefined ? path : [...path, told.member]) : [];
      }
    }
  }

  /** Which alternative a value says to be; or what it may say. */
  private meant({ parentSchema, data }: ErrorObject): Pick<Extract<Failure, { kind: 'choice' }>, 'meant'> {
    const choice = this.bundle.choiceOf(parentSchema === this.whole ? this.bundle.schema : (parentSchema ?? {}));
    const name = choice && memberOf(data, choice.property);
    if (!choice || typeof name !== 'string') return {};
    return { meant: { branch: choice.branches.get(name), property: choice.property, names: [...choice.branches.keys()] } };
  }

  private contained(
    error: ErrorObject,
    parts: readonly (readonly ErrorObject[])[],
    rule: (id: string, told?: LooseObject) => Failure[],
  ): Failure[] {
    const { minContains, maxContains } = error.params as { minContains: number; maxContains?: number };
    const actual = parts.filter((part) => part.length === 0).length;
    if (maxContains !== undefined && actual > maxContains) return rule('maxContains', { max: maxContains, actual });
    return minContains === 1 ? rule('contains') : rule('minContains', { min: minContains, actual });
  }
}

/** A pointer one step further down. */
const below = (pointer: string, at: string | number): string =>
  `${pointer}/${String(at).replaceAll('~', '~0').replaceAll('/', '~1')}`;

// The same schema object says the same of the same place, whether it was run as a part or with the whole.
const numbers = new WeakMap<object, number>();
let last = 0;
function identity({ keyword, instancePath, parentSchema, params, propertyName }: ErrorObject): string {
  // Errors of keywords of our own come without their schema.
  let number = parentSchema ? numbers.get(parentSchema) : 0;
  if (number === undefined) numbers.set(parentSchema ?? {}, (number = last += 1));
  return JSON.stringify([number, keyword, instancePath, params, propertyName]);
}
