import { mayOverlap } from './overlap.js';
import { definitionsIn } from './find-definitions.js';
import { getOrMake } from '../base/get-or-make.js';
import { parsePattern, printPath, type Path, type Pattern } from '../path/path.js';
import { violationOf, type Violation } from './violation.js';
import { MASK, measured } from '../text/value.js';
import type { Params, Probe, RuleDefinition, Verdict } from './definition.js';
import { isAmong } from './equality.js';
import { compareRanks, type FormIndex } from './form-index.js';
import type { Condition, Field, RequestPart, RuleUse } from './form.js';
import { declaredTypes, isOfType } from './types.js';
import { Occurrences, valueAt, type Occurrence } from './occurrences.js';
import { isBlank, isGiven } from './given.js';
import { trimmed } from './trim.js';
import { VOCABULARY } from './vocabulary.js';

/** A request, with parsed parameters (`withParameters`). Headers have names in lower case. */
export type Request = Readonly<Partial<Record<RequestPart, unknown>>>;

/** Whether a request has left out its body by right. */
export const comesWithoutBody = ({ form }: FormIndex, { body }: Request): boolean =>
  form.bodyOptional === true && body === undefined;

/** The surroundings of an evaluation, which has no clock and no file of its own. */
export interface Surroundings extends Pick<Probe, 'today' | 'zone' | 'matches' | 'hasFormat'> {
  /** Finds a value in a table's column; undefined where there is no such table or column. */
  readonly looksUp: Probe['looksUp'];
}

const APPLIES: Record<RuleDefinition['appliesTo'], (value: unknown) => boolean> = {
  any: () => true,
  text: (value) => typeof value === 'string',
  number: (value) => typeof value === 'number',
  array: Array.isArray,
  object: (value) => isOfType(value, 'object'),
  date: (value) => typeof value === 'string',
};

const ruleOf = ({ rule, external }: RuleUse): RuleDefinition | undefined =>
  external ? undefined : VOCABULARY.get(rule);

/**
 * So many violations are kept, and so many are looked for at all: a client can break a rule as
 * often as a body has bytes.
 */
const MOST_KEPT = 1000;
const MOST_FOUND = 10_000;

/** The violations of a request. */
export interface Judgement {
  /** In document order. */
  readonly violations: readonly Violation[];
  /** How many more were found; nobody looks further once there are thousands. */
  readonly more: number;
}

const bounded = new WeakMap<FormIndex, readonly Field[]>();

/** The lists of a form that have a greatest length, outer ones first. */
function boundedLists(index: FormIndex): readonly Field[] {
  let known = bounded.get(index);
  if (!known) {
    known = index.form.fields
      .filter((field) => field.in === 'body' && field.uses.some(({ rule }) => rule === 'maxItems'))
      .sort((one, other) => one.pattern.length - other.pattern.length);
    bounded.set(index, known);
  }
  return known;
}

const longestOf = (uses: readonly RuleUse[]): number =>
  Math.min(
    ...uses.map(({ rule, params }) => (rule === 'maxLength' ? Number(params.max) : Infinity)),
  );

class Evaluation {
  readonly violations: Violation[] = [];
  /** Of each violation. */
  readonly paths: Path[] = [];
  more = 0;
  /** The current field and value; one probe serves all tests, since tests keep none. */
  private at:
    | {
        readonly field: Field;
        readonly use: RuleUse;
        readonly path: Path;
        readonly part: RequestPart;
      }
    | undefined;
  private readonly probe: Probe;
  private readonly places = new Map<RequestPart, Occurrences>();

  constructor(
    private readonly index: FormIndex,
    private readonly request: Request,
    surroundings: Surroundings,
  ) {
    const valueOf = (reference: Pattern | undefined): unknown => {
      const { at } = this;
      return (
        reference &&
        at &&
        valueAt(request[at.part], index.filled(reference, at.path, at.part) as Path)
      );
    };
    this.probe = Object.assign(Object.create(surroundings) as Surroundings, {
      other: () => valueOf(this.at?.use.counterpart),
      field: (named: string) => valueOf(parsePattern(named)),
      asksPlainly: () => {
        const { at } = this;
        return (
          at?.field.uses.some(
            ({ rule, params, onlyIf }) =>
              rule === at.use.rule &&
              params.table === at.use.params.table &&
              params.column === at.use.params.column &&
              params.having === undefined &&
              onlyIf === undefined,
          ) ?? false
        );
      },
      declares: (member: string) => {
        const { at } = this;
        return at !== undefined && index.declared([...at.path, member], at.part) !== undefined;
      },
    });
  }

