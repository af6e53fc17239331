import {
  ANY_DEPTH,
  ANY_ELEMENT,
  isSharedRoot,
  printPath,
  type Pattern,
  type PatternSegment,
} from '../path/path.js';
import type { Field, RuleUse } from './form.js';

/** Returns the type that a value must have for a segment to lead into it. */
function containerOf(segment: PatternSegment): 'array' | 'object' | undefined {
  if (segment === ANY_DEPTH || isSharedRoot(segment)) return undefined;
  return segment === ANY_ELEMENT || typeof segment === 'number' ? 'array' : 'object';
}

/**
 * Adds what the paths of a sheet say without saying it: whoever declares `lead.name` expects an
 * object at `lead`. Only a field that says nothing about its type gets such a use; containers that
 * are no fields come before what is inside them.
 */
export function withContainers(fields: readonly Field[]): Field[] {
  const byPath = new Map(
    fields.filter((field) => field.in === 'body').map((field) => [field.path, field]),
  );
  const needed = new Map<string, { pattern: Pattern; type: 'array' | 'object'; first: Field }>();
  for (const field of byPath.values()) {
    for (const [at, segment] of field.pattern.entries()) {
      const type = containerOf(segment);
      const pattern = field.pattern.slice(0, at);
      const path = printPath(pattern);
      if (type && pattern.at(-1) !== ANY_DEPTH && !needed.has(path))
        needed.set(path, { pattern, type, first: field });
    }
  }
  const implied = (type: string, origin: Field['origin']): RuleUse => ({
    rule: 'type',
    external: false,
    params: { expected: type },
    implied: true,
    origin,
  });
  return fields.flatMap((field) => {
    if (field.in !== 'body') return [field];
    const before = [...needed]
      .filter(([path, { first }]) => first === field && !byPath.has(path))
      .map(([path, { pattern, type }]): Field => ({
        pattern,
        path,
        in: 'body',
        optional: false,
        trim: false,
        secret: false,
        origin: field.origin,
        uses: [implied(type, field.origin)],
      }));
    const own = needed.get(field.path);
    const typed = !own || field.uses.some(({ rule }) => rule === 'type');
    return [
      ...before,
      typed ? field : { ...field, uses: [...field.uses, implied(own.type, field.origin)] },
    ];
  });
}
