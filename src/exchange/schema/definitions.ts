import type { LooseObject } from '../../core/reading.js';

export type Schema = LooseObject | boolean;

/** A schema that others refer to. */
export interface Definition {
  readonly name: string;
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

/** All that schemas of one bundler refer to; each is read once, and has one name in all bundles. */
export class Definitions {
  private readonly byId = new Map<string, Definition>();
  private readonly byReference = new Map<string, Definition>();
  private readonly recursive = new Map<string, boolean>();

  /** @param id where it is written, and what it means there */
  get(id: string): Definition | undefined {
    return this.byId.get(id);
  }

  add(id: string): Definition {
    const definition = { name: `d${this.byId.size}`, schema: true, refs: new Set<Definition>() };
    this.byId.set(id, definition);
    this.byReference.set(referenceTo(definition), definition);
    return definition;
  }

  /** What a reference of a bundle leads to; anything goes where it leads nowhere. */
  schema(reference: string): Schema {
    return this.byReference.get(reference)?.schema ?? true;
  }

  /** Whether a reference leads to what leads back to itself. All that it refers to has been read. */
  isRecursive(reference: string): boolean {
    let is = this.recursive.get(reference);
    if (is === undefined) {
      const definition = this.byReference.get(reference);
      is = definition !== undefined && reachableFrom(definition.refs).has(definition);
      this.recursive.set(reference, is);
    }
    return is;
  }
}
