import { getOrMake } from '../../core/base/get-or-make.js';
import { sharedRoot, type PatternSegment, type SharedRoot } from '../../core/path/path.js';
import { isObject } from '../../core/reading.js';
import type { Bundle } from './bundle.js';
import type { Definition } from './definitions.js';
import { innerSchemas } from './inner.js';
import { lastWordOf } from './names.js';

/**
 * A definition that stands at more places of a form is listed once, and so is one that contains
 * itself.
 */
const MOST_PLACES = 20;

/** Numbers for paths: the same beginning and the same segment give the same. */
class PathNumbers {
  private readonly further = new Map<number, Map<PatternSegment, number>>();
  private last = 0;

  begin(): number {
    return ++this.last;
  }

  after(path: number, segment: PatternSegment): number {
    const next = getOrMake(this.further, path, () => new Map());
    return getOrMake(next, segment, () => ++this.last);
  }
}

/**
 * The definitions of a bundle that recur. Each is looked into at no more places than that, so time
 * follows the size of the schema.
 */
function recurring({ schema, definitions }: Bundle): Definition[] {
  const found = new Set<Definition>();
  const places = new Map<Definition, Set<number>>();
  const numbers = new PathNumbers();
  const waiting: (readonly [schema: unknown, path: number])[] = [[schema, numbers.begin()]];
  const refer = (definition: Definition, reference: string, path: number): void => {
    if (found.has(definition) && definitions.isRecursive(reference)) return;
    if (definitions.isRecursive(reference)) {
      found.add(definition);
      waiting.push([definition.schema, numbers.begin()]);
      return;
    }
    const there = getOrMake(places, definition, () => new Set());
    if (there.has(path) || there.size > MOST_PLACES) return;
    there.add(path);
    if (there.size > MOST_PLACES) found.add(definition);
    waiting.push([definition.schema, path]);
  };
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const [one, path] = next;
    if (!isObject(one)) continue;
    const definition = typeof one.$ref === 'string' ? definitions.at(one.$ref) : undefined;
    if (definition && typeof one.$ref === 'string') refer(definition, one.$ref, path);
    for (const { schema: inner, segment } of innerSchemas(one))
      waiting.push([inner, segment === undefined ? path : numbers.after(path, segment)]);
  }
  return [...found];
}

/** Replaces characters that names of definitions cannot have in paths by dashes. */
const plain = (name: string): string =>
  name.replace(/[^\p{L}\p{N}_.$/-]+/gu, '-').replace(/^-+|-+$/g, '');

/** Yields the possible names of a definition, the shortest first. */
function* namesOf({ origin: { file, keys } }: Definition): Generator<string> {
  const document = lastWordOf(file);
  const last = keys.at(-1);
  const key = String(last ?? '');
  // Some documents name definitions by the addresses that they have elsewhere.
  const isAddress = /^[a-z][a-z0-9+.-]*:/i.test(key);
  const own = last === undefined ? document : plain(isAddress ? lastWordOf(key) : key);
  if (own !== '') yield own;
  if (isAddress) yield plain(key);
  yield plain(`${document}/${own}`);
  yield plain([document, ...keys].join('/'));
}

/**
 * Names each definition, independently of the order in the schema: where two have the same name,
 * both get longer ones.
 */
function named(definitions: readonly Definition[]): Map<Definition, string> {
  const names = new Map<Definition, string>();
  const choices = definitions.map((one) => [one, [...new Set(namesOf(one))]] as const);
  const counts = new Map<string, number>();
  for (const [, own] of choices)
    for (const name of own) counts.set(name, (counts.get(name) ?? 0) + 1);
  for (const [one, own] of choices)
    names.set(
      one,
      own.find((name) => counts.get(name) === 1) ?? `${own.at(-1) ?? ''}-${names.size + 1}`,
    );
  return names;
}

/**
 * The definitions of a bundle that are listed once, by the references to them, each with the
 * segment that patterns have for it.
 */
export function sharedIn(bundle: Bundle): ReadonlyMap<Definition, SharedRoot> {
  return new Map([...named(recurring(bundle))].map(([one, name]) => [one, sharedRoot(name)]));
}
