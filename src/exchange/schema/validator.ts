import { Ajv, type ErrorObject, type Options, type ValidateFunction } from 'ajv';
import { Ajv2019 } from 'ajv/dist/2019.js';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { parsePointer } from '../../core/path/pointer.js';
import type { Path } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { NEARLY_WHOLE } from '../../core/rules/bounds.js';
import { firstTwins } from '../../core/rules/equality.js';
import { memberOf } from '../../core/rules/occurrences.js';
import type { Failure } from '../violations/failure.js';
import type { Bundle, Draft } from './bundle.js';
import { FORMATS, hasFormat, NUMBER_FORMATS } from './formats.js';

/** Whether a text matches a regular expression; undefined where that could not be told in time. */
export type Matcher = (regex: string, text: string) => boolean | undefined;

const CLASSES: Record<Draft, new (options: Options) => Ajv> = { 'draft-07': Ajv, '2019-09': Ajv2019, '2020-12': Ajv2020 };

function newAjv(draft: Draft, matches: Matcher): Ajv {
  const regExp = Object.assign(
    (source: string) => ({ test: (text: string) => matches(source, text) ?? false, toString: () => JSON.stringify(source) }),
    { code: 'new RegExp' },
  );
  const ajv = new CLASSES[draft]({
    allErrors: true,
    verbose: true,
    strict: false,
    logger: false,
    validateSchema: false,
    addUsedSchema: false,
    // What prototypes have is no member of what was sent.
    ownProperties: true,
    multipleOfPrecision: -Math.log10(NEARLY_WHOLE),
    code: { regExp: regExp as unknown as NonNullable<Options['code']>['regExp'] & object },
  });
  for (const name of FORMATS) ajv.addFormat(name, { type: 'string', validate: (text: string) => hasFormat(name, text) });
  for (const [name, format] of NUMBER_FORMATS) ajv.addFormat(name, format);
  // Its own way compares every entry with every other.
  ajv.removeKeyword('uniqueItems');
  ajv.addKeyword({
    keyword: 'uniqueItems',
    type: 'array',
    schemaType: 'boolean',
    errors: true,
    compile: (wanted: boolean) => {
      const check: { (list: unknown[]): boolean; errors?: Partial<ErrorObject>[] } = (list) => {
        const twins = wanted ? firstTwins(list) : undefined;
        if (twins) check.errors = [{ keyword: 'uniqueItems', params: { i: twins[1], j: twins[0] } }];
        return twins === undefined;
      };
      return check;
    },
  });
  return ajv;
}

/** Follows a pointer through a value: a number leads into a list, a name into an object, whatever it looks like. */
function pathOf(pointer: string, root: unknown): Path {
  let value = root;
  return parsePointer(pointer).map((token) => {
    const segment = Array.isArray(value) ? token : String(token);
    value = memberOf(value, segment);
    return segment;
  });
}

const text = (value: unknown): string => (typeof value === 'string' ? value : '');

/** Runs a bundled schema on values and says what each breaks. It is compiled when first needed, its parts as well. */
export class Validator {
  private readonly ajv: Ajv;
  private readonly compiled = new WeakMap<object, ValidateFunction>();
  private root: unknown;

  constructor(
    private readonly bundle: Bundle,
    matches: Matcher,
  ) {
    this.ajv = newAjv(bundle.draft, matches);
  }

  private compile(schema: unknown): ValidateFunction | undefined {
    if (!isObject(schema)) return undefined;
    let validate = this.compiled.get(schema);
    if (!validate) {
      // A part is run as it stands, inside a new whole: errors are told apart by the object that they come from.
      const { $defs } = this.bundle.schema;
      const whole = schema === this.bundle.schema ? schema : { allOf: [schema], ...($defs === undefined ? {} : { $defs }) };
      this.compiled.set(schema, (validate = this.ajv.compile(whole)));
    }
    return validate;
  }

  /** What a value breaks, in the validator's own order. */
  failures(value: unknown): readonly Failure[] {
    this.root = value;
    return this.tell(this.errors(this.bundle.schema, value, ''));
  }

  private errors(schema: unknown, value: unknown, pointer: string): ErrorObject[] {
    if (schema === false)
      return [{ keyword: 'false schema', instancePath: pointer, schemaPath: '', params: {}, data: value, parentSchema: {} }];
    const validate = this.compile(schema);
    if (!validate) return [];
    validate(value, { instancePath: pointer, parentData: {}, parentDataProperty: '', rootData: {}, dynamicAnchors: {} });
    return validate.errors ?? [];
  }

  /** Turns a flat list into failures; what the parts of a choice say is taken out of the list and kept with the choice. */
  private tell(errors: readonly ErrorObject[]): readonly Failure[] {
    const told: Failure[] = [];
    const inner = new Map<string, number>();
    for (let at = errors.length - 1; at >= 0; at--) {
      const error = errors[at];
      if (!error) continue;
      const id = identity(error);
      const owed = inner.get(id) ?? 0;
      if (owed > 0) {
        inner.set(id, owed - 1);
        continue;
      }
      const parts = this.parts(error);
      for (const part of parts.flat()) inner.set(identity(part), (inner.get(identity(part)) ?? 0) + 1);
      told.unshift(...this.one(error, parts));
    }
    return told;
  }

