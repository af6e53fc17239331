import { getOrMake } from '../base/get-or-make.js';
import { ANY_ELEMENT, ANY_KEY, type Path } from '../path/path.js';
import { isObject } from '../reading.js';
import { DEEPEST_PAYLOAD, tooDeepAt } from '../text/nesting.js';
import type { Request } from './evaluate.js';
import type { FormIndex } from './form-index.js';
import {
  FIELD_PLACES,
  type Field,
  type RequestPart,
  type ParameterPart,
  type Writing,
} from './form.js';
import { declaredTypes, FILE } from './types.js';

/** How parameters are written where nobody says otherwise (OpenAPI 3.1.0, Parameter Object). */
export const writingIn = (part: ParameterPart): Writing =>
  part === 'query' ? { style: 'form', explode: true } : { style: 'simple', explode: false };

type Shape = 'list' | 'object' | 'plain';

/** A parameter, or a field of an HTML form, with all that decides how its text becomes a value. */
interface Parameter {
  readonly name: string;
  readonly in: RequestPart;
  readonly shape: Shape;
  readonly writing: Writing;
  /** Of an object, the members that are declared. */
  readonly members: readonly string[];
  /** Whether an object may have any other member. */
  readonly isOpen: boolean;
}

/** Objects within objects in a name are read so far down; no form looks deeper. */
const DEEPEST = 16;

/** Returns the declared types of a field; where only its values are listed, their types. */
function typesAt(field: Field | undefined): string[] {
  const uses = field?.uses ?? [];
  const types = declaredTypes(uses);
  if (types.length > 0) return types;
  const listed = uses.flatMap(({ rule, params: { choices, expected } }): unknown[] =>
    rule === 'const' ? [expected] : rule === 'enum' && Array.isArray(choices) ? choices : [],
  );
  // What a text can be; a list or an object that is a value of a list is written as nobody knows.
  return listed
    .map((value) => typeof value)
    .filter((type) => type === 'number' || type === 'boolean');
}

function parameterOf(name: string, part: RequestPart, fields: readonly Field[]): Parameter {
  const own = fields.find(({ pattern }) => pattern.length === 1);
  const below = fields.flatMap(({ pattern }) => (pattern.length > 1 ? [pattern[1]] : []));
  const types = typesAt(own);
  const isList =
    types.includes('array') ||
    below.some((segment) => segment === ANY_ELEMENT || typeof segment === 'number');
  const isStructure = types.includes('object') || below.length > 0;
  return {
    name,
    in: part,
    shape: isList ? 'list' : isStructure ? 'object' : 'plain',
    writing: own?.writing ?? {
      // What an HTML form sends is written as a query is.
      ...writingIn(part === 'body' ? 'query' : part),
      ...(isStructure && !isList && (part === 'query' || part === 'body')
        ? { style: 'deepObject' }
        : {}),
    },
    members: [...new Set(below.filter((segment) => typeof segment === 'string'))],
    isOpen: below.includes(ANY_KEY),
  };
}

const known = new WeakMap<FormIndex, readonly Parameter[]>();

/** Returns the parameters of a form and the members of its body, in the order of the form. */
function namedIn(index: FormIndex): readonly Parameter[] {
  return getOrMake(known, index, () => {
    const groups = new Map<string, { name: string; part: RequestPart; fields: Field[] }>();
    for (const field of index.form.fields) {
      const [name] = field.pattern;
      if (typeof name !== 'string') continue;
      const { in: part } = field;
      getOrMake(groups, `${part} ${name}`, () => ({ name, part, fields: [] })).fields.push(field);
    }
    return [...groups.values()].map(({ name, part, fields }) => parameterOf(name, part, fields));
  });
}

/** The parameters of a form, in its order. */
export const parametersOf = (
  index: FormIndex,
): readonly (Parameter & { readonly in: ParameterPart })[] =>
  namedIn(index).filter(
    (one): one is Parameter & { readonly in: ParameterPart } => one.in !== 'body',
  );

/** Returns the name of a parameter in a request. */
export const keyOf = ({ name, in: part }: Pick<Parameter, 'name' | 'in'>): string =>
  // Header names are shown in lower case and mean the same in any (RFC 9110 section 5.1).
  part === 'header' ? name.toLowerCase() : name;

const isText = (value: unknown): value is string => typeof value === 'string';

/**
 * Returns the part behind a parameter's own name in `;name=value`; a part with another name is a
 * member of an object.
 */
const unnamed = (item: string, name: string): string =>
  item === name ? '' : item.startsWith(`${name}=`) ? item.slice(name.length + 1) : item;

