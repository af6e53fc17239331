import { _, Ajv, type ErrorObject, type KeywordCxt, type Options } from 'ajv';
import { Ajv2019 } from 'ajv/dist/2019.js';
import { Ajv2020 } from 'ajv/dist/2020.js';
import type { LooseObject } from '../../core/reading.js';
import { isMultiple } from '../../core/rules/bounds.js';
import { firstTwins } from '../../core/rules/equality.js';
import type { Draft } from './bundle.js';
import { FORMATS, hasFormat, NUMBER_FORMATS } from './formats.js';

/** Whether a text matches a regular expression; undefined where that could not be told in time. */
export type Matcher = (regex: string, text: string) => boolean | undefined;

const CLASSES: Record<Draft, new (options: Options) => Ajv> = {
  'draft-07': Ajv,
  '2019-09': Ajv2019,
  '2020-12': Ajv2020,
};

/** So many errors are kept of one run; a client can break a rule as often as a body has bytes. */
const MOST_ERRORS = 2000;

/**
 * Bounds what generated code keeps (Ajv's option `code.process`): errors past the bound are counted
 * by the instance. Each would be an object that holds on to a good part of a schema.
 */
const bounded = (code: string): string =>
  code.replace(
    /vErrors\.push\((err\d+)\);?/g,
    `if(vErrors.length<${MOST_ERRORS})vErrors.push($1);else self.overflow++;`,
  );

export type Counting = Ajv & { overflow: number };

/**
 * Keywords of JSON Schema that are ours, since they ask for what stands elsewhere in the schema.
 */
export interface Keywords {
  /** What a reference leads to, held against a value at a place. */
  readonly refers: (reference: string) => (value: unknown, pointer: string) => boolean;
  /** What is wrong with what nothing else in the schema looks at. */
  readonly unevaluated: (
    wanted: unknown,
    parent: LooseObject,
  ) => (value: unknown, pointer: string) => readonly LooseObject[];
}

/**
 * Says of a value at a place whether it has this many items or fewer already told; the items of
 * longer lists are not looked at.
 */
function itemsWithinBounds(ajv: Ajv): void {
  const items = ajv.getKeyword('items');
  if (typeof items !== 'object' || !('code' in items) || typeof items.code !== 'function') return;
  const { code } = items;
  ajv.removeKeyword('items');
  ajv.addKeyword({
    ...items,
    code(cxt: KeywordCxt, ...rest) {
      const { maxItems } = cxt.parentSchema as LooseObject;
      if (typeof maxItems !== 'number') code.call(this, cxt, ...rest);
      else
        cxt.gen.if(_`${cxt.data}.length <= ${maxItems}`, () => {
          code.call(this, cxt, ...rest);
        });
    },
  });
}

interface Check {
  (value: unknown, at?: { instancePath: string }): boolean;
  errors?: Partial<ErrorObject>[];
}

/** Its own way takes what is looked for, and what stands beside conditions, for not looked at. */
function unevaluatedOf(ajv: Ajv, unevaluated: Keywords['unevaluated']): void {
  for (const [keyword, type] of [
    ['unevaluatedProperties', 'object'],
    ['unevaluatedItems', 'array'],
  ] as const) {
    if (ajv.getKeyword(keyword) === false) continue;
    ajv.removeKeyword(keyword);
    ajv.addKeyword({
      keyword,
      type,
      schemaType: ['boolean', 'object'],
      errors: true,
      compile: (wanted: unknown, parent: LooseObject) => {
        const find = unevaluated(wanted, parent);
        const check: Check = (value, at) => {
          const found = find(value, at?.instancePath ?? '');
          if (found.length > 0) check.errors = found.map((params) => ({ keyword, params }));
          return found.length === 0;
        };
        return check;
      },
    });
  }
}

export function newAjv(draft: Draft, matches: Matcher, keywords: Keywords): Counting {
  const regExp = Object.assign(
    (source: string) => ({
      test: (text: string) => matches(source, text) ?? false,
      toString: () => JSON.stringify(source),
    }),
    { code: 'new RegExp' },
  );
  const ajv = new CLASSES[draft]({
    allErrors: true,
    verbose: true,
    strict: false,
    logger: false,
    validateSchema: false,
    meta: false,
    addUsedSchema: false,
    // What prototypes have is no member of what was sent.
    ownProperties: true,
    // What is removed as needless takes as long to find as the rest to write, and costs nothing
    // when it runs.
    code: {
      optimize: false,
      regExp: regExp as unknown as NonNullable<Options['code']>['regExp'] & object,
      process: bounded,
    },
  });
  for (const name of FORMATS)
    ajv.addFormat(name, { type: 'string', validate: (text: string) => hasFormat(name, text) });
  for (const [name, format] of NUMBER_FORMATS) ajv.addFormat(name, format);
  itemsWithinBounds(ajv);
  // Its own way compares every entry with every other.
  ajv.removeKeyword('uniqueItems');
  ajv.addKeyword({
    keyword: 'uniqueItems',
    type: 'array',
    schemaType: 'boolean',
    errors: true,
    compile: (wanted: boolean, { maxItems }: LooseObject) => {
      const check: Check = (value) => {
        const list = Array.isArray(value) ? value : [];
        const looked = wanted && !(typeof maxItems === 'number' && list.length > maxItems);
        const twins = looked ? firstTwins(list) : undefined;
        if (twins)
          check.errors = [{ keyword: 'uniqueItems', params: { i: twins[1], j: twins[0] } }];
        return twins === undefined;
      };
      return check;
    },
  });
  ajv.removeKeyword('multipleOf');
  ajv.addKeyword({
    keyword: 'multipleOf',
    type: 'number',
    schemaType: 'number',
    errors: true,
    compile: (step: number) => {
      const check: Check = (value) => {
        const fine = isMultiple(Number(value), step);
        if (!fine) check.errors = [{ keyword: 'multipleOf', params: { multipleOf: step } }];
        return fine;
      };
      return check;
    },
  });
  // Its own way runs what a reference leads to as often as anything leads there, and copies all
  // errors every time.
  ajv.removeKeyword('$ref');
  ajv.addKeyword({
    keyword: '$ref',
    schemaType: 'string',
    compile: (reference: string) => {
      const holds = keywords.refers(reference);
      return (value: unknown, at?: { instancePath: string }) =>
        holds(value, at?.instancePath ?? '');
    },
  });
  unevaluatedOf(ajv, keywords.unevaluated);
  return Object.assign(ajv, { overflow: 0 });
}
