import {
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  anywhere,
  printPath,
  type Pattern,
} from '../../core/path/path.js';
import { toFragment, toPointer } from '../../core/path/pointer.js';

// Regular expressions (ECMA-262, as JSON Schema has them) for all paths that a pattern covers, in
// each way of writing.

const INDEX = '(?:0|[1-9][0-9]*)';

export const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');

function pointerOf(pattern: Pattern, write: (path: [string]) => string): string {
  return anywhere(pattern)
    .map((segment) => {
      if (segment === ANY_DEPTH) return '(?:/[^/]*)*';
      if (segment === ANY_ELEMENT) return `/${INDEX}`;
      if (segment === ANY_KEY) return '/[^/]*';
      return typeof segment === 'number' ? `/${segment}` : escaped(write([segment]));
    })
    .join('');
}

/** For pointers in a URI fragment: `#/targets/2/name`. */
export const fragmentRegex = (pattern: Pattern): string =>
  `^#${pointerOf(pattern, (path) => toFragment(path).slice(1))}$`;

/** For plain JSON Pointers, with what stands before each. */
export const pointerRegex = (pattern: Pattern, prefix = ''): string =>
  `^${escaped(prefix)}${pointerOf(pattern, toPointer)}$`;

const QUOTED_KEY = '\\["(?:[^"\\\\]|\\\\.)*"\\]';

/** For paths in our notation: `targets[2].name`. */
export function pathRegex(declared: Pattern): string {
  const pattern = anywhere(declared);
  let regex = '';
  for (const [at, segment] of pattern.entries()) {
    const first = at === 0 || pattern[at - 1] === ANY_DEPTH;
    if (segment === ANY_DEPTH) regex += '.*';
    else if (segment === ANY_ELEMENT) regex += `\\[${INDEX}\\]`;
    else if (segment === ANY_KEY)
      regex += `(?:${first ? '' : '\\.'}[^.\\[\\]"'*\\s]+|${QUOTED_KEY})`;
    else {
      const written = printPath([segment]);
      const bare = typeof segment === 'string' && !written.startsWith('[');
      const inDepth = at > 0 && pattern[at - 1] === ANY_DEPTH;
      regex += (bare && at > 0 ? (inDepth ? '\\.?' : '\\.') : '') + escaped(written);
    }
  }
  return `^${regex}$`;
}

/** For the names of parameters, with what is inside of them: `tags.0`, `filter.from`. */
export function nameRegex(pattern: Pattern): string {
  const segments = pattern.map((segment) => {
    if (segment === ANY_ELEMENT) return INDEX;
    return typeof segment === 'symbol' ? '.*' : escaped(String(segment));
  });
  return `^${segments.join('\\.')}$`;
}
