import { eitherRule } from '../keywords/keywords.js';
import { getOrMake } from '../../core/base/get-or-make.js';
import type { Remark } from '../../core/finding.js';
import type { Origin } from '../../core/origin.js';
import { printPath, type Pattern, type SharedRoot } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { membersNamed } from '../../core/rules/either.js';
import { canonical } from '../../core/rules/equality.js';
import type { Field, RequestPart, Join, RuleUse } from '../../core/rules/form.js';
import type { Bundle } from './bundle.js';
import type { Definition } from './definitions.js';
import { innerSchemas } from './inner.js';
import type { Example } from './openapi.js';
import { occurrences } from '../../core/rules/occurrences.js';
import { titleIn } from './titles.js';
import { statedBy } from '../keywords/keywords.js';
import { OWN_RULES, ownRules } from './own-rules.js';
import { sharedIn } from './shared.js';

/**
 * A field that a schema names, while it is being put together out of all the parts that speak of
 * it.
 */
interface Draft {
  readonly pattern: Pattern;
  readonly uses: RuleUse[];
  readonly origin: Origin;
  secret: boolean;
  title?: { readonly text: string; readonly origin: Origin };
}

/** A property's `title`, which names it for people where no catalog does. */
export interface Title {
  readonly pattern: Pattern;
  readonly text: string;
  readonly origin: Origin;
}

/** A value that a schema gives as an example of a field. */
export interface FieldExample extends Example {
  readonly pattern: Pattern;
  readonly in: RequestPart;
}

export interface Walked {
  readonly examples: readonly FieldExample[];
  readonly fields: readonly Field[];
  readonly joins: readonly Join[];
  readonly titles: readonly Title[];
  /** Remarks about rules of our own in the schema. */
  readonly remarks: readonly Remark[];
}

/** More fields than anyone writes, whatever recurs is listed once. */
const MOST_FIELDS = 200_000;

/** Nobody follows more references, each inside of the one before. */
const MOST_IN_A_ROW = 500;

/**
 * Part of a form where a definition stands; `conditional` where that holds for some values only.
 */
interface Standing {
  readonly join: Join;
  readonly conditional: boolean;
  /** The definition that the place is inside of. */
  readonly inside: SharedRoot | undefined;
}

const isNull = (schema: unknown): boolean =>
  isObject(schema) && (schema.type === 'null' || schema.const === null);

/**
 * Whether a part of a schema is one of several that a value may be; null beside another says only
 * that there need be none.
 */
function isOneOfSeveral(schema: LooseObject, alternative: string): boolean {
  const [keyword = ''] = alternative.split('/');
  if (keyword === 'patternProperties') return false;
  const all = schema[keyword];
  return !Array.isArray(all) || all.filter((one) => !isNull(one)).length > 1;
}

const notAdded = (use: RuleUse): RuleUse =>
  Object.fromEntries(Object.entries(use).filter(([key]) => key !== 'added')) as unknown as RuleUse;

/**
 * Reads the fields and rules out of a bundled schema. What recurs is listed once, below the name of
 * its definition.
 */
class Walker {
  private readonly drafts = new Map<string, Draft>();
  private readonly seen = new Set<string>();
  private readonly joins = new Map<string, Standing>();
  private readonly shared: ReadonlyMap<Definition, SharedRoot>;
  /** Definitions that recur, in the order in which they are met. */
  private readonly met = new Map<SharedRoot, Definition>();
  readonly remarks: Remark[] = [];
  /**
   * The alternatives that the walk is inside of: what one of them says need not hold together with
   * what another says.
   */
  private within: readonly string[] = [];
  private inside: SharedRoot | undefined;
  private start = 0;
  private inARow = 0;
  private readonly examples: FieldExample[] = [];
  /**
   * How long the pattern is of which the walk looks at one of several alternatives: its title is no
   * name of the field.
   */
  private choiceAt = -1;

  constructor(
    private readonly bundle: Bundle,
    private readonly part: RequestPart,
    /** Examples of the whole value. */
    private readonly whole: readonly unknown[],
  ) {
    this.shared = sharedIn(bundle);
  }

  fields(start: Pattern): Walked {
    this.start = start.length;
    const whole = this.bundle.originOf(this.bundle.schema) ?? { file: '', keys: [] };
    this.schema(this.bundle.schema, start, whole);
    // What is met on the way is gone through as well.
    for (const [root, { schema, origin }] of this.met) {
      this.inside = root;
      this.choiceAt = -1;
      this.schema(schema, [root], origin);
    }
    if (this.drafts.size > MOST_FIELDS) {
      const message = `This schema has more than ${MOST_FIELDS} fields, and what comes after these is passed over. Split it.`;
      this.remarks.push({ kind: 'wrong-structure', message, spot: { ...whole, at: 'value' } });
    }
    const unsure = this.conditionals();
    const drafts = [...this.drafts.values()];
    return {
      fields: drafts.map(({ pattern, uses, origin, secret }) => ({
        pattern,
        path: printPath(pattern),
        in: this.part,
        optional: false,
        trim: false,
        secret,
        origin,
        uses: unsure.has(pattern[0]) ? uses.map(notAdded) : uses,
      })),
      joins: Array.from(this.joins.values(), ({ join }) => join),
      titles: drafts.flatMap(({ pattern, title }) => (title ? [{ pattern, ...title }] : [])),
      remarks: this.remarks,
      examples: this.examples,
    };
  }

