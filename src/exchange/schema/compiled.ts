import { getOrMake } from '../../core/base/get-or-make.js';
import type { ErrorObject, ValidateFunction } from 'ajv';
import { isObject } from '../../core/reading.js';
import { memberOf } from '../../core/rules/occurrences.js';
import { newAjv, type Counting, type Keywords, type Matcher } from './ajv.js';
import type { Bundle } from './bundle.js';
import { unevaluated, type Neighbours } from './evaluated.js';

/**
 * What is worked out for a schema at a place, once; what leads back to itself meanwhile gets
 * `nothing`. Names of members are held against schemas at the place of their object, so the value
 * counts too.
 */
export class Once<T> {
  private readonly known = new Map<unknown, Map<string, { readonly value: unknown; made: T }>>();

  constructor(private readonly nothing: T) {}

  get(schema: unknown, pointer: string, value: unknown, make: () => T): T {
    const places = getOrMake(this.known, schema, () => new Map());
    const there = places.get(pointer);
    if (there && Object.is(there.value, value)) return there.made;
    const entry = { value, made: this.nothing };
    places.set(pointer, entry);
    return (entry.made = make());
  }
}

const contextAt = (instancePath: string): Parameters<ValidateFunction>[1] & object => ({
  instancePath,
  parentData: {},
  parentDataProperty: '',
  rootData: {},
  dynamicAnchors: {},
});

/** A pointer one step further down. */
export const below = (pointer: string, at: string | number): string =>
  `${pointer}/${String(at).replaceAll('~', '~0').replaceAll('/', '~1')}`;

/**
 * Schemas that can be run, those of one bundler together: what many of them refer to is compiled
 * once. Each is compiled when it is first needed.
 */
export class Compiled {
  private readonly ajv: Counting;
  private readonly functions = new WeakMap<object, ValidateFunction>();
  /**
   * What each part said of each place, in the run at hand: however many ways lead there, it is
   * asked once.
   */
  private said = new Once<readonly ErrorObject[]>([]);

  constructor(
    private readonly bundle: Pick<Bundle, 'definitions' | 'draft'>,
    matches: Matcher,
  ) {
    const { definitions, draft } = bundle;
    const refers: Keywords['refers'] = (reference) => {
      const definition = definitions.schema(reference);
      // What leads back to itself at the very same place, as `{"$ref": "#"}` does, is asked once
      // there and says nothing more.
      if (definitions.isRecursive(reference) || definitions.isHeavy(reference))
        return (value, pointer) => this.errors(definition, value, pointer).length === 0;
      // What cannot lead back to itself is asked again where somebody wants its errors; most lists
      // have none.
      let validate: ValidateFunction | undefined;
      return (value, pointer) =>
        typeof definition === 'boolean'
          ? definition
          : (validate ??= this.compile(definition))?.(value, contextAt(pointer)) === true;
    };
    this.ajv = newAjv(draft, matches, { refers, unevaluated: this.rest(matches) });
  }

  /** What is wrong with what a schema leaves over, by names or places. */
  private rest(matches: Matcher): Keywords['unevaluated'] {
    const around: Neighbours = {
      draft: this.bundle.draft,
      matches,
      isValid: (schema, value, pointer) => this.isValid(schema, value, pointer),
      definition: (reference) => this.bundle.definitions.schema(reference),
    };
    return (wanted, parent) => (value, pointer) => {
      const left = wanted === true ? [] : unevaluated(parent, value, pointer, around);
      if (wanted !== false)
        return left
          .filter((at) => !this.isValid(wanted, memberOf(value, at), below(pointer, at)))
          .map((at) => ({ at }));
      const [first] = left;
      // A list that is looked at from its beginning has too many entries; else some of them have no
      // place in it.
      if (typeof first === 'number' && Array.isArray(value) && left.length === value.length - first)
        return [{ limit: first }];
      return left.map((at) => (typeof at === 'number' ? { at } : { unevaluatedProperty: at }));
    };
  }

  /** Begins a run: what was said of another value is forgotten. */
  begin(): void {
    this.said = new Once<readonly ErrorObject[]>([]);
    this.ajv.overflow = 0;
  }

  /** How many failures of the run there are besides those told: some thousand are kept. */
  get more(): number {
    return this.ajv.overflow;
  }

  compile(schema: unknown): ValidateFunction | undefined {
    if (!isObject(schema)) return undefined;
    let validate = this.functions.get(schema);
    // A part is run as it stands, inside a new whole: errors are told apart by the object that they
    // come from.
    if (!validate) this.functions.set(schema, (validate = this.ajv.compile({ allOf: [schema] })));
    return validate;
  }

  private isValid(schema: unknown, value: unknown, pointer: string): boolean {
    if (typeof schema === 'boolean') return schema;
    return this.compile(schema)?.(value, contextAt(pointer)) === true;
  }

  /** What a value breaks of a schema; `pointer` leads to it. */
  errors(schema: unknown, value: unknown, pointer: string): readonly ErrorObject[] {
    if (schema === false)
      return [
        {
          keyword: 'false schema',
          instancePath: pointer,
          schemaPath: '',
          params: {},
          data: value,
          parentSchema: {},
        },
      ];
    return this.said.get(schema, pointer, value, () => {
      const validate = this.compile(schema);
      if (!validate) return [];
      validate(value, contextAt(pointer));
      return (validate.errors ?? []).filter(
        (error) => (error as ErrorObject | undefined) !== undefined,
      );
    });
  }
}
