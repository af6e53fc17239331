import { getOrMake } from '../base/get-or-make.js';
import type { SharedRoot } from '../path/path.js';
import type { FormIndex } from './form-index.js';
import type { RequestPart } from './form.js';
import type { FindDefinitions, Occurrence } from './occurrences.js';

/**
 * Returns a function that finds the places of definitions in the value of a part of a request;
 * nothing where the form has no definitions.
 */
export function definitionsIn(index: FormIndex, part: RequestPart): FindDefinitions | undefined {
  const trie = index.definitions(part);
  if (!trie) return undefined;
  return (value, inner) => {
    const found = new Map<SharedRoot, Occurrence[]>();
    // Without recursion: clients choose the depth.
    const waiting = [{ place: { path: [], value } as Occurrence, layer: trie.begin() }];
    for (let next = waiting.pop(); next; next = waiting.pop()) {
      const { place, layer } = next;
      for (const { node } of layer)
        if (node.root) getOrMake(found, node.root, () => []).push(place);
      for (const one of inner(place).toReversed()) {
        const further = trie.step(layer, one.path.at(-1) ?? '');
        if (further.length > 0) waiting.push({ place: one, layer: further });
      }
    }
    return found;
  };
}
