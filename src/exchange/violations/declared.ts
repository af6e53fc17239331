import { getOrMake } from '../../core/base/get-or-make.js';
import { numberOf, wordOf } from '../../core/text/outer.js';
import { toPointer } from '../../core/path/pointer.js';
import { printPath, type Path } from '../../core/path/path.js';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import type { RequestPart, RuleUse } from '../../core/rules/form.js';
import { memberOf } from '../../core/rules/occurrences.js';
import { hasParameter } from '../../core/rules/parameter-names.js';
import { UNNAMED } from '../../core/rules/unnamed.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { ABOUT_MEMBERS } from '../../core/rules/about-members.js';
import type { Failure, RuleFailure } from '../keywords/failure.js';
import { ErrorListError, MOST_READ, unread, valueOf, type Background } from './foreign.js';
import { readPlace } from './place-text.js';
import { keyed } from '../../core/base/keyed.js';

/**
 * JSON Pointers (RFC 6901) of which the first counts that leads somewhere; `-1` is the last of a
 * list, `@key` a name.
 */
export type Pointers = string | readonly string[];

/**
 * The target of a name in a report: a rule, the first of several that the value breaks, or a rule
 * with more about it.
 */
export type RuleTarget =
  | string
  | readonly string[]
  | {
      readonly rule: string;
      readonly as?: string | undefined;
      readonly params?: Readonly<Record<string, unknown>> | undefined;
      /** A segment behind the path: the member that is missing. */
      readonly add?: string | number | undefined;
      /** The parameter that the last segment is, such as the name of a member of no use. */
      readonly last?: string | undefined;
      /**
       * Whether the form's own rules say where it is broken: at the entry's place, or at a member
       * there that the entry does not name.
       */
      readonly validate?: boolean | undefined;
    };

/** How the reports of a validator are laid out. All pointers but `entries` start at an entry. */
export interface ReaderDeclaration {
  /** A list, an object from paths to entries or to lists of them, or a single entry. */
  readonly entries?: Pointers | undefined;
  /** Entries inside an entry; their paths go on from its own. */
  readonly children?: Pointers | undefined;
  readonly path?:
    Pointers | { readonly at: Pointers; readonly drop?: readonly string[] | undefined } | undefined;
  readonly rule?:
    | Pointers
    | { readonly at: Pointers; readonly map?: Readonly<Record<string, RuleTarget>> | undefined }
    | undefined;
  /** Several rules of one entry: the names of an object's members, or the items of a list. */
  readonly rules?:
    | {
        readonly keys?: Pointers | undefined;
        readonly items?: Pointers | undefined;
        readonly map?: Readonly<Record<string, RuleTarget>> | undefined;
      }
    | undefined;
  readonly params?: Readonly<Record<string, Pointers>> | undefined;
  readonly value?: Pointers | undefined;
  readonly in?:
    | Pointers
    | { readonly at: Pointers; readonly map?: Readonly<Record<string, RequestPart>> | undefined }
    | undefined;
  /** Whether an entry without a rule takes what the form's own rules find at its place. */
  readonly validate?: boolean | undefined;
}

/** An entry, the name that it stands under, and the keys that lead to it. */
interface Entry {
  readonly value: Loose;
  readonly key: string | number | undefined;
  readonly keys: readonly (string | number)[];
  readonly path: Path;
  readonly in: RequestPart | undefined;
}

/** The names of parts of a request in many reports. */
const PARTS: Readonly<Record<string, RequestPart>> = keyed({
  body: 'body',
  json: 'body',
  payload: 'body',
  requestbody: 'body',
  form: 'body',
  query: 'query',
  querystring: 'query',
  search: 'query',
  searchparams: 'query',
  path: 'path',
  params: 'path',
  pathparameters: 'path',
  uri: 'path',
  header: 'header',
  headers: 'header',
});

/** Names are the same where only case and the signs between their words differ. */
const bare = (name: string): string => name.toLowerCase().replace(/[_\-\s]/g, '');

function byName<T>(map: Readonly<Record<string, T>>, name: string): T | undefined {
  if (Object.hasOwn(map, name)) return map[name];
  const wanted = bare(name);
  const found = Object.keys(map).find((one) => bare(one) === wanted);
  return found === undefined ? undefined : map[found];
}

/** A place that nobody names. */
const WHOLE = { segments: [], isWhole: true } as const;

const isList = (value: unknown): value is readonly unknown[] => Array.isArray(value);

/** Follows a pointer inside an entry. */
function follow(root: Loose, pointer: string, key: string | number | undefined): unknown {
  if (pointer === '@key') return key;
  if (pointer === '') return root;
  let value: unknown = root;
  for (const written of pointer.slice(1).split('/')) {
    const token = written.replaceAll('~1', '/').replaceAll('~0', '~');
    if (isList(value))
      value =
        token === '-1' ? value.at(-1) : /^\d+$/.test(token) ? value[numberOf(token)] : undefined;
    else value = memberOf(value, token);
    if (value === undefined) return undefined;
  }
  return value;
}