  /** What each part of a composite says by itself; only its sum stands in the list. */
  private parts({ keyword, schema, data, instancePath }: ErrorObject): ErrorObject[][] {
    if ((keyword === 'anyOf' || keyword === 'oneOf') && Array.isArray(schema))
      return schema.map((branch) => this.errors(branch, data, instancePath));
    if (keyword === 'contains' && Array.isArray(data))
      return data.map((entry, at) => this.errors(schema, entry, `${instancePath}/${at}`));
    return [];
  }

  private one(error: ErrorObject, parts: ErrorObject[][]): Failure[] {
    const { keyword, instancePath, data: value } = error;
    const params: LooseObject = isObject(error.params) ? error.params : {};
    const path = pathOf(instancePath, this.root);
    const rule = (id: string, told: LooseObject = {}, where: Path = path): Failure[] => [
      { kind: 'rule', path: where, rule: id, params: told, ...(where === path && value !== undefined ? { value } : {}) },
    ];
    // The names themselves are not told apart from what `propertyNames` says of them.
    if (error.propertyName !== undefined && keyword !== 'propertyNames') return [];
    switch (keyword) {
      case 'if':
        return [];
      case 'anyOf':
      case 'oneOf': {
        const branches = Array.isArray(params.passingSchemas) ? [] : parts.map((part) => this.tell(part));
        return [{ kind: 'choice', path, rule: keyword, value, branches }];
      }
      case 'contains':
        return this.contained(error, parts, rule);
      case 'required':
        return rule('required', {}, [...path, text(params.missingProperty)]);
      case 'dependencies':
      case 'dependentRequired': {
        // Where a whole schema depends on a member, its own errors say what is wrong.
        if (params.missingProperty === undefined) return [];
        const missing = [...path, text(params.missingProperty)];
        return rule('dependentRequired', { counterpart: printed([...path, text(params.property)]) }, missing);
      }
      default: {
        const simple = TOLD[keyword];
        return simple ? rule(simple[0], simple[1](params, error.schema)) : rule(keyword);
      }
    }
  }

  private contained(error: ErrorObject, parts: ErrorObject[][], rule: (id: string, told?: LooseObject) => Failure[]): Failure[] {
    const { minContains, maxContains } = error.params as { minContains: number; maxContains?: number };
    const actual = parts.filter((part) => part.length === 0).length;
    if (maxContains !== undefined && actual > maxContains) return rule('maxContains', { max: maxContains, actual });
    return minContains === 1 ? rule('contains') : rule('minContains', { min: minContains, actual });
  }
}

const printed = (path: Path): string => path.map((part) => `/${String(part)}`).join('');

// The same schema object says the same of the same place, whether it was run as a part or with the whole.
const numbers = new WeakMap<object, number>();
let last = 0;
function identity({ keyword, instancePath, parentSchema, params, propertyName }: ErrorObject): string {
  // Errors of keywords of our own come without their schema.
  let number = parentSchema ? numbers.get(parentSchema) : 0;
  if (number === undefined) numbers.set(parentSchema ?? {}, (number = last += 1));
  return JSON.stringify([number, keyword, instancePath, params, propertyName]);
}

const limitAs =
  (name: string) =>
  ({ limit }: LooseObject): LooseObject => ({ [name]: limit });

/** How the validator's keyword is told: our rule, and its parameters. */
const TOLD: Readonly<Record<string, readonly [string, (params: LooseObject, schema: unknown) => LooseObject] | undefined>> = {
  type: ['type', (_, schema) => ({ expected: schema })],
  format: ['format', ({ format }) => ({ format })],
  pattern: ['pattern', ({ pattern }) => ({ regex: pattern })],
  enum: ['enum', ({ allowedValues }) => ({ choices: allowedValues })],
  const: ['const', ({ allowedValue }) => ({ expected: allowedValue })],
  minLength: ['minLength', limitAs('min')],
  maxLength: ['maxLength', limitAs('max')],
  minItems: ['minItems', limitAs('min')],
  maxItems: ['maxItems', limitAs('max')],
  minProperties: ['minProperties', limitAs('min')],
  maxProperties: ['maxProperties', limitAs('max')],
  minimum: ['minimum', limitAs('min')],
  maximum: ['maximum', limitAs('max')],
  exclusiveMinimum: ['exclusiveMinimum', limitAs('min')],
  exclusiveMaximum: ['exclusiveMaximum', limitAs('max')],
  multipleOf: ['multipleOf', ({ multipleOf }) => ({ step: multipleOf })],
  uniqueItems: [
    'uniqueItems',
    ({ i, j }) => ({ first: Math.min(Number(i), Number(j)) + 1, second: Math.max(Number(i), Number(j)) + 1 }),
  ],
  additionalProperties: ['additionalProperties', ({ additionalProperty }) => ({ name: additionalProperty })],
  unevaluatedProperties: ['unevaluatedProperties', ({ unevaluatedProperty }) => ({ name: unevaluatedProperty })],
  propertyNames: ['propertyNames', ({ propertyName }) => ({ name: propertyName })],
  items: ['maxItems', limitAs('max')],
  additionalItems: ['maxItems', limitAs('max')],
  unevaluatedItems: ['maxItems', ({ len, limit }) => ({ max: len ?? limit })],
  'false schema': ['false', () => ({})],
};
