import { definitionsIn } from './find-definitions.js';
import type { Path, Pattern } from '../path/path.js';
import type { FormIndex } from './form-index.js';
import { FIELD_PLACES, type RequestPart } from './form.js';
import { Occurrences, valueAt } from './occurrences.js';

function put(root: unknown, path: Path, value: string): void {
  const last = path.at(-1);
  const around = valueAt(root, path.slice(0, -1)) as Record<string | number, unknown>;
  // What is called __proto__ is a member like any other.
  if (last !== undefined)
    Object.defineProperty(around, last, {
      value,
      writable: true,
      enumerable: true,
      configurable: true,
    });
}

const cutAt = new WeakMap<FormIndex, ReadonlyMap<RequestPart, readonly Pattern[]>>();

/** The patterns of fields that are declared so, by place. */
function cutFields(index: FormIndex): ReadonlyMap<RequestPart, readonly Pattern[]> {
  let known = cutAt.get(index);
  if (!known) {
    const patternsIn = (part: RequestPart): Pattern[] =>
      index.form.fields
        .filter((field) => field.in === part && field.trim)
        .map(({ pattern }) => pattern);
    known = new Map(
      FIELD_PLACES.flatMap((part) => {
        const patterns = patternsIn(part);
        return patterns.length === 0 ? [] : [[part, patterns] as const];
      }),
    );
    cutAt.set(index, known);
  }
  return known;
}

/**
 * Returns a request without the spaces around the texts of fields that are declared `trim`: this is
 * judged, reported and accepted. Where there is nothing to cut off, it is the request itself.
 */
export function trimmed<T extends { readonly [place in RequestPart]?: unknown }>(
  index: FormIndex,
  request: T,
): T {
  let changed = request;
  for (const [part, patterns] of cutFields(index)) {
    const places = new Occurrences(request[part], definitionsIn(index, part));
    const cut = patterns
      .flatMap((pattern) => places.of(pattern))
      .flatMap(({ path, value }) =>
        typeof value === 'string' && value.trim() !== value ? [[path, value.trim()] as const] : [],
      );
    if (cut.length === 0) continue;
    const whole = cut.find(([path]) => path.length === 0);
    const copy: unknown = whole ? whole[1] : structuredClone(request[part]);
    if (!whole) for (const [path, text] of cut) put(copy, path, text);
    changed = { ...changed, [part]: copy };
  }
  return changed;
}