const pointersOf = (given: Pointers): readonly string[] =>
  typeof given === 'string' ? [given] : given;
const placed = (given: Pointers | { readonly at: Pointers }): Pointers =>
  typeof given === 'string' || isList(given) ? given : given.at;
interface Mapped<T> {
  readonly map?: Readonly<Record<string, T>> | undefined;
}
/** What the names at a place stand for. */
export const mapOf = <T>(given: Pointers | Mapped<T> | undefined): Readonly<Record<string, T>> =>
  given === undefined || typeof given === 'string' || isList(given) ? {} : (given.map ?? {});
const isNothing = (value: unknown): boolean => value === undefined || value === null;

/** A bound that is written as a text, as a number. */
const bound = (name: string, value: unknown): unknown =>
  /^(?:min|max|step)$/.test(name) &&
  typeof value === 'string' &&
  /^-?\d+(?:\.\d+)?$/.test(value.trim())
    ? numberOf(value)
    : value;

class DeclaredReader {
  private readonly found: Failure[] = [];
  /** What the form's own rules found for entries that do not name a member. */
  private readonly foundWithin = new Set<Failure>();
  private ownFindings: ReadonlyMap<string, readonly Failure[]> | undefined;

  constructor(
    private readonly declared: ReaderDeclaration,
    private readonly background: Background,
  ) {}

  private at(entry: Pick<Entry, 'value' | 'key'>, given: Pointers | undefined): unknown {
    if (given === undefined) return undefined;
    for (const pointer of pointersOf(given)) {
      const value = follow(entry.value, pointer, entry.key);
      if (!isNothing(value)) return value;
    }
    return undefined;
  }

  read(report: Loose): Failure[] {
    const { entries = '' } = this.declared;
    const pointer = pointersOf(entries).find((one) => !isNothing(follow(report, one, undefined)));
    const value = pointer === undefined ? undefined : follow(report, pointer, undefined);
    if (typeof value !== 'object' || pointer === undefined || value === null)
      throw new ErrorListError(
        `the report has no entries at ${pointersOf(entries).join(' or ') || 'its root'}`,
        [],
      );
    const keys = pointer === '' ? [] : pointer.slice(1).split('/');
    this.all(value, keys, this.background.prefix ?? [], this.background.in);
    return this.found;
  }

  /** Entries of a list or by their names, or the only one. */
  private all(
    value: unknown,
    keys: Entry['keys'],
    path: Path,
    part: RequestPart | undefined,
  ): void {
    const shared = { path, in: part };
    if (isList(value)) {
      for (const [at, one] of value.entries())
        this.entry({ value: one, key: at, keys: [...keys, at], ...shared });
    } else if (!isObject(value) || this.isEntry(value)) {
      this.entry({ value, key: undefined, keys, ...shared });
    } else {
      for (const [key, under] of Object.entries(value)) {
        // A list under a name that no pointer leads into is one of entries.
        if (isList(under))
          for (const [at, one] of under.entries())
            this.entry({ value: one, key, keys: [...keys, key, at], ...shared });
        else this.entry({ value: under, key, keys: [...keys, key], ...shared });
      }
    }
  }

  /** Whether an object is an entry itself, and no collection of them. */
  private isEntry(value: Loose): boolean {
    const { path, rule, rules, children, params = {} } = this.declared;
    const asked = [
      path && placed(path),
      rule && placed(rule),
      rules?.keys,
      rules?.items,
      children,
      ...Object.values(params),
    ];
    const written = asked.flatMap((one) =>
      one === undefined ? [] : pointersOf(one).filter((each) => each.startsWith('/')),
    );
    return written.some((pointer) => follow(value, pointer, undefined) !== undefined);
  }

  private entry(entry: Entry): void {
    if (this.found.length >= MOST_READ) {
      this.background.skip?.(1);
      return;
    }
    const part = this.part(entry) ?? entry.in;
    const { path, isWhole } = this.path(entry, part);
    const before = this.found.length;
    const children = this.at(entry, this.declared.children);
    const inside =
      typeof children === 'object' && children !== null && Object.keys(children).length > 0;
    const names = this.names(entry);
    const there = { ...entry, path, in: part };
    // Of what stands nowhere that can be read, no rule is true anywhere else.
    if (!isWhole) this.found.push(this.failure(there, UNNAMED, {}));
    else for (const name of names) this.found.push(...this.failures(there, name));
    // Whoever only holds others says nothing by itself.
    if (names.length === 0 && !inside && isWhole)
      this.found.push(...this.nameless(entry, path, part));
    this.background.trace?.({ at: toPointer(entry.keys), failures: this.found.slice(before) });
    if (inside) this.all(children, [...entry.keys, 'children'], path, part);
  }