  /** Returns the values at a place of the examples of the whole. */
  private examplesAt(pattern: Pattern): readonly unknown[] {
    if (this.inside) return [];
    return this.whole.flatMap((one) =>
      occurrences(pattern.slice(this.start), one).map(({ value }) => value),
    );
  }

  /** Definitions that apply to some values only: rules of our own are not tested there. */
  private conditionals(): ReadonlySet<Pattern[number] | undefined> {
    const found = new Set<Pattern[number] | undefined>();
    for (let before = -1; before < found.size;) {
      before = found.size;
      for (const { join, conditional, inside } of this.joins.values())
        if (conditional || (inside && found.has(inside))) found.add(join.root);
    }
    return found;
  }

  private draft(pattern: Pattern, origin: Origin): Draft {
    const path = printPath(pattern);
    return getOrMake(this.drafts, path, () => ({
      pattern,
      uses: [],
      origin,
      secret: false,
    }));
  }

  private add(
    pattern: Pattern,
    rule: string,
    params: RuleUse['params'],
    origin: Origin,
    counterpart?: Pattern,
  ): void {
    const { uses } = this.draft(pattern, origin);
    const known = uses.some(
      (use) => use.rule === rule && canonical(use.params) === canonical(params),
    );
    if (known && !counterpart) return;
    const within = this.within.length > 0 ? { within: this.within } : {};
    uses.push({
      rule,
      external: false,
      params,
      origin,
      ...(counterpart ? { counterpart } : {}),
      ...within,
    });
  }

  private schema(schema: unknown, pattern: Pattern, outer: Origin): void {
    if (this.drafts.size > MOST_FIELDS) return;
    if (schema === false) {
      this.add(pattern, 'false', {}, outer);
      return;
    }
    if (!isObject(schema)) return;
    const origin = this.bundle.originOf(schema) ?? outer;
    this.about(schema, pattern, origin);
    if (typeof schema.$ref === 'string') this.reference(schema.$ref, pattern, origin);
    const at = (...keys: (string | number)[]): Origin => ({
      file: origin.file,
      keys: [...origin.keys, ...keys],
    });
    this.members(schema, pattern, origin, at);
    this.dependents(schema, pattern, at);
    // A choice by which members are given is one rule of the object.
    const either = (['anyOf', 'oneOf'] as const).filter((keyword) => {
      const stated = eitherRule(keyword, schema[keyword]);
      for (const member of membersNamed(stated?.rule ?? '', stated?.params ?? {}))
        this.draft([...pattern, ...member], at(keyword));
      return stated !== undefined;
    });
    for (const { schema: inner, segment, keys, alternative } of innerSchemas(schema)) {
      if (keys[0] === 'properties') continue;
      if (either.some((keyword) => alternative?.startsWith(keyword))) continue;
      const further: Pattern = segment === undefined ? pattern : [...pattern, segment];
      const there = keys.length > 0 ? at(...keys) : origin;
      if (alternative === undefined) this.schema(inner, further, there);
      else {
        const choiceAt = this.choiceAt;
        if (isOneOfSeveral(schema, alternative)) this.choiceAt = further.length;
        this.alternative(alternative, inner, further, there, origin);
        this.choiceAt = choiceAt;
      }
    }
  }

  /** A part that holds for some values only. */
  private alternative(
    name: string,
    schema: unknown,
    pattern: Pattern,
    there: Origin,
    { file, keys }: Origin,
  ): void {
    const outer = this.within;
    this.within = [...outer, `${file}#${keys.join('/')}/${name}`];
    this.schema(schema, pattern, there);
    this.within = outer;
  }

