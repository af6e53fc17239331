import type { Remark } from '../finding.js';
import { isSharedRoot } from '../path/path.js';
import { suggestion } from '../text/closest.js';
import type { Violation } from './violation.js';
import { isBlankMissing, isRequired } from './blank.js';
import { FormIndex } from './form-index.js';
import {
  inDocumentOrder,
  judge,
  type Judgement,
  type Request,
  type Surroundings,
} from './evaluate.js';
import type { Field, Form, RuleUse } from './form.js';

/** A form with what sheets add to it, and what was noticed on the way. */
export interface Added {
  readonly form: Form;
  readonly remarks: readonly Remark[];
}

const sameUse = (
  one: Pick<RuleUse, 'rule' | 'as'>,
  other: Pick<Violation, 'rule' | 'as'>,
): boolean => one.rule === other.rule && one.as === other.as;

/**
 * A field with what a sheet adds: its uses stand for those of the same rule and `as`, or are more.
 */
function fieldWith(base: Field, more: Field): Field {
  const added = more.uses.map((use): RuleUse => ({ ...use, added: true }));
  const kept = base.uses.filter((use) => !added.some((one) => sameUse(one, use)));
  const { blank = base.blank, label = base.label } = more;
  return {
    ...base,
    uses: [...kept, ...added],
    trim: base.trim || more.trim,
    secret: base.secret || more.secret,
    optional: base.optional || more.optional,
    ...(blank === undefined ? {} : { blank }),
    ...(label === undefined ? {} : { label }),
  };
}

class Adding {
  readonly remarks: Remark[] = [];
  private readonly fields: Map<string, Field>;
  private readonly index: FormIndex;

  constructor(private readonly base: Form) {
    this.fields = new Map(base.fields.map((field) => [`${field.in} ${field.path}`, field]));
    this.index = new FormIndex(base);
  }

  private field(more: Field): void {
    const key = `${more.in} ${more.path}`;
    const known = this.fields.get(key);
    if (known) this.fields.set(key, fieldWith(known, more));
    else if (!this.isUnknown(more)) {
      // A place inside of a definition that recurs has all that the definition says of it.
      const inside = this.index.field(more.pattern, more.in);
      const base = inside && isSharedRoot(inside.pattern[0]) ? inside : undefined;
      this.fields.set(
        key,
        fieldWith(
          { ...more, uses: base ? this.usesAt(base, more) : [], secret: base?.secret ?? false },
          more,
        ),
      );
    }
  }

  /** The rules of a definition's field at one of its places. */
  private usesAt(base: Field, { pattern, in: part }: Field): RuleUse[] {
    return base.uses.map(({ counterpart, ...use }) =>
      counterpart ? { ...use, counterpart: this.index.filled(counterpart, pattern, part) } : use,
    );
  }

  /**
   * A schema knows its fields; parameters are none of its business, and the whole body is always
   * there.
   */
  private isUnknown({ pattern, path, in: part, origin }: Field): boolean {
    const { base, index } = this;
    if (part !== 'body' || pattern.length === 0 || index.declared(pattern, part)) return false;
    const known = base.fields.filter((field) => field.in === part).map((field) => field.path);
    const message = `The form "${base.id}" has no field at ${path}${suggestion(path, known)}. Correct the path, or add the field to the schema.`;
    this.remarks.push({
      kind: 'unknown-field',
      form: base.id,
      path,
      message,
      spot: { ...origin, at: 'key' },
    });
    return true;
  }

  add(more: Form): void {
    for (const field of more.fields) this.field(field);
  }

  form(additions: readonly Form[], blank: boolean): Form {
    const request =
      additions.findLast((one) => one.request !== undefined)?.request ?? this.base.request;
    const byForm = additions.findLast((one) => one.blank !== undefined)?.blank ?? blank;
    const fields = [...this.fields.values()].map((field) => ({
      ...field,
      blank: field.blank ?? byForm,
    }));
    const partial = this.base.partial || additions.some((one) => one.partial);
    return { ...this.base, ...(request === undefined ? {} : { request }), partial, fields };
  }
}

/**
 * A form that a schema declares, with what sheets add to it.
 * @param blank whether null and blank texts count as missing where neither sheet nor field says
 */
export function withAdditions(base: Form, additions: readonly Form[], blank: boolean): Added {
  const adding = new Adding(base);
  for (const one of additions) adding.add(one);
  return { form: adding.form(additions, blank), remarks: adding.remarks };
}

/**
 * The rules that a schema does not know: what sheets added, and what is missing though something
 * blank was given.
 */
function ownRules({ form }: FormIndex): FormIndex {
  const fields = form.fields.map((field) => {
    const uses = field.uses.filter(
      (use) => (use.added && !use.external) || (field.blank === true && isRequired(use)),
    );
    // What the schema lets out may be left out with all inside it; of what it requires, the schema
    // says that it is missing.
    return { ...field, uses, optional: true };
  });
  return new FormIndex({ ...form, fields });
}

/**
 * Puts what sheets add on top of what a schema finds.
 * @param bySchema what the schema's own validator says
 */
export function judgeWithAdditions(
  index: FormIndex,
  bySchema: (request: Request) => Judgement,
  surroundings: Surroundings,
): (request: Request) => Judgement {
  const { fields } = index.form;
  const adds = fields.some(
    (field) =>
      field.trim || isBlankMissing(field) || field.uses.some((use) => use.added && !use.external),
  );
  if (!adds) return bySchema;
  const own = ownRules(index);
  return (request) => {
    const schema = bySchema(request);
    const more = judge(own, request, surroundings);
    const place = ({ in: part = 'body', path }: Violation): string => `${part} ${path}`;
    const lacking = new Set(more.violations.filter(({ rule }) => rule === 'required').map(place));
    const isReplaced = (violation: Violation): boolean => {
      const { path, in: part = 'body' } = violation;
      const uses = index.field(index.readPath(path, part), part)?.uses ?? [];
      return uses.some((use) => use.added === true && sameUse(use, violation));
    };
    const kept = schema.violations.filter((one) => !lacking.has(place(one)) && !isReplaced(one));
    const otherType = new Set(kept.filter(({ rule }) => rule === 'type').map(place));
    // What is in a list with too many entries is not looked at, as by the schema's validator.
    const long = schema.violations.filter(({ rule }) => rule === 'maxItems').map(place);
    const added = more.violations.filter((one) => {
      const at = place(one);
      const isInside = long.some((list) => at.startsWith(`${list}[`));
      return !isInside && (one.rule === 'required' || !otherType.has(at));
    });
    return {
      violations: inDocumentOrder([...kept, ...added], index),
      more: schema.more + more.more,
    };
  };
}
