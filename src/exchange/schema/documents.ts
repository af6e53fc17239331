import { getOrMake } from '../../core/base/get-or-make.js';
import path from 'node:path';
import type { Origin } from '../../core/origin.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import { DEFINITIONS, LIST, MAP, ONE } from './applicators.js';

/**
 * A schema that cannot be used as it stands: a reference that leads nowhere, say. One sentence, and
 * where.
 */
export class SchemaError extends Error {
  override name = 'SchemaError';
  constructor(
    message: string,
    readonly origin: Origin,
  ) {
    super(message);
  }
}

/**
 * Reads a file of the workspace by its name there; undefined where there is none, or it lies
 * outside.
 */
export type Load = (file: string) => { readonly root: unknown } | undefined;

/** A place in a document, and the URI that references there are relative to. */
export interface Where extends Origin {
  readonly base: string;
}

export interface Target {
  readonly node: unknown;
  readonly where: Where;
}

/** Keywords whose values are data; an `$id` in them names nothing. */
const DATA = new Set(['enum', 'const', 'default', 'examples', 'example']);

/** Keywords whose values refer to schemas. */
const REFERENCES = new Set(['$ref', '$dynamicRef', '$recursiveRef']);

const fileUri = (file: string): string =>
  `file:///${file.split('/').map(encodeURIComponent).join('/')}`;

const resolveUri = (reference: string, base: string): string | undefined => {
  try {
    return new URL(reference, base).href;
  } catch {
    return undefined;
  }
};

/** Text behind `#` as what it stands for; broken percent-encoding stays as it is. */
function decoded(fragment: string): string {
  try {
    return decodeURIComponent(fragment);
  } catch {
    return fragment;
  }
}

const NO_STOPS: ReadonlyMap<string, Target> = new Map();

type Member = readonly [keys: readonly (string | number)[], node: unknown];

function* everything(node: LooseObject): Generator<Member> {
  for (const [key, member] of Object.entries(node)) {
    if (DATA.has(key)) continue;
    if (Array.isArray(member)) for (const [at, one] of member.entries()) yield [[key, at], one];
    else yield [[key], member];
  }
}

/** The schemas that a schema holds. An `$id` anywhere else names nothing. */
function* schemasIn(node: LooseObject): Generator<Member> {
  for (const [key, member] of Object.entries(node)) {
    if (Array.isArray(member)) {
      if (LIST.has(key) || key === 'items')
        for (const [at, one] of member.entries()) yield [[key, at], one];
    } else if (ONE.has(key)) yield [[key], member];
    else if ((MAP.has(key) || DEFINITIONS.has(key) || key === 'dependencies') && isObject(member))
      for (const [name, one] of Object.entries(member)) yield [[key, name], one];
  }
}

/** Returns the references in a document, wherever they stand. */
function* referencesIn(root: unknown): Generator<string> {
  const waiting = [root];
  for (let node = waiting.pop(); node !== undefined; node = waiting.pop()) {
    if (typeof node !== 'object' || node === null) continue;
    for (const [key, member] of Object.entries(node))
      if (typeof member === 'object') waiting.push(member);
      else if (typeof member === 'string' && REFERENCES.has(key)) yield member;
    if (isObject(node) && isObject(node.mapping))
      for (const one of Object.values(node.mapping)) if (typeof one === 'string') yield one;
  }
}

/** A reference with a scheme; nothing is fetched. */
const REMOTE = /^[a-z][a-z0-9+.-]*:/i;

/** The name of the file that a reference leads to; it may be outside of the workspace. */
const fileReferred = (resource: string, from: string): string =>
  path.posix.join(path.posix.dirname(from), decoded(resource));

const leadsOut = (resource: string, file: string): boolean =>
  resource.startsWith('/') || file.startsWith('../');

/** Whether a document says that it is of draft 4 of JSON Schema. */
export const isDraft4 = (root: unknown): boolean =>
  isObject(root) && typeof root.$schema === 'string' && root.$schema.includes('draft-04/');

