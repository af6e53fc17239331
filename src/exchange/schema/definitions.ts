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
 * Finds what leads back to itself: circles of references (strongly connected components), each definition looked at once.
 * Without recursion: a document may have a chain of any length.
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
      const visit = { definition, left: definition.refs.values(), nth: visits.size, low: visits.size };
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
    for (const { definition } of circle) this.known.set(definition, circle.length > 1 || definition.refs.has(definition));
  }
}

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
    const definition = { name: `d${this.byId.size}`, origin, schema: true, refs: new Set<Definition>() };
    this.byId.set(id, definition);
    this.byReference.set(referenceTo(definition), definition);
    return definition;
  }

  /** What a reference of a bundle leads to. */
  at(reference: string): Definition | undefined {
    return this.byReference.get(reference);
  }

  /** The schema that a reference leads to; anything goes where it leads nowhere. */
  schema(reference: string): Schema {
    return this.at(reference)?.schema ?? true;
  }

  /** Whether a reference leads to what leads back to itself. All that it refers to has been read. */
  isRecursive(reference: string): boolean {
    const definition = this.at(reference);
    return definition !== undefined && this.circles.has(definition);
  }
}
