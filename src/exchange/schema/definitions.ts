import type { Origin } from '../../core/origin.js';
import type { LooseObject } from '../../core/reading.js';

export type Schema = LooseObject | boolean;

/** A schema that others refer to. */
export interface Definition {
  readonly name: string;
  /** Where it is written. */
  readonly origin: Origin;
  schema: Schema;
  /** The definitions that it refers to, itself perhaps among them. */
  readonly refs: Set<Definition>;
}

const REFERENCE = '#/$defs/';

export const referenceTo = ({ name }: Definition): string => `${REFERENCE}${name}`;

/** All that some definitions need, themselves among them. */
export function reachableFrom(first: Iterable<Definition>): ReadonlySet<Definition> {
  const found = new Set(first);
  // What is added on the way is gone through as well.
  for (const one of found) for (const further of one.refs) found.add(further);
  return found;
}

/** A definition on the way through its references, as far as they were followed. */
interface Visit {
  readonly definition: Definition;
  readonly left: Iterator<Definition>;
  /** When it was come upon, and the earliest that it leads back to. */
  readonly nth: number;
  low: number;
}

/**
 * Finds what leads back to itself: circles of references (strongly connected components), each
 * definition looked at once. Without recursion: a document may have a chain of any length.
 */
class Circles {
  private readonly known = new Map<Definition, boolean>();

  has(definition: Definition): boolean {
    if (!this.known.has(definition)) this.follow(definition);
    return this.known.get(definition) ?? false;
  }

  private follow(first: Definition): void {
    const visits = new Map<Definition, Visit>();
    /** Those whose circle is not closed yet. */
    const open: Visit[] = [];
    const way: Visit[] = [];
    const enter = (definition: Definition): void => {
      const visit = {
        definition,
        left: definition.refs.values(),
        nth: visits.size,
        low: visits.size,
      };
      visits.set(definition, visit);
      open.push(visit);
      way.push(visit);
    };
    enter(first);
    for (let visit = way.at(-1); visit; visit = way.at(-1)) {
      const next = visit.left.next();
      if (!next.done) {
        const seen = visits.get(next.value);
        if (seen && !this.known.has(next.value)) visit.low = Math.min(visit.low, seen.nth);
        else if (!seen && !this.known.has(next.value)) enter(next.value);
        continue;
      }
      way.pop();
      const before = way.at(-1);
      if (before) before.low = Math.min(before.low, visit.low);
      if (visit.low === visit.nth) this.close(open.splice(open.indexOf(visit)));
    }
  }

  private close(circle: readonly Visit[]): void {
    for (const { definition } of circle)
      this.known.set(definition, circle.length > 1 || definition.refs.has(definition));
  }
}

/** How often a schema refers to each definition. */
function* referencesIn(schema: unknown): Generator<string> {
  const waiting = [schema];
  for (let at = 0; at < waiting.length; at++) {
    const one = waiting[at];
    if (typeof one !== 'object' || one === null) continue;
    const { $ref } = one as LooseObject;
    if (typeof $ref === 'string') yield $ref;
    for (const inner of Object.values(one)) if (typeof inner === 'object') waiting.push(inner);
  }
}

/**
 * With more references than that behind a definition, counted along every way, it is asked once for
 * each place.
 */
const MANY = 64;

/** All that schemas of one bundler refer to; each is read once, and has one name in all bundles. */
export class Definitions {
  private readonly byId = new Map<string, Definition>();
  private readonly byReference = new Map<string, Definition>();
  private readonly circles = new Circles();

  /** @param id where it is written, and what it means there */
  get(id: string): Definition | undefined {
    return this.byId.get(id);
  }

  add(id: string, origin: Origin): Definition {
    const definition = {
      name: `d${this.byId.size}`,
      origin,
      schema: true,
      refs: new Set<Definition>(),
    };
    this.byId.set(id, definition);
    this.byReference.set(referenceTo(definition), definition);
    return definition;
  }

  /** Returns the target of a reference of a bundle. */
  at(reference: string): Definition | undefined {
    return this.byReference.get(reference);
  }

  /** The schema that a reference leads to; anything goes where it leads nowhere. */
  schema(reference: string): Schema {
    return this.at(reference)?.schema ?? true;
  }

  private readonly weights = new Map<Definition, number>();

  /**
   * Whether so much is behind a reference, counted along every way, that asking it again and again
   * takes too long: where each of thirty definitions refers twice to the next, there are a thousand
   * million ways. All that it refers to has been read.
   */
  isHeavy(reference: string): boolean {
    const first = this.at(reference);
    if (!first) return false;
    // Without recursion: a document may have a chain of any length. What refers to itself is asked
    // once in any case.
    const waiting = [first];
    for (let one = waiting.at(-1); one; one = waiting.at(-1)) {
      const inner = [...referencesIn(one.schema)].flatMap((target) =>
        this.isRecursive(target) ? [] : (this.at(target) ?? []),
      );
      const open = this.weights.has(one) ? [] : inner.filter((target) => !this.weights.has(target));
      if (open.length > 0) {
        waiting.push(...open);
        continue;
      }
      waiting.pop();
      const sum = inner.reduce((all, target) => all + (this.weights.get(target) ?? 1), 1);
      this.weights.set(one, Math.min(sum, MANY + 1));
    }
    return (this.weights.get(first) ?? 1) > MANY;
  }

  /**
   * Whether a reference leads to what leads back to itself. All that it refers to has been read.
   */
  isRecursive(reference: string): boolean {
    const definition = this.at(reference);
    return definition !== undefined && this.circles.has(definition);
  }
}