/**
 * The JSON documents of a workspace that schemas stand in, and what their references lead to (RFC
 * 3986, JSON Schema Core section 8).
 */
export class Documents {
  private readonly roots = new Map<string, Target>();
  private readonly ofDraft4 = new Set<string>();
  /** The roots of files that were loaded before anybody opened them. */
  private readonly ahead = new Map<string, unknown>();
  /** By absolute URI: whole resources (`$id`), and anchors in them (`…#name`). */
  private readonly named = new Map<string, Target>();
  /**
   * By a resource's URI, what references that hang on the way there may stop at (Core section
   * 8.2.3.2, and 8.2.4.2 of 2019-09): its `$dynamicAnchor`s by name, its root under the empty one
   * where it has `$recursiveAnchor`.
   */
  private readonly dynamic = new Map<string, Map<string, Target>>();

  constructor(private readonly load: Load) {}

  private rootOf(file: string): unknown {
    return this.ahead.has(file) ? this.ahead.get(file) : this.load(file)?.root;
  }

  /** The root of a document, read and indexed when it is first asked for. */
  open(file: string, known?: unknown): Target | undefined {
    const opened = this.roots.get(file);
    if (opened) return opened;
    const node = known === undefined ? this.rootOf(file) : known;
    if (node === undefined) return undefined;
    if (isDraft4(node)) this.ofDraft4.add(file);
    const target: Target = {
      node,
      where: { file, keys: [], base: this.baseOf(node, fileUri(file), file) },
    };
    this.roots.set(file, target);
    this.index(target);
    return target;
  }

  /**
   * Loads the files that the open documents refer to, wherever a reference stands, and what these
   * refer to. They are opened, and errors in them are reported, when a form needs them.
   */
  loadReferred(): void {
    const roots = Array.from(this.roots, ([file, { node }]) => ({ file, node }));
    const seen = new Set(this.roots.keys());
    for (let next = roots.pop(); next; next = roots.pop()) {
      for (const reference of referencesIn(next.node)) {
        const resource = reference.split('#', 1)[0] ?? '';
        const file = fileReferred(resource, next.file);
        if (resource === '' || REMOTE.test(resource) || leadsOut(resource, file)) continue;
        if (seen.has(file)) continue;
        seen.add(file);
        const node = this.loadedAhead(file);
        if (node !== undefined) roots.push({ file, node });
      }
    }
  }

  private loadedAhead(file: string): unknown {
    try {
      const node = this.load(file)?.root;
      if (node !== undefined) this.ahead.set(file, node);
      return node;
    } catch {
      // Perhaps no form needs the file; whoever opens it gets the error.
      return undefined;
    }
  }

  /** Returns the id of a schema; draft 4 has another keyword for it (draft 4, Core section 7.2). */
  private idOf(node: unknown, file: string): string | undefined {
    if (!isObject(node)) return undefined;
    const id = this.ofDraft4.has(file) ? node.id : node.$id;
    return typeof id === 'string' ? id : undefined;
  }

