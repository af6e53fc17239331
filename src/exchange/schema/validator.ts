import { eitherRule } from '../keywords/keywords.js';
import type { ErrorObject } from 'ajv';
import type { Path } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { memberOf, pathThrough } from '../../core/rules/occurrences.js';
import type { Choice, Failure } from '../keywords/failure.js';
import type { Bundle } from './bundle.js';
import { Once, type Compiled } from './compiled.js';
import { below } from './judged.js';
import { keywordRule } from '../keywords/keyword-rule.js';
import { notRule } from '../keywords/keywords.js';

/** Runs a bundled schema on values and says what each breaks. */
export class Validator {
  /** The bundled schema without its definitions, which are compiled by themselves. */
  private readonly whole: LooseObject;
  private root: unknown;
  private known = new Once<readonly Failure[]>([]);
  /** The number of further failures of the last value, besides those in the result. */
  more = 0;

  /** @throws {Error} when a schema cannot be compiled */
  constructor(
    private readonly bundle: Bundle,
    private readonly compiled: Compiled,
  ) {
    const { $defs, ...whole } = bundle.schema;
    this.whole = whole;
    // A schema that cannot be compiled fails now, and not in front of a client.
    for (const one of [whole, ...(isObject($defs) ? Object.values($defs) : [])])
      compiled.compile(one);
  }

  /** Returns the failures of a value, in the validator's own order. */
  failures(value: unknown): readonly Failure[] {
    this.root = value;
    this.known = new Once<readonly Failure[]>([]);
    this.compiled.begin();
    const failures = this.tell(this.errors(this.whole, value, ''));
    this.more = this.compiled.more;
    return failures;
  }

  private errors(schema: unknown, value: unknown, pointer: string): readonly ErrorObject[] {
    return this.compiled.errors(schema, value, pointer);
  }

  private tell(errors: readonly ErrorObject[]): readonly Failure[] {
    return [...new Set(errors.flatMap((error) => this.failuresOf(error)))];
  }

  private failuresOf(error: ErrorObject): readonly Failure[] {
    const { data, instancePath } = error;
    const { by, at } = error.params as { by?: unknown; at?: string | number };
    if (by === undefined) return this.one(error);
    const [value, pointer] =
      at === undefined ? [data, instancePath] : [memberOf(data, at), below(instancePath, at)];
    return this.known.get(by, pointer, value, () => this.tell(this.errors(by, value, pointer)));
  }

  /** Returns the failures of each part of a choice. */
  private branches({ schema, data, instancePath }: ErrorObject): (readonly Failure[])[] {
    return Array.isArray(schema)
      ? schema.map((branch) => this.tell(this.errors(branch, data, instancePath)))
      : [];
  }

  private one(error: ErrorObject): Failure[] {
    const { keyword, instancePath, data: value } = error;
    const params: LooseObject = isObject(error.params) ? error.params : {};
    const path = pathThrough(instancePath, this.root);
    const rule = (id: string, given: LooseObject = {}, where: Path = path): Failure[] => [
      {
        path: where,
        rule: id,
        params: given,
        ...(where === path && value !== undefined ? { value } : {}),
      },
    ];
    switch (keyword) {
      case 'anyOf':
      case 'oneOf': {
        const either = eitherRule(keyword, error.schema);
        if (either) return rule(either.rule, either.params);
        const branches = Array.isArray(params.passingSchemas) ? [] : this.branches(error);
        return [{ path, rule: keyword, value, branches, ...this.meant(error) }];
      }
      case 'contains': {
        const { minContains: min, maxContains: max, actual } = params;
        if (max !== undefined && Number(actual) > Number(max))
          return rule('maxContains', { max, actual });
        return min === 1 ? rule('contains') : rule('minContains', { min, actual });
      }
      case 'not': {
        const said = notRule(error.schema);
        return rule(said.rule, said.params);
      }
      default: {
        const stated = keywordRule(
          { keyword, params, schema: error.schema, parentSchema: error.parentSchema },
          path,
        );
        return stated
          ? rule(
              stated.rule,
              stated.params,
              stated.member === undefined ? path : [...path, stated.member],
            )
          : [];
      }
    }
  }

  /** Which alternative a value says to be; or what it may say. */
  private meant({ parentSchema, data }: ErrorObject): Pick<Choice, 'meant'> {
    const choice = this.bundle.choiceOf(
      parentSchema === this.whole ? this.bundle.schema : (parentSchema ?? {}),
    );
    const name = choice && memberOf(data, choice.property);
    if (!choice || !(name === undefined ? isObject(data) : typeof name === 'string')) return {};
    return {
      meant: {
        branch: typeof name === 'string' ? choice.branches.get(name) : undefined,
        property: choice.property,
        names: [...choice.branches.keys()],
      },
    };
  }
}
