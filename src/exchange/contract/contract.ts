import { keyed } from '../../core/base/keyed.js';
import { keyOf } from '../../core/base/memo.js';
import { typeUri } from '../../core/body/answer.js';
import type { ShapeOptions } from '../../core/body/shapes/shape.js';
import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  anywhere,
  isPath,
  printPath,
  type Path,
  type Pattern,
} from '../../core/path/path.js';
import type { LooseObject } from '../../core/reading.js';
import { codeOf, type RequestPart, type Form } from '../../core/rules/form.js';
import { ABOUT_MEMBERS } from '../../core/rules/about-members.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { escaped, fragmentRegex, nameRegex, pathRegex, pointerRegex } from './patterns.js';

/** The data that a contract is made from. */
export interface ContractSource {
  readonly forms: readonly Form[];
  /** Status by problem. */
  readonly statuses: ReadonlyMap<string, number>;
  readonly typeBase?: string | undefined;
  readonly options: ShapeOptions;
  /** Whether bodies have details for developers. */
  readonly forDevelopers: boolean;
}

/** Shapes whose bodies have a schema. */
export const CONTRACT_SHAPES = ['problem', 'jsonapi', 'graphql', 'fields', 'list'] as const;
export type ContractShape = (typeof CONTRACT_SHAPES)[number];

type Schema = LooseObject;

/** One place of a form that an error can stand at, with the codes that it may have there. */
interface Spot {
  readonly pattern: Pattern;
  readonly in: RequestPart;
  readonly codes: readonly string[];
}

const text: Schema = { type: 'string', minLength: 1 };
const string: Schema = { type: 'string' };
const requestId = { requestId: string };
/** Where the members stand of which some have to be given. */
const MEMBERS: LooseObject = { type: 'array', items: string };

function closed(properties: LooseObject, optional: readonly string[] = []): Schema {
  const required = Object.keys(properties).filter((name) => !optional.includes(name));
  return { type: 'object', required, properties, additionalProperties: false };
}

/**
 * The places of a form: its fields and all that is around them, since a backend may blame those
 * too.
 */
function spotsOf(form: Form): Spot[] {
  const spots = new Map<string, { pattern: Pattern; in: RequestPart; codes: Set<string> }>();
  const at = (pattern: Pattern, part: RequestPart): Set<string> => {
    const key = `${part} ${printPath(pattern)}`;
    const spot = spots.get(key) ?? { pattern, in: part, codes: new Set(VOCABULARY.keys()) };
    spots.set(key, spot);
    return spot.codes;
  };
  at([], 'body');
  // A member that an object should not have is pointed at itself.
  for (const { pattern, in: part, uses } of form.fields) {
    const codes = new Set(uses.filter(({ rule }) => ABOUT_MEMBERS.has(rule)).map(codeOf));
    if (codes.size > 0)
      spots.set(`${part} ${printPath(pattern)} member`, {
        pattern: [...pattern, ANY_KEY],
        in: part,
        codes,
      });
  }
  for (const field of form.fields) {
    for (let length = 1; length < field.pattern.length; length++)
      at(field.pattern.slice(0, length), field.in);
    const codes = at(field.pattern, field.in);
    for (const use of field.uses) codes.add(codeOf(use));
  }
  return [...spots.values()].map(({ codes, ...spot }) => ({ ...spot, codes: [...codes].sort() }));
}

/** Equal spots share one schema: errors with the same codes, which differ by place. */
function grouped(spots: readonly Spot[], isAlike: (spot: Spot) => string): Spot[][] {
  const groups = new Map<string, Spot[]>();
  for (const spot of spots) {
    const key = keyOf(...spot.codes, isAlike(spot));
    groups.set(key, [...(groups.get(key) ?? []), spot]);
  }
  return [...groups.values()];
}

const placeKind = (spot: Spot): 'pointer' | 'parameter' | 'header' =>
  spot.in === 'body' ? 'pointer' : spot.in === 'header' ? 'header' : 'parameter';

const anyRegex = (regexes: readonly string[]): Schema => {
  const [only] = regexes;
  return regexes.length === 1 && only !== undefined
    ? { type: 'string', pattern: only }
    : { type: 'string', pattern: `^(?:${regexes.map((one) => one.slice(1, -1)).join('|')})$` };
};

/** The names that parameters may have: a list where there are so many and no more. */
const named = (
  patterns: readonly Pattern[],
  write: (path: Path) => string,
  regexOf: (pattern: Pattern) => string,
): Schema =>
  patterns.every(isPath) ? { enum: patterns.map(write) } : anyRegex(patterns.map(regexOf));

function where(group: readonly Spot[], regexOf: (pattern: Pattern) => string): LooseObject {
  const [first] = group;
  const kind = first ? placeKind(first) : 'pointer';
  const patterns = group.map(({ pattern }) => pattern);
  if (kind === 'pointer') return { pointer: anyRegex(patterns.map(regexOf)) };
  return { [kind]: named(patterns, (path) => path.join('.'), nameRegex) };
}