  /** The URI that references in a node of a file are relative to. */
  baseOf(node: unknown, outer: string, file: string): string {
    const id = this.idOf(node, file);
    return (id === undefined ? undefined : resolveUri(id, outer)?.replace(/#$/, '')) ?? outer;
  }

  private index(root: Target): void {
    // In an OpenAPI document schemas stand in many places; elsewhere only schemas hold schemas.
    const isOpenApi = isObject(root.node) && typeof root.node.openapi === 'string';
    const waiting = [root];
    for (let next = waiting.pop(); next; next = waiting.pop()) {
      const { node, where } = next;
      if (!isObject(node)) continue;
      const base = this.baseOf(node, where.base, where.file);
      const here: Target = { node, where: { ...where, base } };
      if (this.idOf(node, where.file) !== undefined || next === root) this.root(node, here);
      for (const anchor of [node.$anchor, node.$dynamicAnchor])
        if (typeof anchor === 'string') this.name(`${base}#${anchor}`, here);
      if (typeof node.$dynamicAnchor === 'string') this.stop(base, node.$dynamicAnchor, here);
      for (const [keys, member] of isOpenApi ? everything(node) : schemasIn(node))
        waiting.push({
          node: member,
          where: { file: where.file, keys: [...where.keys, ...keys], base },
        });
    }
  }

  private root(node: LooseObject, here: Target): void {
    this.name(here.where.base, here);
    if (node.$recursiveAnchor === true) this.stop(here.where.base, '', here);
  }

  private stop(base: string, name: string, target: Target): void {
    const stops = getOrMake(this.dynamic, base, () => new Map());
    if (!stops.has(name)) stops.set(name, target);
  }

  /** Returns the targets of dynamic references in a resource, by name. */
  stopsIn(base: string): ReadonlyMap<string, Target> {
    return this.dynamic.get(base) ?? NO_STOPS;
  }

  private name(uri: string, target: Target): void {
    if (!this.named.has(uri)) this.named.set(uri, target);
  }

  /**
   * Returns the target of a reference.
   * @throws {SchemaError} where that is nothing, or lies outside the workspace
   */
  resolve(reference: string, from: Where): Target {
    const hash = reference.indexOf('#');
    const resource = hash < 0 ? reference : reference.slice(0, hash);
    const fragment = hash < 0 ? '' : decoded(reference.slice(hash + 1));
    const root = this.resource(resource, from, reference);
    if (fragment === '') return root;
    if (!fragment.startsWith('/')) {
      const target = this.named.get(`${root.where.base}#${fragment}`);
      if (target) return target;
      throw this.failure(
        `"${reference}" names an anchor that is not there; correct its name`,
        from,
      );
    }
    return this.below(root, fragment, reference, from);
  }

  private resource(resource: string, from: Where, reference: string): Target {
    if (resource === '') {
      const here = this.named.get(from.base) ?? this.open(from.file);
      if (here) return here;
    }
    const uri = resolveUri(resource, from.base);
    const named = uri === undefined ? undefined : this.named.get(uri);
    if (named) return named;
    if (REMOTE.test(resource))
      throw this.failure(
        `"${reference}" is a remote reference, and nothing is fetched; put the file into the workspace and refer to it by its path`,
        from,
      );
    const file = fileReferred(resource, from.file);
    if (leadsOut(resource, file))
      throw this.failure(
        `"${reference}" is outside of the workspace; refer to files below zeitwort.yaml`,
        from,
      );
    const opened = this.open(file);
    if (opened) return opened;
    throw this.failure(
      `"${reference}" names ${file}, which is not in the workspace; correct the path`,
      from,
    );
  }

  private below(root: Target, pointer: string, reference: string, from: Where): Target {
    let { node } = root;
    let { base } = root.where;
    const keys = [...root.where.keys];
    for (const token of pointer.slice(1).split('/')) {
      const key = token.replaceAll('~1', '/').replaceAll('~0', '~');
      const at: string | number = Array.isArray(node) && /^\d+$/.test(key) ? Number(key) : key;
      const next: unknown = Array.isArray(node)
        ? (node as unknown[])[Number(at)]
        : isObject(node) && Object.hasOwn(node, key)
          ? node[key]
          : undefined;
      if (next === undefined)
        throw this.failure(
          `"${reference}" leads nowhere: there is no "${key}"; correct the reference`,
          from,
        );
      node = next;
      keys.push(at);
      base = this.baseOf(node, base, root.where.file);
    }
    return { node, where: { file: root.where.file, keys, base } };
  }

  private failure(sentence: string, { file, keys }: Where): SchemaError {
    return new SchemaError(`${sentence}.`, { file, keys: [...keys, '$ref'] });
  }
}
