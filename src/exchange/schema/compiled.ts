import { getOrMake } from '../../core/base/get-or-make.js';
import type { Ajv, ErrorObject, ValidateFunction } from 'ajv';
import { isObject } from '../../core/reading.js';
import { newAjv, type Matcher } from './ajv.js';
import type { Bundle } from './bundle.js';
import type { Around, Tally } from './judged.js';

/** The most members and entries with failures in a result; a client can send any number. */
const MOST_MEMBERS = 2000;

/**
 * Computes a result for a schema at a place once; a schema that leads back to itself meanwhile gets
 * `nothing`. Schemas for names of members stand at the place of their object, so the value is part
 * of the key.
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

/**
 * Schemas that can be run, those of one bundler together: what many of them refer to is compiled
 * once. Each is compiled when it is first needed.
 */
export class Compiled {
  private readonly ajv: Ajv;
  private readonly functions = new WeakMap<object, ValidateFunction>();
  private readonly tally: Tally = { lists: true, room: 0, more: 0 };
  /**
   * The results of each part at each place in the current run: a part that several ways lead to
   * runs once.
   */
  private said = new Once<readonly ErrorObject[]>([]);

  constructor(
    private readonly bundle: Pick<Bundle, 'definitions' | 'version'>,
    matches: Matcher,
  ) {
    const { definitions, version } = bundle;
    const isValid: Around['isValid'] = (schema, value, pointer) =>
      this.isValid(schema, value, pointer);
    this.ajv = newAjv(version, {
      version,
      matches,
      tally: this.tally,
      isValid,
      prepare: (schema) => this.compile(schema),
      definition: (reference) => definitions.schema(reference),
      refers: (reference) => {
        const definition = definitions.schema(reference);
        // What leads back to itself at the very same place, as `{"$ref": "#"}` does, is asked once
        // there and says nothing more. What cannot lead back to itself is asked again where
        // somebody wants its errors; most lists have none.
        return definitions.isRecursive(reference) || definitions.isHeavy(reference)
          ? (value, pointer) => this.errors(definition, value, pointer).length === 0
          : (value, pointer) => isValid(definition, value, pointer);
      },
    });
  }

  /** Begins a run: what was said of another value is forgotten. */
  begin(): void {
    this.said = new Once<readonly ErrorObject[]>([]);
    Object.assign(this.tally, { lists: true, room: MOST_MEMBERS, more: 0 });
  }

  /** The number of further members that break something, besides the thousand in the result. */
  get more(): number {
    return this.tally.more;
  }

  compile(schema: unknown): ValidateFunction | undefined {
    if (!isObject(schema)) return undefined;
    let validate = this.functions.get(schema);
    // A part is run as it stands, inside a new whole: errors are distinguished by the object that
    // they come from.
    if (!validate) this.functions.set(schema, (validate = this.ajv.compile({ allOf: [schema] })));
    return validate;
  }

  private run(
    schema: unknown,
    value: unknown,
    pointer: string,
    lists: boolean,
  ): readonly ErrorObject[] {
    const validate = this.compile(schema);
    const before = this.tally.lists;
    this.tally.lists = lists;
    try {
      return validate?.(value, contextAt(pointer)) === false ? (validate.errors ?? []) : [];
    } finally {
      this.tally.lists = before;
    }
  }

  private isValid(schema: unknown, value: unknown, pointer: string): boolean {
    if (typeof schema === 'boolean') return schema;
    return this.run(schema, value, pointer, false).length === 0;
  }

  /** Returns the errors of a value against a schema; `pointer` leads to the value. */
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
    return this.said.get(schema, pointer, value, () => this.run(schema, value, pointer, true));
  }
}