const developer: Schema = closed(
  {
    rule: text,
    params: { type: 'object' },
    value: string,
    key: text,
    file: text,
    line: { type: 'integer' },
    fallback: text,
  },
  ['params', 'value', 'key', 'file', 'line', 'fallback'],
);

class ContractWriter {
  constructor(private readonly source: ContractSource) {}

  private get developer(): LooseObject {
    return this.source.forDevelopers ? { developer: { $ref: '#/$defs/developer' } } : {};
  }

  /** Texts for beside the inputs: not every message has one. */
  private get inline(): LooseObject {
    return this.source.options.inline ? { inline: text } : {};
  }

  private type(problem: string): Schema {
    return { const: typeUri(problem, this.source) };
  }

  private get typed(): boolean {
    return this.source.typeBase !== undefined;
  }

  /** Writes the contract of a shape: for broken rules of a form, and for any other problem. */
  write(shape: ContractShape): Schema {
    const { forms, statuses, forDevelopers } = this.source;
    const form = this[`${shape}Form`].bind(this);
    const other = this[`${shape}Other`].bind(this);
    const defs: Record<string, Schema> = forDevelopers ? { developer } : {};
    const branches: Schema[] = [];
    const add = (name: string, schema: Schema): void => {
      const key = name.replace(/[^\w.-]+/g, '-');
      defs[key] = schema;
      branches.push({ $ref: `#/$defs/${key}` });
    };
    for (const one of forms) add(`form-${one.id}`, form(one));
    for (const [problem, status] of statuses)
      if (problem !== 'invalid-fields') add(`problem-${problem}`, other(problem, status));
    return {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      title: `Error bodies in the shape ${shape}`,
      anyOf: branches,
      $defs: defs,
    };
  }

  private get status(): number {
    return this.source.statuses.get('invalid-fields') ?? 422;
  }

  private problemBase(problem: string, status: number): LooseObject {
    const place =
      problem === 'malformed-body' || problem === 'too-large' ? { line: PLACE, column: PLACE } : {};
    return {
      type: this.type(problem),
      title: text,
      status: statusOf(problem, status),
      detail: text,
      instance: string,
      ...place,
    };
  }

  private problemForm(form: Form): Schema {
    const items = grouped(spotsOf(form), placeKind).map((group) => {
      const properties = {
        ...where(group, fragmentRegex),
        code: { enum: group[0]?.codes ?? [] },
        detail: text,
        ...this.inline,
        members: MEMBERS,
        ...this.developer,
      };
      return closed(properties, ['inline', 'members']);
    });
    const properties = {
      ...this.problemBase('invalid-fields', this.status),
      errors: { type: 'array', items: { anyOf: items } },
      more: MORE,
    };
    return closed(properties, ['instance', 'detail', 'more']);
  }

  private problemOther(problem: string, status: number): Schema {
    // RFC 9457 section 3.2: other members may come; a client ignores those that it does not know.
    return {
      ...closed(this.problemBase(problem, status), ['instance', 'detail', 'line', 'column']),
      additionalProperties: true,
    };
  }

  private links(problem: string): LooseObject {
    return this.typed ? { links: closed({ type: this.type(problem) }) } : {};
  }

  private jsonapiForm(form: Form): Schema {
    const { prefix } = this.source.options;
    const items = grouped(spotsOf(form), placeKind).flatMap((group) => {
      const base = {
        id: string,
        ...this.links('invalid-fields'),
        status: { const: String(this.status) },
        code: { enum: group[0]?.codes ?? [] },
        title: text,
        detail: text,
      };
      const at = where(group, (pattern) => pointerRegex(pattern, prefix));
      const beside = { ...this.inline, members: MEMBERS, ...this.developer };
      const meta = { meta: closed(beside, ['inline', 'members']) };
      const there = closed({ ...base, source: closed(at), ...meta }, [
        'id',
        ...(this.source.forDevelopers ? [] : ['meta']),
      ]);
      // A missing value is reported at the object around it.
      const around = { pointer: { type: 'string', pattern: `^${escaped(prefix)}` } };
      const missing = {
        ...base,
        source: closed(around),
        meta: closed({ missing: at.pointer, ...beside }, ['inline', 'members']),
      };
      return 'pointer' in at ? [there, closed(missing, ['id'])] : [there];
    });
    return closed(
      { errors: { type: 'array', items: { anyOf: items } }, meta: closed({ more: MORE }) },
      ['meta'],
    );
  }

  private jsonapiOther(problem: string, status: number): Schema {
    const error = closed(
      {
        id: string,
        ...this.links(problem),
        status: statusTextOf(problem, status),
        code: { const: problem },
        title: text,
        detail: text,
        meta: { type: 'object' },
      },
      ['id', 'detail', 'meta'],
    );
    return closed({ errors: { type: 'array', items: error, minItems: 1 } });
  }

  private common(problem: string, status: number): LooseObject {
    return {
      problem: { const: problem },
      status: statusOf(problem, status),
      ...(this.typed ? { type: this.type(problem) } : {}),
      ...requestId,
    };
  }

