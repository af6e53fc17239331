import type { ErrorObject } from 'ajv';
import type { Path } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { memberOf, pathThrough } from '../../core/rules/occurrences.js';
import type { Failure } from '../keywords/failure.js';
import type { Bundle } from './bundle.js';
import { below, Once, type Compiled } from './compiled.js';
import { keywordRule } from '../keywords/keyword-rule.js';
import { notRule } from '../keywords/keywords.js';

const text = (value: unknown): string => (typeof value === 'string' ? value : '');

/** Keywords whose parts say something by themselves. */
const COMPOSITE = new Set(['anyOf', 'oneOf', 'contains']);

/** Runs a bundled schema on values and says what each breaks. */
export class Validator {
  /** The bundled schema without its definitions, which are compiled by themselves. */
  private readonly whole: LooseObject;
  private root: unknown;
  private told = new Once<readonly Failure[]>([]);
  /** How many failures of the last value there are besides those told. */
  more = 0;

  /** @throws {Error} when a schema cannot be compiled */
  constructor(
    private readonly bundle: Bundle,
    private readonly compiled: Compiled,
  ) {
    const { $defs, ...whole } = bundle.schema;
    this.whole = whole;
    // Whatever cannot be compiled is told now, and not to a client.
    for (const one of [whole, ...(isObject($defs) ? Object.values($defs) : [])])
      compiled.compile(one);
  }

  /** What a value breaks, in the validator's own order. */
  failures(value: unknown): readonly Failure[] {
    this.root = value;
    this.told = new Once<readonly Failure[]>([]);
    this.compiled.begin();
    const failures = this.tell(this.errors(this.whole, value, ''));
    this.more = this.compiled.more;
    return failures;
  }

  private errors(schema: unknown, value: unknown, pointer: string): readonly ErrorObject[] {
    return this.compiled.errors(schema, value, pointer);
  }

  /**
   * Turns a flat list into failures; what the parts of a choice say is taken out of the list and
   * kept with the choice.
   */
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
      for (const part of parts.flat())
        inner.set(identity(part), (inner.get(identity(part)) ?? 0) + 1);
      lists.push(this.one(error, parts));
    }
    return [...new Set(lists.reverse().flat())];
  }

  /** What is wrong behind a reference, worked out once for each place. */
  private below({ schema, data, instancePath }: ErrorObject): readonly Failure[] {
    const definition = this.bundle.definitions.schema(text(schema));
    return this.told.get(definition, instancePath, data, () =>
      this.tell(this.errors(definition, data, instancePath)),
    );
  }

  /** What is wrong with one of the members or entries that nothing else looks at. */
  private leftOver(
    { schema, data, instancePath }: ErrorObject,
    left: string | number,
  ): readonly Failure[] {
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
      {
        kind: 'rule',
        path: where,
        rule: id,
        params: told,
        ...(where === path && value !== undefined ? { value } : {}),
      },
    ];
    // The names themselves are not told apart from what `propertyNames` says of them.
    if (error.propertyName !== undefined && keyword !== 'propertyNames') return [];
    switch (keyword) {
      case 'anyOf':
      case 'oneOf': {
        const branches = Array.isArray(params.passingSchemas)
          ? []
          : parts.map((part) => this.tell(part));
        return [{ kind: 'choice', path, rule: keyword, value, branches, ...this.meant(error) }];
      }
      case 'contains':
        return this.contained(error, parts, rule);
      case 'not': {
        const told = notRule(error.schema);
        return rule(told.rule, told.params);
      }
      default: {
        const told = keywordRule(
          { keyword, params, schema: error.schema, parentSchema: error.parentSchema },
          path,
        );
        return told
          ? rule(told.rule, told.params, told.member === undefined ? path : [...path, told.member])
          : [];
      }
    }
  }

  /** Which alternative a value says to be; or what it may say. */
  private meant({
    parentSchema,
    data,
  }: ErrorObject): Pick<Extract<Failure, { kind: 'choice' }>, 'meant'> {
    const choice = this.bundle.choiceOf(
      parentSchema === this.whole ? this.bundle.schema : (parentSchema ?? {}),
    );
    const name = choice && memberOf(data, choice.property);
    if (!choice || typeof name !== 'string') return {};
    return {
      meant: {
        branch: choice.branches.get(name),
        property: choice.property,
        names: [...choice.branches.keys()],
      },
    };
  }

  private contained(
    error: ErrorObject,
    parts: readonly (readonly ErrorObject[])[],
    rule: (id: string, told?: LooseObject) => Failure[],
  ): Failure[] {
    const { minContains, maxContains } = error.params as {
      minContains: number;
      maxContains?: number;
    };
    const actual = parts.filter((part) => part.length === 0).length;
    if (maxContains !== undefined && actual > maxContains)
      return rule('maxContains', { max: maxContains, actual });
    return minContains === 1 ? rule('contains') : rule('minContains', { min: minContains, actual });
  }
}

// The same schema object says the same of the same place, whether it was run as a part or with the
// whole.
const numbers = new WeakMap<object, number>();
let last = 0;
function identity({
  keyword,
  instancePath,
  parentSchema,
  params,
  propertyName,
}: ErrorObject): string {
  // Errors of keywords of our own come without their schema.
  let number = parentSchema ? numbers.get(parentSchema) : 0;
  if (number === undefined) numbers.set(parentSchema ?? {}, (number = last += 1));
  return JSON.stringify([number, keyword, instancePath, params, propertyName]);
}