  run(): void {
    this.closeLists();
    const hasNoBody = comesWithoutBody(this.index, this.request);
    for (const field of this.index.form.fields) {
      if (hasNoBody && field.in === 'body') continue;
      const alone = !mayOverlap(this.index.form, field.in);
      for (const occurrence of this.occurrencesOf(field)) {
        if (this.violations.length + this.more >= MOST_FOUND) return;
        // Of several patterns that cover a place, the most literal speaks for it, as with texts.
        if (alone || this.index.speaking(occurrence.path, field.in).includes(field))
          this.field(field, occurrence);
      }
    }
  }

  /**
   * Removes the violations inside of lists with too many elements: the answer says only that there
   * are too many.
   */
  private closeLists(): void {
    const closed = new Set<unknown>();
    for (const field of boundedLists(this.index))
      for (const { path, value } of new Occurrences(
        this.request.body,
        definitionsIn(this.index, 'body'),
        closed,
      ).of(field.pattern))
        if (Array.isArray(value) && this.isTooLong(value, field, path)) closed.add(value);
    this.places.set(
      'body',
      new Occurrences(this.request.body, definitionsIn(this.index, 'body'), closed),
    );
  }

  private isTooLong(list: readonly unknown[], field: Field, path: Path): boolean {
    if (!this.index.speaking(path, field.in).includes(field)) return false;
    const applies = ({ onlyIf }: RuleUse): boolean =>
      (onlyIf ?? []).every((condition) => this.holds(condition, path, field.in));
    return field.uses.some(
      (use) => use.rule === 'maxItems' && list.length > Number(use.params.max) && applies(use),
    );
  }

  private placesIn(part: RequestPart): Occurrences {
    return getOrMake(
      this.places,
      part,
      () => new Occurrences(this.request[part], definitionsIn(this.index, part)),
    );
  }

  private occurrencesOf(field: Field): readonly Occurrence[] {
    if (field.in === 'body') return this.placesIn('body').of(field.pattern);
    const places = this.placesIn(field.in);
    if (field.in !== 'header') return places.of(field.pattern);
    // Header names mean the same in any case (RFC 9110 section 5.1), and are shown as they are
    // declared.
    const [name, ...below] = field.pattern;
    if (typeof name !== 'string') return places.of(field.pattern);
    return places
      .of([name.toLowerCase(), ...below])
      .map(({ path, value }) => ({ path: [name, ...path.slice(1)], value }));
  }

  private applying({ uses, in: part }: Field, path: Path): readonly RuleUse[] {
    // Of most fields all rules hold always.
    if (!uses.some(({ onlyIf }) => onlyIf)) return uses;
    return uses.filter(({ onlyIf }) =>
      (onlyIf ?? []).every((condition) => this.holds(condition, path, part)),
    );
  }

  private field(field: Field, { path, value }: Occurrence): void {
    const uses = this.applying(field, path);
    const required = uses.find(({ rule }) => rule === 'required');
    if (!isGiven(value) || (required && isBlank(value))) {
      if (value === undefined && this.excused(path, field.in)) return;
      // null is a value only to who says so.
      const nullable = declaredTypes(uses).includes('null');
      if (required) this.tell(field, required, path, value, {});
      else if (!(value === null && nullable))
        for (const use of uses) if (ruleOf(use)?.looksAtAbsent) this.judge(field, use, path, value);
      return;
    }
    const before = this.violations.length + this.more;
    for (const use of uses) if (use.rule === 'type') this.judge(field, use, path, value);
    if (this.violations.length + this.more > before) return;
    for (const use of uses) {
      // What is too long already is not worth the time that a regular expression may take.
      const tooLong =
        use.rule === 'pattern' &&
        typeof value === 'string' &&
        (measured(value) ?? 0) > longestOf(uses);
      if (use.rule !== 'type' && !tooLong) this.judge(field, use, path, value);
    }
  }

  /** One use alone. */
  alone(field: Field, use: RuleUse, path: Path, raw: unknown): void {
    const value = field.trim && typeof raw === 'string' ? raw.trim() : raw;
    if (isGiven(value) || ruleOf(use)?.looksAtAbsent) this.judge(field, use, path, value);
  }

  /**
   * Whether an absent value is no violation: the form is partial, or something around the field may
   * be absent, is reported as missing itself, or is not a container.
   */
  private excused(path: Path, part: RequestPart): boolean {
    if (this.index.form.partial) return true;
    for (let length = 0; length < path.length; length++) {
      const around = path.slice(0, length);
      const value = valueAt(this.request[part], around);
      if (isGiven(value)) {
        if (!isOfType(value, typeof path[length] === 'number' ? 'array' : 'object')) return true;
      } else {
        const field = this.index.field(around, part);
        return field !== undefined && (field.optional || this.isMissed(field, around));
      }
    }
    return false;
  }

  /** Whether a rule reports a missing field. */
  private isMissed(field: Field, path: Path): boolean {
    return this.applying(field, path).some(({ rule }) => rule === 'required');
  }