  /** Adds the rules that the schema has for the value itself. */
  private about(schema: LooseObject, pattern: Pattern, origin: Origin): void {
    const at = (...keys: (string | number)[]): Origin => ({
      file: origin.file,
      keys: [...origin.keys, ...keys],
    });
    const lacksExample =
      schema.pattern !== undefined && schema.example === undefined && schema.examples === undefined;
    const examples = lacksExample ? this.examplesAt(pattern) : [];
    for (const { rule, params, keyword } of statedBy(
      examples.length > 0 ? { ...schema, examples } : schema,
    ))
      this.add(pattern, rule, params, at(keyword));
    if (this.within.length === 0) {
      if (Array.isArray(schema.examples))
        for (const [nth, value] of schema.examples.entries())
          this.example(pattern, value, at('examples', nth));
      else if (schema.example !== undefined) this.example(pattern, schema.example, at('example'));
    }
    const title = titleIn(schema, origin);
    if (title && pattern.length !== this.choiceAt) this.draft(pattern, origin).title ??= title;
    if (OWN_RULES in schema) this.own(schema[OWN_RULES], pattern, origin);
    // JSON Schema has no word for secrets; OpenAPI's format for what a screen must hide is the
    // nearest.
    if (schema.format === 'password') this.draft(pattern, origin).secret = true;
  }

  private example(pattern: Pattern, value: unknown, origin: Origin): void {
    this.examples.push({ pattern, in: this.part, value, origin });
  }

  /**
   * Rules that the schema's validator does not test; inside of an alternative they are not tested
   * at all.
   */
  private own(value: unknown, pattern: Pattern, origin: Origin): void {
    const { rules, remarks } = ownRules(value, pattern, origin);
    this.remarks.push(...remarks);
    const within = this.within.length > 0 ? { within: this.within } : {};
    for (const one of rules) {
      const { uses } = this.draft(one.pattern, origin);
      for (const use of one.uses) {
        if (uses.some(({ rule, as }) => rule === use.rule && as === use.as)) continue;
        uses.push({
          ...use,
          ...within,
          ...(use.external || this.within.length > 0 ? {} : { added: true }),
        });
      }
    }
  }

  private reference(reference: string, pattern: Pattern, origin: Origin): void {
    const definition = this.bundle.definitions.at(reference);
    if (!definition) return;
    const root = this.shared.get(definition);
    if (root) this.join(root, definition, pattern, origin);
    else {
      // The same definition at the same place again says nothing new.
      const visit = `${definition.name} ${printPath(pattern)}`;
      if (this.seen.has(visit)) return;
      this.seen.add(visit);
      // Neither this walk nor a validator comes through more of them.
      if (++this.inARow > MOST_IN_A_ROW) throw new RangeError('too many references in a row');
      this.schema(definition.schema, pattern, origin);
      this.inARow -= 1;
    }
  }

  private join(root: SharedRoot, definition: Definition, pattern: Pattern, origin: Origin): void {
    this.met.set(root, definition);
    // What is the definition all over again is no place of it.
    if (pattern.length === 1 && pattern[0] === root) return;
    this.draft(pattern, origin);
    const id = `${printPath(pattern)} ${String(root.description)}`;
    const conditional = this.within.length > 0;
    const known = this.joins.get(id);
    if (!known || (conditional && !known.conditional))
      this.joins.set(id, {
        join: {
          pattern,
          in: this.part,
          root,
          ...(pattern.length === this.choiceAt ? { isChoice: true as const } : {}),
        },
        conditional,
        inside: this.inside,
      });
  }

  private members(
    schema: LooseObject,
    pattern: Pattern,
    origin: Origin,
    at: (...keys: (string | number)[]) => Origin,
  ): void {
    const properties = isObject(schema.properties) ? schema.properties : {};
    const required = Array.isArray(schema.required) ? schema.required.map(String) : [];
    for (const [name, property] of Object.entries(properties)) {
      const inner = [...pattern, name];
      const there = isObject(property)
        ? (this.bundle.originOf(property) ?? origin)
        : at('properties', name);
      if (property !== true) this.draft(inner, there);
      if (required.includes(name))
        this.add(inner, 'required', {}, at('required', required.indexOf(name)));
      this.schema(property, inner, there);
    }
    for (const [position, name] of required.entries())
      if (!Object.hasOwn(properties, name))
        this.add([...pattern, name], 'required', {}, at('required', position));
  }

  private dependents(
    schema: LooseObject,
    pattern: Pattern,
    at: (...keys: (string | number)[]) => Origin,
  ): void {
    for (const keyword of ['dependentRequired', 'dependencies']) {
      for (const [given, needed] of Object.entries(
        isObject(schema[keyword]) ? schema[keyword] : {},
      )) {
        if (Array.isArray(needed))
          for (const name of needed.map(String)) {
            const other: Pattern = [...pattern, given];
            this.add([...pattern, name], 'dependentRequired', {}, at(keyword, given), other);
          }
      }
    }
  }
}

/**
 * The fields of a bundled schema with their rules, in the order of the document.
 * @param examples of the whole value
 * @param start the path at which the schema stands: empty for a body, a parameter's name for a
 * parameter
 */
export function walk(
  bundle: Bundle,
  part: RequestPart,
  start: Pattern,
  examples: readonly unknown[],
): Walked {
  return new Walker(bundle, part, examples).fields(start);
}
