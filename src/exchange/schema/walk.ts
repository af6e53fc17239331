import type { Remark } from '../../core/finding.js';
import type { Origin } from '../../core/origin.js';
import { ANY_DEPTH, ANY_ELEMENT, ANY_KEY, printPath, type Pattern } from '../../core/path/path.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { canonical } from '../../core/rules/equality.js';
import type { Field, FieldPlace, RuleUse } from '../../core/rules/form.js';
import { PROTOTYPE, type Bundle } from './bundle.js';
import { statedBy } from './keywords.js';
import { OWN_RULES, ownRules } from './own-rules.js';

/** A field that a schema names, while it is being put together out of all the parts that speak of it. */
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

export interface Walked {
  readonly fields: readonly Field[];
  readonly titles: readonly Title[];
  /** What is wrong with rules of our own in the schema. */
  readonly remarks: readonly Remark[];
}

/** More fields than anyone writes; a schema can be made whose parts multiply without end. */
const MOST_FIELDS = 20_000;

/** Reads the fields and rules out of a bundled schema. A part that contains itself is named with `..`, once. */
class Walker {
  private readonly drafts = new Map<string, Draft>();
  /** The definitions that the walk is inside of, each with the path at which it was entered. */
  private readonly inside = new Map<string, Pattern>();
  /** Repetitions met: what stands at `from` comes again below it, after `again`. */
  private readonly repeats: { readonly from: Pattern; readonly again: Pattern }[] = [];
  private readonly seen = new Set<string>();
  readonly remarks: Remark[] = [];
  /** The alternatives that the walk is inside of: what one of them says need not hold together with what another says. */
  private within: readonly string[] = [];

  constructor(
    private readonly bundle: Bundle,
    private readonly place: FieldPlace,
  ) {}

  fields(start: Pattern): Walked {
    this.schema(this.bundle.schema, start, this.bundle.originOf(this.bundle.schema) ?? { file: '', keys: [] });
    for (const { from, again } of this.repeats) this.repeat(from, again);
    const drafts = [...this.drafts.values()];
    return {
      fields: drafts.map(({ pattern, uses, origin, secret }) => ({
        ...{ pattern, path: printPath(pattern), in: this.place, uses, optional: false, trim: false, secret, origin },
      })),
      titles: drafts.flatMap(({ pattern, title }) => (title ? [{ pattern, ...title }] : [])),
      remarks: this.remarks,
    };
  }

  private draft(pattern: Pattern, origin: Origin): Draft {
    const path = printPath(pattern);
    let draft = this.drafts.get(path);
    if (!draft) this.drafts.set(path, (draft = { pattern, uses: [], origin, secret: false }));
    return draft;
  }

  private add(pattern: Pattern, rule: string, params: RuleUse['params'], origin: Origin, counterpart?: Pattern): void {
    const { uses } = this.draft(pattern, origin);
    const known = uses.some((use) => use.rule === rule && canonical(use.params) === canonical(params));
    if (known && !counterpart) return;
    const within = this.within.length > 0 ? { within: this.within } : {};
    uses.push({ rule, external: false, params, origin, ...(counterpart ? { counterpart } : {}), ...within });
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
    this.members(schema, pattern, origin);
    this.elements(schema, pattern, origin);
    this.each(schema.allOf, (one) => {
      this.schema(one, pattern, origin);
    });
    for (const key of ['anyOf', 'oneOf'])
      this.each(schema[key], (one, at) => {
        this.alternative(`${key}/${at}`, one, pattern, origin);
      });
    for (const key of ['then', 'else']) this.alternative(key, schema[key], pattern, origin);
    for (const [name, one] of Object.entries(isObject(schema.dependentSchemas) ? schema.dependentSchemas : {}))
      this.alternative(`dependentSchemas/${name}`, one, pattern, origin);
  }

  /** A part that holds for some values only. */
  private alternative(name: string, schema: unknown, pattern: Pattern, origin: Origin): void {
    const outer = this.within;
    this.within = [...outer, `${origin.file}#${origin.keys.join('/')}/${name}`];
    this.schema(schema, pattern, origin);
    this.within = outer;
  }

  private each(list: unknown, visit: (one: unknown, at: number) => void): void {
    if (Array.isArray(list)) for (const [at, one] of list.entries()) visit(one, at);
  }

  /** What the schema says of the value itself. */
  private about(schema: LooseObject, pattern: Pattern, origin: Origin): void {
    const at = (keyword: string): Origin => ({ file: origin.file, keys: [...origin.keys, keyword] });
    for (const { rule, params, keyword } of statedBy(schema)) this.add(pattern, rule, params, at(keyword));
    if (typeof schema.title === 'string' && schema.title.trim() !== '')
      this.draft(pattern, origin).title ??= { text: schema.title, origin: at('title') };
    if (OWN_RULES in schema) this.own(schema[OWN_RULES], pattern, origin);
    // JSON Schema has no word for secrets; OpenAPI's format for what a screen must hide is the nearest.
    if (schema.format === 'password') this.draft(pattern, origin).secret = true;
  }

