import { numberOf } from '../../core/text/outer.js';

/** One step: a name, digits, what stands in brackets, or what is quoted there. */
const STEP =
  /(?:^|\.)([^.[\]]+)|\[(\d+)\]|\[(?:"((?:[^"\\]|\\.)*)"|'((?:[^'\\]|\\.)*)')\]|\[([^[\]"']*)\]/gy;

/**
 * Segments of a dotted or bracketed place, such as `targets[2].name`, `targets.2.name`,
 * `$.targets[2]['name']`.
 */
function dotted(text: string): (string | number)[] | undefined {
  const rest = text.replace(/^\$(?=$|[.[])\.?/, '').replace(/^\./, '');
  const segments: (string | number)[] = [];
  STEP.lastIndex = 0;
  while (STEP.lastIndex < rest.length) {
    const step = STEP.exec(rest);
    if (!step) return undefined;
    const [, name, place, double, single, bare] = step;
    if (place !== undefined) segments.push(numberOf(place));
    else segments.push(name ?? (double ?? single)?.replace(/\\(.)/gs, '$1') ?? bare ?? '');
  }
  return segments;
}

/**
 * Where something stands, as validators of many languages write it: a list of segments (or of
 * objects with `key`, `name`, `property` or `index`), a JSON Pointer, or a dotted or bracketed
 * path.
 * @returns nothing where it is none of these
 */
export function readPlace(said: unknown): (string | number)[] | undefined {
  if (typeof said === 'number') return [said];
  if (typeof said === 'string') {
    const pointer = said.startsWith('#/') ? said.slice(1) : said;
    if (pointer === '#') return [];
    if (!pointer.startsWith('/')) return dotted(pointer);
    return pointer
      .slice(1)
      .split('/')
      .map((token) => token.replaceAll('~1', '/').replaceAll('~0', '~'));
  }
  if (!Array.isArray(said)) return undefined;
  const segments = (said as unknown[]).map((one): unknown => {
    if (typeof one !== 'object' || one === null) return one;
    const { key, name, property, index } = one as Readonly<Record<string, unknown>>;
    return key ?? name ?? property ?? index;
  });
  return segments.every((one) => typeof one === 'string' || typeof one === 'number')
    ? segments
    : undefined;
}
