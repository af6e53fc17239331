import { getOrMake } from '../base/get-or-make.js';
import {
  isSharedRoot,
  ANY_DEPTH,
  ANY_ELEMENT,
  ANY_KEY,
  type Pattern,
  type PatternSegment,
  type SharedRoot,
} from './path.js';

/** A place of the graph that patterns make, with how it is reached. */
interface Node<T> {
  /** How many siblings came before. */
  readonly nth: number;
  /** How many children there are, of any kind. */
  children: number;
  literal?: Map<string | number | SharedRoot, Node<T>>;
  element?: Node<T>;
  key?: Node<T>;
  /** Any number of levels further down. */
  depth?: Node<T>;
  /**
   * It goes on here as there too: the definitions that stand at this place, and whether each is one
   * of several that may.
   */
  leads?: Map<Node<T>, boolean>;
  /** Of the place where a definition begins. */
  root?: SharedRoot;
  isDepth?: true;
  value?: T;
}

const newNode = <T>(nth = 0): Node<T> => ({ nth, children: 0 });

/**
 * A node on the way through a path, and how it was reached: the segment that led there, as patterns
 * have it.
 */
interface Step<T> {
  readonly node: Node<T>;
  readonly segment?: PatternSegment;
  readonly before?: Step<T>;
  /**
   * Whether a definition was entered here that is one of several: what stands at the place need not
   * be that.
   */
  readonly isChoice?: boolean;
}

/** All nodes that a beginning of a path leads to, the most literal first. */
export type Layer<T> = readonly Step<T>[];

/**
 * Values kept by path pattern, found by path (or by a narrower pattern) without looking at the
 * others. Patterns make a graph: where a definition stands that recurs, it goes on as it does at
 * the definition.
 */
export class PatternTrie<T> {
  private readonly root: Node<T> = newNode();
  /** Whether two ways may lead to one node. */
  private isGraph = false;

  private node(pattern: Pattern): Node<T> {
    let node = this.root;
    for (const segment of pattern) {
      node = child(node, segment);
      if (segment === ANY_DEPTH) this.isGraph = true;
    }
    return node;
  }

  /** The value kept under exactly this pattern, made by `create` where there is none. */
  at(pattern: Pattern, create: () => T): T {
    return (this.node(pattern).value ??= create());
  }

  /**
   * Says that a definition stands at a pattern: what is kept below it is found below the pattern
   * too.
   * @param isChoice whether it is one of several that may stand there
   */
  join(pattern: Pattern, root: SharedRoot, isChoice = false): void {
    this.isGraph = true;
    const target = this.node([root]);
    target.root = root;
    const node = this.node(pattern);
    node.leads ??= new Map<Node<T>, boolean>();
    node.leads.set(target, isChoice && node.leads.get(target) !== false);
  }

  /**
   * All values whose patterns cover the path, most literal first: compared from the left, a name or
   * place comes before `[*]` and `.*`, these before `..` and what is said of a definition that
   * stands there. An open segment in the path is covered only by one that is as open.
   * @param names whether only what names the place itself is asked for, and not one of several
   * definitions that may stand there
   */
  matches(path: Pattern, names = false): T[] {
    const values: T[] = [];
    if (this.isGraph) {
      for (const { node, isChoice } of this.layer(path))
        if (node.value !== undefined && !(names && isChoice)) values.push(node.value);
    } else collect(this.root, path, 0, values);
    return values;
  }

  /** Where paths begin. */
  begin(): Layer<T> {
    return this.closed([{ node: this.root }]);
  }

  /**
   * Where this path begins: one that begins with a definition has no business with what stands at
   * the whole.
   */
  private beginFor([first]: Pattern): Layer<T> {
    return isSharedRoot(first) ? [{ node: this.root }] : this.begin();
  }

  /** One segment further. */
  step(layer: Layer<T>, segment: PatternSegment): Layer<T> {
    const next: Step<T>[] = [];
    for (const step of layer) {
      const { node } = step;
      const literal = literalOf(node, segment);
      const open = openOf(node, segment);
      if (literal) next.push({ node: literal, segment, before: step });
      if (open)
        next.push({
          node: open,
          segment: open === node.element ? ANY_ELEMENT : ANY_KEY,
          before: step,
        });
      // What `..` leaves out may be left out one level more.
      if (node.isDepth) next.push({ node, segment, before: step });
    }
    return this.closed(next);
  }

  private closed(steps: Layer<T>): Layer<T> {
    return this.isGraph ? closed(steps) : steps;
  }

  private layer(path: Pattern): Layer<T> {
    let layer = this.beginFor(path);
    for (const segment of path) if ((layer = this.step(layer, segment)).length === 0) break;
    return layer;
  }

  /**
   * The first pattern that leads to something, or to what is around it; nothing where none does.
   */
  declared(path: Pattern): Pattern | undefined {
    const first = this.layer(path).find(({ node }) => !node.isDepth || path.at(-1) === ANY_DEPTH);
    return first && patternOf(first);
  }