  private part(entry: Entry): RequestPart | undefined {
    const { in: given } = this.declared;
    const said = given === undefined ? undefined : this.at(entry, placed(given));
    if (typeof said !== 'string') return undefined;
    return byName(mapOf(given), said) ?? byName(PARTS, said);
  }

  private path(
    entry: Entry,
    part: RequestPart | undefined,
  ): { readonly path: Path; readonly isWhole: boolean } {
    const { path: given } = this.declared;
    const said = given === undefined ? undefined : this.at(entry, placed(given));
    const drop =
      given !== undefined && typeof given !== 'string' && !isList(given)
        ? (given as { drop?: readonly string[] }).drop
        : [];
    const { segments, isWhole } = isNothing(said) ? WHOLE : readPlace(said);
    if (!isWhole)
      unread(this.background, `what should be a path is ${JSON.stringify(said)}`, entry.keys);
    const path = this.without(drop ?? [], segments, entry.path, part);
    return { path: this.meant(path, part), isWhole };
  }

  /**
   * Takes each of some names out of a path, where it first stands: at the beginning in any case,
   * inside of the path where the form has no such member there, as with the name of a variant.
   */
  private without(
    drop: readonly string[],
    segments: Path,
    around: Path,
    part: RequestPart | undefined,
  ): Path {
    const { index, in: whole = 'body' } = this.background;
    const left = new Set(drop);
    const kept: (string | number)[] = [...around];
    for (const segment of segments) {
      const word = wordOf(segment);
      const isMember = (): boolean =>
        kept.length > around.length &&
        index !== undefined &&
        index.knows(printPath(this.meant([...kept, segment], part)), part ?? whole);
      if (left.has(word) && !isMember()) left.delete(word);
      else kept.push(segment);
    }
    return kept;
  }

  /** Digits are a place in a list, unless the form or the payload has a member there. */
  private meant(path: readonly (string | number)[], part: RequestPart | undefined): Path {
    const { index, payload, in: whole = 'body' } = this.background;
    if (index && path.some((segment) => typeof segment === 'string' && /^\d+$/.test(segment)))
      return index.readPath(toPointer(path.map(wordOf)), part ?? whole);
    let value: unknown = payload?.value;
    return path.map((segment) => {
      const isPlace =
        typeof segment === 'string' &&
        /^(0|[1-9]\d*)$/.test(segment) &&
        (payload ? isList(value) : true);
      const meant = isPlace ? numberOf(segment) : segment;
      value = memberOf(value, meant);
      return meant;
    });
  }

  /** Returns the names of the rules in an entry. */
  private names(entry: Entry): string[] {
    const { rule, rules } = this.declared;
    const keys = rules?.keys === undefined ? undefined : this.at(entry, rules.keys);
    if (isObject(keys)) return Object.keys(keys);
    const items = rules?.items === undefined ? undefined : this.at(entry, rules.items);
    if (isList(items)) return items.filter((name) => typeof name === 'string');
    const said = rule === undefined ? undefined : this.at(entry, placed(rule));
    return typeof said === 'string' || typeof said === 'number' ? [wordOf(said)] : [];
  }

  private failures(entry: Entry, name: string): Failure[] {
    const { rule, rules } = this.declared;
    const target = byName({ ...mapOf(rule), ...mapOf(rules) }, name) ?? this.known(entry, name);
    if (target === undefined) {
      if (this.declared.validate) return this.nameless(entry, entry.path, entry.in);
      unread(this.background, `"${name}" stands for no rule; map it under "rule"`, entry.keys);
      return [this.failure(entry, UNNAMED, {})];
    }
    if (typeof target === 'string') return [this.ruled(entry, { rule: target })];
    if (isList(target)) return [this.ruled(entry, { rule: this.broken(entry, target) })];
    const own = target.validate ? this.within(entry, target.rule) : undefined;
    return own ?? [this.ruled(entry, target)];
  }

  /**
   * Returns the violations of one rule that the form's own rules find at a place and its members;
   * nothing where there are none. An entry for each of several members finds them all, once.
   */
  private within({ path, in: part }: Entry, rule: string): Failure[] | undefined {
    const asked = this.partOf(part);
    const found = [...this.byPlace().values()]
      .flat()
      .filter(
        (one) =>
          one.rule === rule &&
          this.partOf(one.in) === asked &&
          one.path.length - path.length < 2 &&
          printPath(one.path.slice(0, path.length)) === printPath(path),
      );
    if (found.length === 0) return undefined;
    return found.filter((one) => !this.foundWithin.has(one) && this.foundWithin.add(one));
  }

