import { isObject, type LooseObject } from '../../core/reading.js';

/** All references in a schema; what words hold is data, but a name that looks like one does no harm here. */
function referencesIn(schema: unknown): Set<string> {
  const found = new Set<string>();
  const waiting = [schema];
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    if (typeof next !== 'object' || next === null) continue;
    if ('$ref' in next && typeof next.$ref === 'string') found.add(next.$ref);
    for (const [key, member] of Object.entries(next))
      if (key !== '$defs' && typeof member === 'object' && member !== null) waiting.push(member);
  }
  return found;
}

/** The references to definitions that lead back to themselves. */
export function recursiveDefinitions({ $defs }: LooseObject): ReadonlySet<string> {
  const direct = new Map(
    Object.entries(isObject($defs) ? $defs : {}).map(([name, schema]) => [`#/$defs/${name}`, referencesIn(schema)]),
  );
  const recursive = new Set<string>();
  for (const [start, first] of direct) {
    const seen = new Set(first);
    for (const next of seen) for (const further of direct.get(next) ?? []) seen.add(further);
    if (seen.has(start)) recursive.add(start);
  }
  return recursive;
}
