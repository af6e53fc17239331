import { getOrMake } from '../base/get-or-make.js';
import type { Path } from './path.js';

interface Node<T> {
  value?: T;
  below?: Map<string | number, Node<T>>;
}

/** Values by path, and by what paths begin with; each question takes time linear to its path. */
export class PathTree<T> {
  private readonly root: Node<T> = {};

  set(path: Path, value: T): void {
    let node = this.root;
    for (const segment of path) {
      node.below ??= new Map<string | number, Node<T>>();
      const next = getOrMake(node.below, segment, () => ({}));
      node = next;
    }
    node.value = value;
  }

  private at(path: Path): Node<T> | undefined {
    let node: Node<T> | undefined = this.root;
    for (const segment of path) if (!(node = node.below?.get(segment))) return undefined;
    return node;
  }

  get(path: Path): T | undefined {
    return this.at(path)?.value;
  }

  /** Whether there is a value below a path. */
  hasBelow(path: Path): boolean {
    return this.at(path)?.below !== undefined;
  }

  /** The value at the shortest beginning of a path that has one, or at itself. */
  first(path: Path): T | undefined {
    for (const [, value] of this.along(path)) return value;
    return undefined;
  }

  /**
   * The values at the beginnings of a path and at itself, the shortest first, each with its length.
   */
  *along(path: Path): Generator<[number, T]> {
    let node: Node<T> | undefined = this.root;
    for (let length = 0; node; length++) {
      if (node.value !== undefined) yield [length, node.value];
      const segment = path[length];
      node = segment === undefined ? undefined : node.below?.get(segment);
    }
  }
}