  /**
   * Where a path passes definitions, as patterns below them: the outermost first.
   * @param names as of `matches`
   */
  aliases(path: Pattern, names = false): Pattern[] {
    if (!this.isGraph) return [];
    const layers: Layer<T>[] = [this.beginFor(path)];
    for (const segment of path) {
      const next = this.step(layers.at(-1) ?? [], segment);
      if (next.length === 0) return [];
      layers.push(next);
    }
    // From the end: only what leads on counts.
    let further: ReadonlySet<Node<T>> | undefined;
    const found: Pattern[] = [];
    for (let at = path.length; at >= 0; at--) {
      const layer =
        names && at === path.length ? layers[at]?.filter(({ isChoice }) => !isChoice) : layers[at];
      const here = leadingOn(layer ?? [], path[at], further);
      for (const { root } of [...here].reverse())
        // What begins with the definition is its own name already.
        if (root !== undefined && !(at === 1 && path[0] === root))
          found.unshift([root, ...path.slice(at)]);
      further = here;
    }
    return found;
  }

  /** A number for what a segment leads to among its siblings; nothing where it leads nowhere. */
  rank(layer: Layer<T>, segment: PatternSegment): number | undefined {
    // A definition has all its members in order, and so has what is said of every element; what is
    // said of one place of it has some of them.
    const nodes = layer.map(({ node }) => node).filter(({ isDepth }) => !isDepth);
    const ordered = [
      ...nodes.filter(({ root }) => root !== undefined),
      ...nodes.filter(({ root }) => root === undefined).reverse(),
    ];
    for (const [at, node] of ordered.entries()) {
      const found = literalOf(node, segment) ?? openOf(node, segment);
      if (found) return at * MOST_SIBLINGS + found.nth;
    }
    return undefined;
  }
}

/** No object has as many members. */
const MOST_SIBLINGS = 100_000;

const literalOf = <T>(node: Node<T>, segment: PatternSegment): Node<T> | undefined =>
  segment === ANY_ELEMENT || segment === ANY_KEY || segment === ANY_DEPTH
    ? undefined
    : node.literal?.get(segment);

/** The child for any place, or for any key, where the segment is such. */
function openOf<T>(node: Node<T>, segment: PatternSegment): Node<T> | undefined {
  if (typeof segment === 'number' || segment === ANY_ELEMENT) return node.element;
  return typeof segment === 'string' || segment === ANY_KEY ? node.key : undefined;
}

/**
 * The nodes of a layer that lead to one of the next; of the last one, where nothing is said, all.
 */
function leadingOn<T>(
  layer: Layer<T>,
  segment: PatternSegment | undefined,
  further: ReadonlySet<Node<T>> | undefined,
): Set<Node<T>> {
  const nodes = layer.map(({ node }) => node);
  if (segment === undefined || !further) return new Set(nodes);
  const leading = new Set(
    nodes.filter((node) =>
      [literalOf(node, segment), openOf(node, segment), node.isDepth && node].some(
        (one) => one && further.has(one),
      ),
    ),
  );
  // What goes on as another does leads on where that does; definitions may stand in a circle.
  for (let before = -1; before < leading.size;) {
    before = leading.size;
    for (const node of nodes)
      if ([...(node.leads?.keys() ?? []), node.depth].some((one) => one && leading.has(one)))
        leading.add(node);
  }
  return new Set(nodes.filter((node) => leading.has(node)));
}

/**
 * With all that needs no segment to be reached: `..` that stands for no level, and definitions.
 * Each node once.
 */
function closed<T>(steps: readonly Step<T>[]): Layer<T> {
  const seen = new Set<Node<T>>();
  const all: Step<T>[] = [];
  const enter = (step: Step<T>): void => {
    const { node } = step;
    if (seen.has(node)) return;
    seen.add(node);
    all.push(step);
    for (const [lead, isChoice] of node.leads ?? [])
      enter({ ...step, node: lead, isChoice: isChoice || step.isChoice === true });
    if (node.depth) enter({ ...step, node: node.depth });
  };
  for (const step of steps) enter(step);
  return all;
}

function patternOf<T>(last: Step<T>): Pattern {
  const segments: PatternSegment[] = [];
  for (let step: Step<T> | undefined = last; step?.segment !== undefined; step = step.before)
    segments.push(step.segment);
  return segments.reverse();
}

/** Collects where no pattern has `..` and nothing recurs: no two ways lead to one node. */
function collect<T>(node: Node<T>, path: Pattern, at: number, values: T[]): void {
  const segment = path[at];
  if (segment === undefined) {
    if (node.value !== undefined) values.push(node.value);
    return;
  }
  const literal = literalOf(node, segment);
  if (literal) collect(literal, path, at + 1, values);
  const open = openOf(node, segment);
  if (open) collect(open, path, at + 1, values);
}

function child<T>(node: Node<T>, segment: PatternSegment): Node<T> {
  const made = (): Node<T> => newNode<T>(node.children++);
  if (segment === ANY_ELEMENT) return (node.element ??= made());
  if (segment === ANY_KEY) return (node.key ??= made());
  if (segment === ANY_DEPTH) return (node.depth ??= { ...made(), isDepth: true });
  const literal = (node.literal ??= new Map<string | number | SharedRoot, Node<T>>());
  return getOrMake(literal, segment, made);
}
