import {
  isSharedRoot,
  samplePath,
  type Path,
  type Pattern,
  type SharedRoot,
} from '../path/path.js';
import type { Form, RequestPart } from './form.js';

/**
 * A concrete path that a pattern of a part of the request matches, for samples; below a definition,
 * in a place where it stands.
 */
export function samplePathIn({ joins = [] }: Form, pattern: Pattern, part: RequestPart): Path {
  const around: Path[] = [];
  const passed = new Set<SharedRoot>();
  // From a definition to the place where it stands, which may be inside of another.
  let [root] = pattern;
  while (isSharedRoot(root) && !passed.has(root)) {
    passed.add(root);
    const own = joins.filter((join) => join.in === part && join.root === root);
    const at: Pattern =
      (
        own.find((join) => !isSharedRoot(join.pattern[0])) ??
        own.find((join) => !passed.has(join.pattern[0] as SharedRoot))
      )?.pattern ?? [];
    around.unshift(samplePath(at));
    [root] = at;
  }
  return [...around.flat(), ...samplePath(pattern)];
}
