// How places in bodies are written, for the reader of bodies.

/** Where a value stands: names of members, and places of elements from 0. */
export type InputPath = readonly (string | number)[];

/** How paths are written: `targets.2.name`, `targets[2].name`, or `/targets/2/name`. */
export type PathStyle = 'dots' | 'brackets' | 'pointer';

const isIndex = (token: string): boolean => /^(?:0|[1-9]\d*)$/.test(token);

/** The path of a JSON Pointer, as a URI fragment or not. */
export function fromPointer(pointer: string): InputPath {
  let text = pointer;
  if (text.startsWith('#')) {
    text = text.slice(1);
    try {
      text = decodeURIComponent(text);
    } catch {
      // Then it is taken as it stands.
    }
  }
  if (!text.startsWith('/')) return [];
  return text
    .slice(1)
    .split('/')
    .map((token) => token.replaceAll('~1', '/').replaceAll('~0', '~'))
    .map((token) => (isIndex(token) ? Number(token) : token));
}

/** The path of our own notation: `targets[2].name`. */
export function fromNotation(text: string): InputPath {
  const path: (string | number)[] = [];
  for (const [, name, index, quoted] of text.matchAll(
    /([^.[\]"]+)|\[(\d+)\]|\[("(?:[^"\\]|\\.)*")\]/g,
  )) {
    if (name !== undefined) path.push(name);
    else if (index !== undefined) path.push(Number(index));
    else if (quoted !== undefined) {
      try {
        path.push(String(JSON.parse(quoted)));
      } catch {
        path.push(quoted);
      }
    }
  }
  return path;
}

/** Writes a path as a form library wants it. */
export function pathAs(path: InputPath, style: PathStyle = 'dots'): string {
  if (style === 'pointer')
    return path
      .map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`)
      .join('');
  if (style === 'dots') return path.map(String).join('.');
  return path
    .map((part, at) => (typeof part === 'number' ? `[${part}]` : at === 0 ? part : `.${part}`))
    .join('');
}
