import { wordOf } from '../text/outer.js';
import { isObject, type Loose, type LooseObject } from '../reading.js';
import { ANY_ELEMENT, isPath, type Path, type Pattern } from '../path/path.js';
import type { Field, Form, RuleUse } from './form.js';
import { formatSaid } from './format-names.js';
import { declaredTypes } from './types.js';

const MOST_ELEMENTS = 3;

/** The value of a parameter that one of the rules of a field has. */
function paramOf(uses: readonly RuleUse[], name: string, ...rules: string[]): unknown {
  const use = uses.find(({ rule, params }) => rules.includes(rule) && Object.hasOwn(params, name));
  return use?.params[name];
}

const numberAt = (value: unknown): number | undefined =>
  typeof value === 'number' ? value : undefined;

function exampleNumber(uses: readonly RuleUse[]): number {
  const min = numberAt(paramOf(uses, 'min', 'minimum', 'exclusiveMinimum', 'range'));
  const max = numberAt(paramOf(uses, 'max', 'maximum', 'exclusiveMaximum', 'range'));
  const step = numberAt(paramOf(uses, 'step', 'multipleOf')) ?? 0;
  const whole = declaredTypes(uses).includes('integer');
  const middle = min !== undefined && max !== undefined ? (min + max) / 2 : undefined;
  const number = middle ?? (min === undefined ? (max ?? 3) - 2 : min + 1);
  if (step > 0) return Number((Math.ceil(number / step) * step).toFixed(10));
  const round = Math.round(number);
  const isIn = round >= (min ?? round) && round <= (max ?? round);
  return whole || isIn ? round : Number(number.toFixed(2));
}

/** Days on this side of today and on that, whenever that is. */
const [PAST, COMING] = ['2020-03-09', '2099-03-09'] as const;

const WORDS = 'some text ';
/** Long enough to be read as what it is. */
const USUAL = WORDS.length - 1;

function exampleText(uses: readonly RuleUse[]): string {
  const format = paramOf(uses, 'format', 'format');
  const said = typeof format === 'string' ? formatSaid(format)?.example : undefined;
  const given =
    paramOf(uses, 'example', 'pattern') ?? paramOf(uses, 'limit', 'earliest', 'latest') ?? said;
  if (given === 'today') return uses.some(({ rule }) => rule === 'latest') ? PAST : COMING;
  if (typeof given === 'string') return given;
  const [begin = '', inside = '', end = ''] = ['beginsWith', 'containsText', 'finishesWith'].map(
    (rule) => wordOf(paramOf(uses, 'text', rule) ?? ''),
  );
  const least = numberAt(paramOf(uses, 'min', 'minLength')) ?? 0;
  const most = numberAt(paramOf(uses, 'max', 'maxLength')) ?? Infinity;
  const fixed = begin + inside;
  const room = Math.min(most, Math.max(least, USUAL)) - fixed.length - end.length;
  const filling = WORDS.repeat(Math.ceil(Math.max(room, 0) / WORDS.length)).slice(0, room);
  return fixed + filling.replace(/ $/, '.') + end;
}

/** A value that the rules of a field take, as far as it can be known. */
function exampleValue({ uses }: Field): Loose {
  const choices = paramOf(uses, 'choices', 'enum');
  if (Array.isArray(choices)) return choices[0] as Loose;
  const expected = paramOf(uses, 'expected', 'const');
  if (expected !== undefined) return expected;
  const types = declaredTypes(uses);
  if (types.includes('string')) return exampleText(uses);
  if (types.includes('array')) return [];
  if (types.includes('object')) return {};
  if (types.includes('boolean')) return true;
  const isNumber = ['minimum', 'maximum', 'range', 'multipleOf'].some((rule) =>
    uses.some((use) => use.rule === rule),
  );
  return isNumber || types.some((type) => type === 'integer' || type === 'number')
    ? exampleNumber(uses)
    : exampleText(uses);
}

/** The places of a pattern in a body, with as many elements of each list as there must be. */
function placesOf(form: Form, pattern: Pattern): Path[] {
  return pattern.reduce<Path[]>(
    (paths, segment, at) =>
      paths.flatMap((path): Path[] => {
        if (segment !== ANY_ELEMENT) return typeof segment === 'symbol' ? [] : [[...path, segment]];
        const list = form.fields.find(
          (field) =>
            field.in === 'body' &&
            field.pattern.length === at &&
            field.pattern.every((one, nth) => one === pattern[nth]),
        );
        const least = numberAt(paramOf(list?.uses ?? [], 'min', 'minItems')) ?? 1;
        const count = Math.min(MOST_ELEMENTS, Math.max(1, least));
        return Array.from({ length: count }, (_, nth) => [...path, nth]);
      }),
    [[]],
  );
}

function put(body: LooseObject, path: Path, value: Loose): void {
  let around = body as Record<string | number, unknown>;
  for (const [at, segment] of path.slice(0, -1).entries()) {
    const next = around[segment];
    if (isObject(next) || Array.isArray(next)) around = next as Record<string, unknown>;
    else {
      const made = typeof path[at + 1] === 'number' ? [] : {};
      around[segment] = made;
      around = made;
    }
  }
  const last = path.at(-1) ?? '';
  // What stands inside may have been put there already.
  if (around[last] === undefined || typeof value !== 'object') around[last] = value;
}

function take(body: LooseObject, path: Path): void {
  let around: unknown = body;
  for (const segment of path.slice(0, -1))
    around =
      isObject(around) || Array.isArray(around)
        ? (around as Record<string | number, unknown>)[segment]
        : undefined;
  const last = path.at(-1);
  if (isObject(around) && typeof last === 'string') Reflect.deleteProperty(around, last);
}

/** The value that stands at a path. */
function at(body: Loose, path: Path): Loose {
  return path.reduce<Loose>(
    (around, segment) =>
      isObject(around) || Array.isArray(around)
        ? (around as Record<string | number, unknown>)[segment]
        : undefined,
    body,
  );
}

/** Fields that an example leaves out: rules would reveal a secret in it. */
const isLeftOut = ({ uses, secret }: Field): boolean =>
  uses.some(({ rule }) => rule === 'absent' || rule === 'false' || (secret && rule === 'const'));

/**
 * Finds a valid body of a form; nothing where none was found, or where the body is not an object.
 * @param broken returns the paths at which a body breaks rules
 */
export function exampleBody(
  form: Form,
  broken: (body: LooseObject) => readonly Path[],
): LooseObject | undefined {
  const body: LooseObject = Object.fromEntries([]);
  const fields = form.fields.filter(
    (field) => field.in === 'body' && field.pattern.length > 0 && !isLeftOut(field),
  );
  if (fields.length === 0) return undefined;
  const placed = fields.flatMap((field) =>
    placesOf(form, field.pattern)
      .filter(isPath)
      .map((path) => ({ field, path })),
  );
  for (const { field, path } of placed) put(body, path, exampleValue(field));
  // Another field may give the value.
  for (const { field, path } of placed)
    for (const { counterpart, rule, onlyIf } of field.uses) {
      if (!counterpart || onlyIf || rule === 'differs') continue;
      const other = counterpart.map((one, nth) => (typeof one === 'symbol' ? path[nth] : one));
      const value = at(body, other as Path);
      if (value !== undefined) put(body, path, value);
    }
  for (let times = 0; times < 4; times++) {
    const wrong = broken(body);
    if (wrong.length === 0) return body;
    for (const path of wrong) take(body, path);
  }
  return broken(body).length === 0 ? body : undefined;
}
