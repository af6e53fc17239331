import { ANY_DEPTH, ANY_ELEMENT, ANY_KEY, type Pattern, type PatternSegment } from './path.js';

interface Node<T> {
  literal?: Map<string | number, Node<T>>;
  element?: Node<T>;
  key?: Node<T>;
  depth?: Node<T>;
  value?: T;
}

const newNode = <T>(): Node<T> => ({});

/** Values kept by path pattern, found by path (or by a narrower pattern) without looking at the others. */
export class PatternTrie<T> {
  private readonly root: Node<T> = newNode();
  private anyDepth = false;

  /** The value kept under exactly this pattern, made by `create` where there is none. */
  at(pattern: Pattern, create: () => T): T {
    let node = this.root;
    for (const segment of pattern) {
      node = child(node, segment);
      if (segment === ANY_DEPTH) this.anyDepth = true;
    }
    return (node.value ??= create());
  }

  /**
   * All values whose patterns cover the path, most literal first: compared from the left, a name or place comes before
   * `[*]` and `.*`, these before `..`. An open segment in the path is covered only by one that is as open.
   */
  matches(path: Pattern): T[] {
    if (!this.anyDepth) {
      const values: T[] = [];
      collect(this.root, path, 0, values);
      return values;
    }
    const found = new Set<T>();
    // Two ways that meet at one node with as much left to match go on alike, so each pair is gone into once.
    const seen = new Map<Node<T>, Set<number>>();
    const visit = (node: Node<T>, at: number): void => {
      const places = seen.get(node);
      if (places?.has(at)) return;
      if (places) places.add(at);
      else seen.set(node, new Set([at]));
      const segment = path[at];
      if (segment === undefined) {
        if (node.value !== undefined) found.add(node.value);
        return;
      }
      if (segment !== ANY_DEPTH) {
        for (const next of covering(node, segment)) visit(next, at + 1);
      }
      if (node.depth) for (let skipped = at; skipped < path.length; skipped++) visit(node.depth, skipped);
      if (node.depth && segment === ANY_DEPTH) visit(node.depth, at + 1);
    };
    visit(this.root, 0);
    return [...found];
  }
}

/** The same where no pattern has `..`: no two ways lead to one node. */
function collect<T>(node: Node<T>, path: Pattern, at: number, values: T[]): void {
  const segment = path[at];
  if (segment === undefined) {
    if (node.value !== undefined) values.push(node.value);
    return;
  }
  if (segment === ANY_DEPTH) return;
  const literal = typeof segment === 'symbol' ? undefined : node.literal?.get(segment);
  if (literal) collect(literal, path, at + 1, values);
  const open = typeof segment === 'number' || segment === ANY_ELEMENT ? node.element : node.key;
  if (open) collect(open, path, at + 1, values);
}

function covering<T>(node: Node<T>, segment: Exclude<PatternSegment, typeof ANY_DEPTH>): Node<T>[] {
  const literal = typeof segment === 'symbol' ? undefined : node.literal?.get(segment);
  const open = typeof segment === 'number' || segment === ANY_ELEMENT ? node.element : node.key;
  return [literal, open].filter((one) => one !== undefined);
}

function child<T>(node: Node<T>, segment: PatternSegment): Node<T> {
  if (segment === ANY_ELEMENT) return (node.element ??= newNode());
  if (segment === ANY_KEY) return (node.key ??= newNode());
  if (segment === ANY_DEPTH) return (node.depth ??= newNode());
  const literal = (node.literal ??= new Map<string | number, Node<T>>());
  let next = literal.get(segment);
  if (!next) literal.set(segment, (next = newNode()));
  return next;
}