  /** A rule by its own name: one that the form declares there, else one of the vocabulary. */
  private known({ path, in: part }: Entry, name: string): RuleTarget | undefined {
    const { index, in: whole = 'body' } = this.background;
    const wanted = bare(name);
    const uses: readonly RuleUse[] = index?.field(path, part ?? whole)?.uses ?? [];
    const use =
      uses.find((one) => bare(one.as ?? one.rule) === wanted) ??
      uses.find((one) => bare(one.rule) === wanted);
    if (use) return { rule: use.rule, as: use.as };
    for (const id of VOCABULARY.keys()) if (bare(id) === wanted) return id;
    return undefined;
  }

  /**
   * Of several rules the one that the value breaks, as the form's own rules find; else the first
   * that the form declares.
   */
  private broken({ path, in: part }: Entry, rules: readonly string[]): string {
    const found = this.judged(path, part).map(({ rule }) => rule);
    const { index, in: whole = 'body' } = this.background;
    const declared = (index?.field(path, part ?? whole)?.uses ?? []).map(({ rule }) => rule);
    const pick = (among: readonly string[]): string | undefined =>
      rules.find((rule) => among.includes(rule));
    return pick(found) ?? pick(declared) ?? rules[0] ?? UNNAMED;
  }

  /**
   * Returns the violations of the form's own rules, by part of the request and path; they run once
   * for a report.
   */
  private byPlace(): ReadonlyMap<string, readonly Failure[]> {
    if (this.ownFindings) return this.ownFindings;
    const found = new Map<string, Failure[]>();
    for (const {
      path: text,
      in: part,
      rule,
      as,
      params = {},
      value,
    } of this.background.judge?.() ?? []) {
      const path = this.background.index?.readPath(text, this.partOf(part)) ?? [];
      const one: Failure = {
        path,
        rule,
        params,
        ...(as === undefined ? {} : { as }),
        ...(value === undefined ? {} : { value }),
        ...(part === undefined ? {} : { in: part }),
      };
      // Others report a member of no use at the member itself.
      const { name } = params;
      const isOfMember = ABOUT_MEMBERS.has(rule) && typeof name === 'string';
      for (const at of isOfMember ? [path, [...path, name]] : [path])
        getOrMake(found, this.placeOf(at, part), () => []).push(one);
    }
    return (this.ownFindings = found);
  }

  private partOf(part: RequestPart | undefined): RequestPart {
    return part ?? this.background.in ?? 'body';
  }

  private placeOf(path: Path, part: RequestPart | undefined): string {
    return `${this.partOf(part)} ${printPath(path)}`;
  }

  private judged(path: Path, part: RequestPart | undefined): readonly Failure[] {
    return this.byPlace().get(this.placeOf(path, part)) ?? [];
  }

  private nameless(entry: Entry, path: Path, part: RequestPart | undefined): Failure[] {
    const judged = this.declared.validate ? this.judged(path, part) : [];
    if (judged.length > 0) return [...judged];
    unread(this.background, 'an entry names no rule', entry.keys);
    return [this.failure({ ...entry, path, in: part }, UNNAMED, {})];
  }

  private ruled(entry: Entry, target: Exclude<RuleTarget, string | readonly string[]>): Failure {
    const { rule, as, params: more = {}, add, last } = target;
    const extra = Object.entries(this.declared.params ?? {}).flatMap(
      ([name, pointers]): [string, unknown][] => {
        const value = this.at(entry, pointers);
        return value === undefined || !hasParameter(rule, name) ? [] : [[name, bound(name, value)]];
      },
    );
    const path = add === undefined ? [...entry.path] : [...entry.path, add];
    const named = last === undefined ? undefined : path.pop();
    const failure = this.failure({ ...entry, path }, rule, {
      ...Object.fromEntries(extra),
      ...(last === undefined || named === undefined ? {} : { [last]: wordOf(named) }),
      ...more,
    });
    return as === undefined ? failure : { ...failure, as };
  }

  private failure(entry: Entry, rule: string, params: LooseObject): RuleFailure {
    const { path, in: part } = entry;
    const given = valueOf(this.background, path);
    const said = this.at(entry, this.declared.value);
    const value = 'value' in given || said === undefined ? given : { value: said };
    return {
      path,
      rule,
      params,
      ...value,
      ...(part === undefined ? {} : { in: part }),
    };
  }
}

/**
 * Reads a report as a declaration says.
 * @throws {ErrorListError} when it has no entries; with `strict`, when one cannot be read as it
 * stands
 */
export const fromDeclared = (
  declared: ReaderDeclaration,
  report: Loose,
  background: Background,
): Failure[] => new DeclaredReader(declared, background).read(report);