  /** Rules that the schema's validator does not test; inside an alternative nobody tells whether they hold. */
  private own(value: unknown, pattern: Pattern, origin: Origin): void {
    const { rules, remarks } = ownRules(value, pattern, origin);
    this.remarks.push(...remarks);
    const within = this.within.length > 0 ? { within: this.within } : {};
    for (const one of rules) {
      const { uses } = this.draft(one.pattern, origin);
      for (const use of one.uses) {
        if (uses.some(({ rule, as }) => rule === use.rule && as === use.as)) continue;
        uses.push({ ...use, ...within, ...(use.external || this.within.length > 0 ? {} : { added: true }) });
      }
    }
  }

  private reference(reference: string, pattern: Pattern, origin: Origin): void {
    const name = reference.replace('#/$defs/', '');
    const entered = this.inside.get(name);
    if (entered) {
      const again = pattern.slice(entered.length);
      if (again.length > 0) this.repeats.push({ from: entered, again });
      return;
    }
    // The same definition at the same place again says nothing new.
    const visit = `${name} ${printPath(pattern)}`;
    if (this.seen.has(visit)) return;
    this.seen.add(visit);
    const { $defs } = this.bundle.schema;
    const target = isObject($defs) && Object.hasOwn($defs, name) ? $defs[name] : undefined;
    this.inside.set(name, pattern);
    this.schema(target, pattern, origin);
    this.inside.delete(name);
  }

  private members(schema: LooseObject, pattern: Pattern, origin: Origin): void {
    const at = (...keys: (string | number)[]): Origin => ({ file: origin.file, keys: [...origin.keys, ...keys] });
    const properties = isObject(schema.properties) ? schema.properties : {};
    const required = Array.isArray(schema.required) ? schema.required.map(String) : [];
    for (const [name, property] of Object.entries(properties)) {
      const inner = [...pattern, name];
      const there = isObject(property) ? (this.bundle.originOf(property) ?? origin) : at('properties', name);
      if (property !== true) this.draft(inner, there);
      if (required.includes(name)) this.add(inner, 'required', {}, at('required', required.indexOf(name)));
      this.schema(property, inner, there);
    }
    for (const [position, name] of required.entries())
      if (!Object.hasOwn(properties, name)) this.add([...pattern, name], 'required', {}, at('required', position));
    this.dependents(schema, pattern, at);
    for (const [name, one] of Object.entries(isObject(schema.patternProperties) ? schema.patternProperties : {}))
      if (name !== PROTOTYPE)
        this.alternative(`patternProperties/${name}`, one, [...pattern, ANY_KEY], at('patternProperties', name));
    for (const key of ['additionalProperties', 'unevaluatedProperties'])
      if (isObject(schema[key])) this.schema(schema[key], [...pattern, ANY_KEY], origin);
  }

  private dependents(schema: LooseObject, pattern: Pattern, at: (...keys: (string | number)[]) => Origin): void {
    for (const keyword of ['dependentRequired', 'dependencies']) {
      for (const [given, needed] of Object.entries(isObject(schema[keyword]) ? schema[keyword] : {})) {
        if (Array.isArray(needed))
          for (const name of needed.map(String)) {
            const other: Pattern = [...pattern, given];
            this.add([...pattern, name], 'dependentRequired', {}, at(keyword, given), other);
          }
        else this.schema(needed, pattern, at(keyword, given));
      }
    }
  }

  private elements(schema: LooseObject, pattern: Pattern, origin: Origin): void {
    const { prefixItems, items } = schema;
    this.each(prefixItems, (one, at) => {
      this.schema(one, [...pattern, at], origin);
    });
    this.each(items, (one, at) => {
      this.schema(one, [...pattern, at], origin);
    });
    const rest = Array.isArray(items) ? [schema.additionalItems] : [items, schema.unevaluatedItems];
    for (const one of rest) if (isObject(one)) this.schema(one, [...pattern, ANY_ELEMENT], origin);
  }

  /** What was said at `from` and below holds wherever `again` leads back to it. */
  private repeat(from: Pattern, again: Pattern): void {
    for (const draft of [...this.drafts.values()]) {
      const within = from.every((segment, at) => draft.pattern[at] === segment);
      // What is itself made of a repetition says the same already.
      if (!within || draft.pattern.includes(ANY_DEPTH)) continue;
      const pattern: Pattern = [...from, ANY_DEPTH, ...again, ...draft.pattern.slice(from.length)];
      const clone = this.draft(pattern, draft.origin);
      for (const use of draft.uses) this.add(pattern, use.rule, use.params, use.origin, use.counterpart);
      clone.secret ||= draft.secret;
      if (draft.title) clone.title ??= draft.title;
    }
  }
}

/**
 * The fields of a bundled schema with their rules, in the order of the document.
 * @param start the path at which the schema stands: empty for a body, a parameter's name for a parameter
 */
export function walk(bundle: Bundle, place: FieldPlace, start: Pattern = []): Walked {
  return new Walker(bundle, place).fields(start);
}