  private graphqlForm(form: Form): Schema {
    const spots = spotsOf(form);
    const codes = [...new Set(spots.flatMap((spot) => spot.codes))].sort();
    const extensions = closed(
      {
        code: { enum: codes },
        input: { anyOf: spots.map(inputSchema) },
        in: { enum: ['query', 'path', 'header'] },
        ...this.common('invalid-fields', this.status),
        ...this.inline,
        members: { type: 'array', items: { type: 'array' } },
        ...this.developer,
      },
      ['in', 'requestId', 'inline', 'members'],
    );
    const errors = { type: 'array', items: closed({ message: text, extensions }) };
    return closed({ errors, extensions: closed({ more: MORE }) }, ['extensions']);
  }

  private graphqlOther(problem: string, status: number): Schema {
    const extensions = {
      ...closed({ code: { const: problem }, ...this.common(problem, status) }, ['requestId']),
      additionalProperties: true,
    };
    return closed({
      errors: { type: 'array', items: closed({ message: text, extensions }), minItems: 1 },
    });
  }

  private fieldsHead(problem: string, status: number): LooseObject {
    return {
      code: { const: problem },
      status: statusOf(problem, status),
      title: text,
      detail: text,
      ...requestId,
    };
  }

  private fieldsForm(form: Form): Schema {
    const texts: Schema =
      this.source.options.texts === 'list' ? { type: 'array', items: text, minItems: 1 } : text;
    const spots = spotsOf(form);
    const of = (isBody: boolean): Schema => ({
      type: 'object',
      patternProperties: Object.fromEntries(
        spots
          .filter((spot) => (spot.in === 'body') === isBody)
          .map(({ pattern }) => [pathRegex(pattern), texts]),
      ),
      additionalProperties: false,
    });
    const properties = {
      ...this.fieldsHead('invalid-fields', this.status),
      fields: of(true),
      parameters: of(false),
      more: MORE,
      ...(this.source.options.inline === true
        ? { inline: closed({ fields: of(true), parameters: of(false) }, ['fields', 'parameters']) }
        : {}),
      ...(this.source.forDevelopers
        ? { developer: { type: 'array', items: { type: 'object' } } }
        : {}),
    };
    return closed(properties, ['detail', 'requestId', 'parameters', 'more', 'inline']);
  }

  private fieldsOther(problem: string, status: number): Schema {
    return {
      ...closed(this.fieldsHead(problem, status), ['detail', 'requestId']),
      additionalProperties: true,
    };
  }

  private listForm(form: Form): Schema {
    const items = grouped(spotsOf(form), (spot) => (spot.in === 'body' ? 'body' : spot.in)).map(
      (group) => {
        const [first] = group;
        const inBody = first === undefined || first.in === 'body';
        const patterns = group.map(({ pattern }) => pattern);
        const field = inBody
          ? anyRegex(patterns.map(pathRegex))
          : named(patterns, printPath, pathRegex);
        const place = inBody ? {} : { in: { const: first.in } };
        return closed(
          {
            field,
            ...place,
            code: { enum: first?.codes ?? [] },
            text,
            ...this.inline,
            members: MEMBERS,
            ...this.developer,
          },
          ['inline', 'members'],
        );
      },
    );
    const rest = closed({ field: { type: 'null' }, code: { const: 'more' }, text, more: MORE });
    return { type: 'array', items: { anyOf: [...items, rest] } };
  }

  private listOther(problem: string): Schema {
    return {
      type: 'array',
      items: closed({ field: { type: 'null' }, code: { const: problem }, text }),
      minItems: 1,
      maxItems: 1,
    };
  }
}

/** Problems that have whatever status an error brings, and the first digit of those. */
const ANY_STATUS: Readonly<Record<string, number | undefined>> = keyed({ refused: 4, failed: 5 });

function statusOf(problem: string, status: number): Schema {
  const first = ANY_STATUS[problem];
  return first === undefined
    ? { const: status }
    : { type: 'integer', minimum: 100 * first, maximum: 100 * first + 99 };
}

const statusTextOf = (problem: string, status: number): Schema => {
  const first = ANY_STATUS[problem];
  return first === undefined
    ? { const: String(status) }
    : { type: 'string', pattern: `^${first}\\d\\d$` };
};

/** A path as a list of names and places. */
function inputSchema(spot: Spot): Schema {
  const pattern = anywhere(spot.pattern);
  if (pattern.includes(ANY_DEPTH)) return { type: 'array', items: { type: ['string', 'integer'] } };
  const parts = pattern.map((segment) => {
    if (segment === ANY_ELEMENT) return { type: 'integer', minimum: 0 };
    return segment === ANY_KEY ? { type: ['string', 'integer'] } : { const: segment };
  });
  const open = parts.length > 0 ? { prefixItems: parts } : {};
  return { type: 'array', ...open, minItems: parts.length, maxItems: parts.length };
}

const PLACE: Schema = { type: 'integer', minimum: 1 };
/** The number of omitted violations. */
const MORE: Schema = { type: 'integer', minimum: 1 };

/** The schema (JSON Schema 2020-12) of every body that a workspace answers with in a shape. */
export function contractSchema(source: ContractSource, shape: ContractShape): Schema {
  return new ContractWriter(source).write(shape);
}