/** The values that one text holds. */
function itemsOf(
  text: string,
  { name, in: part, writing: { style, explode } }: Parameter,
): string[] {
  switch (style) {
    case 'matrix': {
      // `;size=1,2`, exploded `;size=1;size=2` (RFC 6570 section 3.2.7).
      const items = text.replace(/^;/, '').split(';');
      return items
        .map((item) => unnamed(item, name))
        .flatMap((item) => (explode ? [item] : item.split(',')));
    }
    case 'label':
      // `.1.2`, and `.1,2` as RFC 6570 (section 3.2.5) has what is not exploded.
      return text.replace(/^\./, '').split(explode ? '.' : /[.,]/);
    case 'simple':
      // Lists in headers may have blanks (RFC 9110 section 5.6.1).
      return text.split(',').map((item) => (part === 'header' ? item.trim() : item));
    default:
      return explode
        ? [text]
        : text.split(style === 'spaceDelimited' ? ' ' : style === 'pipeDelimited' ? '|' : ',');
  }
}

function listOf(raw: unknown, parameter: Parameter): unknown {
  if (isText(raw)) return itemsOf(raw, parameter);
  if (Array.isArray(raw))
    return raw.flatMap((one: unknown) => (isText(one) ? itemsOf(one, parameter) : [one]));
  return raw;
}

/** Names and values that follow each other, or stand beside an equals sign. */
function paired(items: readonly string[], explode: boolean): [string, string][] {
  const pairs: [string, string][] = [];
  if (explode)
    for (const item of items) {
      const at = item.indexOf('=');
      pairs.push(at < 0 ? [item, ''] : [item.slice(0, at), item.slice(at + 1)]);
    }
  else
    for (let at = 0; at < items.length; at += 2) pairs.push([items[at] ?? '', items[at + 1] ?? '']);
  return pairs;
}

/** The names in the brackets behind a parameter's own: `filter[from][day]` → `from`, `day`. */
function bracketed(key: string, name: string): string[] | undefined {
  if (!key.startsWith(`${name}[`) || !key.endsWith(']')) return undefined;
  const names = key.slice(name.length + 1, -1).split('][');
  return names.length > DEEPEST || names.some((one) => /[[\]]/.test(one)) ? undefined : names;
}

type Tree = Map<string, unknown>;

const plainly = (value: unknown): unknown =>
  value instanceof Map
    ? Object.fromEntries([...(value as Tree)].map(([name, member]) => [name, plainly(member)]))
    : value;

function deepObject({ name }: Parameter, given: Readonly<Record<string, unknown>>): unknown {
  const root: Tree = new Map();
  for (const [key, value] of Object.entries(given)) {
    const names = bracketed(key, name);
    if (!names) continue;
    let tree = root;
    for (const one of names.slice(0, -1)) {
      const next = tree.get(one);
      const below: Tree = next instanceof Map ? (next as Tree) : new Map<string, unknown>();
      tree.set(one, below);
      tree = below;
    }
    tree.set(names.at(-1) ?? '', value);
  }
  return root.size === 0 ? undefined : plainly(root);
}

/** The members of an object that stand in a query as parameters of their own. */
function spread(
  { members, isOpen }: Parameter,
  given: Readonly<Record<string, unknown>>,
  taken: ReadonlySet<string>,
): unknown {
  const own = Object.entries(given).filter(
    ([key]) => members.includes(key) || (isOpen && !taken.has(key)),
  );
  return own.length === 0 ? undefined : Object.fromEntries(own);
}

function parsed(text: string): unknown {
  if (tooDeepAt(text, DEEPEST_PAYLOAD) !== undefined) return text;
  try {
    return JSON.parse(text);
  } catch {
    // The rule on its type reports the fault.
    return text;
  }
}

function objectOf(
  raw: unknown,
  parameter: Parameter,
  given: Readonly<Record<string, unknown>>,
  taken: ReadonlySet<string>,
): unknown {
  const { style, explode } = parameter.writing;
  const isSpread = style === 'form' && explode;
  // Programs send an object of a form as JSON (OpenAPI 3.1.0, Encoding Object), pages in brackets.
  if (parameter.in === 'body' && isText(raw)) return parsed(raw);
  if (style === 'deepObject') return raw ?? deepObject(parameter, given);
  if (isSpread) return raw ?? spread(parameter, given, taken);
  return isText(raw) ? Object.fromEntries(paired(itemsOf(raw, parameter), explode)) : raw;
}

/** Converts the texts of a parameter to its value; nothing where there are none. */
function valueOf(
  parameter: Parameter,
  given: Readonly<Record<string, unknown>>,
  taken: ReadonlySet<string>,
): unknown {
  const key = keyOf(parameter);
  const raw = Object.hasOwn(given, key) ? given[key] : undefined;
  const { style } = parameter.writing;
  if (style === 'json') {
    const read = (one: unknown): unknown => (isText(one) ? parsed(one) : one);
    return Array.isArray(raw) ? raw.map(read) : read(raw);
  }
  if (parameter.shape === 'list') return listOf(raw, parameter);
  if (parameter.shape === 'object') return objectOf(raw, parameter, given, taken);
  const hasPrefix = style === 'label' || style === 'matrix';
  return hasPrefix && isText(raw) ? unnamed(raw.replace(/^[.;]/, ''), parameter.name) : raw;
}

