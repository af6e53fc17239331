/** A list of which the entries are made one by one. */
export class Streamed {
  constructor(readonly entries: Iterable<unknown>) {}
}

const isStreamed = (value: unknown): boolean =>
  value instanceof Streamed ||
  (typeof value === 'object' &&
    value !== null &&
    !Array.isArray(value) &&
    Object.values(value).some(isStreamed)) ||
  (Array.isArray(value) && value.some(isStreamed));

const printed = (value: unknown, indent: string): string =>
  (JSON.stringify(value, undefined, 2) as string | undefined)?.replaceAll('\n', `\n${indent}`) ??
  'null';

/**
 * Yields the text of `JSON.stringify(value, undefined, 2)` in pieces; streamed parts are never in
 * memory as a whole.
 */
export function* jsonPieces(value: unknown, indent = ''): Generator<string> {
  const inner = `${indent}  `;
  if (!isStreamed(value)) yield printed(value, indent);
  else if (value instanceof Streamed || Array.isArray(value)) {
    let before = '[\n';
    for (const entry of value instanceof Streamed ? value.entries : (value as unknown[])) {
      yield before + inner;
      yield* jsonPieces(entry, inner);
      before = ',\n';
    }
    yield before === ',\n' ? `\n${indent}]` : '[]';
  } else {
    let before = '{\n';
    for (const [name, one] of Object.entries(value as object)) {
      if (one === undefined) continue;
      yield `${before}${inner}${JSON.stringify(name)}: `;
      yield* jsonPieces(one, inner);
      before = ',\n';
    }
    yield before === ',\n' ? `\n${indent}}` : '{}';
  }
}