  private holds({ field, values, absent }: Condition, path: Path, part: RequestPart): boolean {
    const value = valueAt(this.request[part], this.index.filled(field, path, part) as Path);
    if (absent !== undefined) return isGiven(value) !== absent;
    return isAmong(value, values ?? []);
  }

  private judge(field: Field, use: RuleUse, path: Path, value: unknown): void {
    const rule = ruleOf(use);
    if (!rule?.test || (isGiven(value) && !APPLIES[rule.appliesTo](value))) return;
    this.at = { field, use, path, part: field.in };
    for (const broken of judged(rule, use, value, this.probe))
      this.tell(field, use, path, value, broken);
  }

  private tell(field: Field, use: RuleUse, path: Path, value: unknown, more: Params): void {
    if (this.violations.length >= MOST_KEPT) {
      this.more += 1;
      return;
    }
    const counterpart = use.counterpart
      ? { counterpart: printPath(this.index.filled(use.counterpart, path, field.in)) }
      : {};
    const params = { ...use.params, ...counterpart, ...more };
    this.paths.push(path);
    this.violations.push(
      violationOf(printPath(path), field.in, { rule: use.rule, as: use.as, params, value }),
    );
  }
}

/**
 * Tests a value against one use of a rule; returns the parameters of each violation, or nothing.
 */
function judged(
  rule: RuleDefinition,
  use: Pick<RuleUse, 'params' | 'counterpart'>,
  value: unknown,
  probe: Probe,
): readonly Params[] {
  // A bound that another field gives bounds nothing while that field is empty; to repeat it is
  // another matter.
  const bounds =
    rule.family !== 'presence' && rule.id !== 'repeats' && use.counterpart !== undefined;
  if (bounds && !isGiven(probe.other())) return NOTHING;
  const verdict: Verdict = rule.test?.(value, use.params, probe) ?? true;
  if (verdict === true) return NOTHING;
  return isList(verdict) ? verdict : [verdict];
}

const NOTHING: readonly Params[] = [];

const isList = (verdict: Params | readonly Params[]): verdict is readonly Params[] =>
  Array.isArray(verdict);

/** Violations as they may be shown: without values that are secret or hold something secret. */
export function withoutSecrets(violations: readonly Violation[], index: FormIndex): Violation[] {
  return violations.map((violation) => {
    const part = violation.in ?? 'body';
    const path = index.readPath(violation.path, part);
    const { value } = violation;
    const holdsSecret =
      (typeof value === 'object' && value !== null) || index.isSecretAt(path, part);
    if (!index.anySecret || !holdsSecret) return violation;
    const { params } = violation;
    // The names of members that something secret has are secret too.
    const named = index.isSecretAt(path, part) && params !== undefined && 'name' in params;
    const shown = { ...violation, value: undefined, path: printPath(index.shownPath(path, part)) };
    return named ? { ...shown, params: { ...params, name: MASK } } : shown;
  });
}

/**
 * The violations in the order in which one reads the document: places as declared, elements by
 * index, rules as declared.
 * @param paths of the violations, where somebody has them read
 */
export function inDocumentOrder(
  violations: readonly Violation[],
  index: FormIndex,
  paths?: readonly Path[],
): Violation[] {
  if (violations.length < 2) return [...violations];
  const ranked = violations.map((violation, nth) => {
    const part = violation.in ?? 'body';
    const path = paths?.[nth] ?? index.readPath(violation.path, part);
    const uses = index.field(path, part)?.uses ?? [];
    const at = uses.findIndex((use) => use.rule === violation.rule && use.as === violation.as);
    return { violation, rank: index.rank(path, part, at < 0 ? uses.length : at) };
  });
  return ranked
    .sort((one, other) => compareRanks(one.rank, other.rank))
    .map(({ violation }) => violation);
}

/** Holds one value against one use of a rule alone, its conditions left aside. */
export function evaluateUse(
  index: FormIndex,
  field: Field,
  use: RuleUse,
  path: Path,
  value: unknown,
  request: Request,
  surroundings: Surroundings,
): Violation[] {
  const evaluation = new Evaluation(index, request, surroundings);
  evaluation.alone(field, use, path, value);
  return evaluation.violations;
}

/** Judges a request by the rules of a sheet's form. */
export function judge(index: FormIndex, request: Request, surroundings: Surroundings): Judgement {
  const evaluation = new Evaluation(index, trimmed(index, request), surroundings);
  evaluation.run();
  return {
    violations: inDocumentOrder(evaluation.violations, index, evaluation.paths),
    more: evaluation.more,
  };
}

/** Returns the violations of a sheet's form by a request, in document order. */
export function evaluate(
  index: FormIndex,
  request: Request,
  surroundings: Surroundings,
): readonly Violation[] {
  return judge(index, request, surroundings).violations;
}