/** A text, as what its field is declared to be. */
function typed(text: string, types: readonly string[], part: RequestPart): unknown {
  if (part === 'body' && types.some((type) => type === 'object' || type === 'array'))
    return parsed(text);
  if (
    types.some((type) => type === 'number' || type === 'integer') &&
    /^-?(0|[1-9]\d*)(\.\d+)?([eE][+-]?\d+)?$/.test(text)
  )
    return Number(text);
  if (types.includes('boolean') && (text === 'true' || text === 'false')) return text === 'true';
  return text;
}

function withTypes(value: unknown, path: Path, part: RequestPart, index: FormIndex): unknown {
  if (isText(value)) return typed(value, typesAt(index.field(path, part)), part);
  if (Array.isArray(value))
    return value.map((one: unknown, at) => withTypes(one, [...path, at], part, index));
  if (!isObject(value)) return value;
  return Object.fromEntries(
    Object.entries(value).map(([name, member]) => [
      name,
      withTypes(member, [...path, name], part, index),
    ]),
  );
}

/** Parameters as a server gets them: a text, or a list where a name came more than once. */
export function gathered<T = string>(
  pairs: Iterable<readonly [string, T]>,
): Record<string, T | T[]> {
  const found = new Map<string, T[]>();
  for (const [name, value] of pairs) getOrMake(found, name, (): T[] => []).push(value);
  return Object.fromEntries(
    [...found].map(([name, all]) => [name, all.length === 1 ? (all[0] as T) : all]),
  );
}

/** A file that came with an HTML form: its size in bytes, its media type, and its name. */
export interface Upload {
  readonly name: string;
  readonly type: string;
  readonly size: number;
}

/** The value of a name of an HTML form; for a file of JSON also its text. */
export type FormPart =
  { readonly text: string } | { readonly upload: Upload; readonly text?: string | undefined };

const isFile = (index: FormIndex, path: Path): boolean =>
  typesAt(index.field(path, 'body')).includes(FILE);

/**
 * The body that an HTML form stands for: what is declared is what it is declared to be, what is
 * not declared stays as it came.
 */
export function formBody(
  index: FormIndex,
  parts: Iterable<readonly [name: string, part: FormPart]>,
): Readonly<Record<string, unknown>> {
  const given = gathered(
    [...parts].map(([name, part]): [string, unknown] => {
      const isUpload =
        'upload' in part &&
        (part.text === undefined || isFile(index, [name]) || isFile(index, [name, 0]));
      return [name, isUpload ? part.upload : part.text];
    }),
  );
  const own = namedIn(index).filter((one) => one.in === 'body');
  const taken = new Set(own.map(({ name }) => name));
  const values = own.flatMap((parameter): [string, unknown][] => {
    const { name, writing, shape } = parameter;
    const value = valueOf(parameter, given, taken);
    if (value === undefined) return [];
    const whole = shape === 'list' && !Array.isArray(value) ? [value] : value;
    return [[name, writing.style === 'json' ? whole : withTypes(whole, [name], 'body', index)]];
  });
  const objects = own.filter(({ shape }) => shape === 'object');
  const isRead = (key: string): boolean =>
    taken.has(key) ||
    objects.some(
      ({ name, writing: { style, explode }, members }) =>
        bracketed(key, name) !== undefined ||
        (style === 'form' && explode && members.includes(key)),
    );
  return Object.fromEntries([...Object.entries(given).filter(([key]) => !isRead(key)), ...values]);
}

/**
 * A request whose parameters are what the form declares them to be: lists, objects, numbers,
 * booleans. They come as texts, or as lists of texts where they came more than once; what is no
 * text already stays what it is.
 */
export function withParameters(index: FormIndex, request: Request): Request {
  const parameters = parametersOf(index);
  if (parameters.length === 0) return request;
  const read = FIELD_PLACES.flatMap((part) => {
    const given = request[part];
    const own = parameters.filter((one) => one.in === part);
    if (own.length === 0 || !isObject(given)) return [];
    const taken = new Set(own.map(({ name }) => name));
    const values = own.flatMap((parameter) => {
      const value = valueOf(parameter, given, taken);
      const { name, writing } = parameter;
      if (value === undefined) return [];
      return [
        [
          keyOf(parameter),
          writing.style === 'json' ? value : withTypes(value, [name], part, index),
        ] as const,
      ];
    });
    return [[part, { ...given, ...Object.fromEntries(values) }] as const];
  });
  return { ...request, ...Object.fromEntries(read) };
}
