import { getOrMake } from '../base/get-or-make.js';
import { keyOf, Memo, Room } from '../base/memo.js';
import { isSharedRoot, parsePath, PathSyntaxError, type Path, type Pattern } from '../path/path.js';
import { parsePointer, PointerSyntaxError } from '../path/pointer.js';
import { PatternTrie } from '../path/trie.js';
import type { Field, RequestPart, Form } from './form.js';

/** The memory for paths of one form, in bytes: a workspace has hundreds of forms. */
const MOST_REMEMBERED = 500_000;

/**
 * A form made ready for questions: what stands at a path, whether it is secret, in what order
 * things come.
 */
export class FormIndex {
  private readonly fields = new Map<RequestPart, PatternTrie<Field>>();
  /** Names in the order in which they are first declared, for places that only `..` reaches. */
  private readonly names = new Map<string, number>();
  /** Whether anything of the form is secret. */
  readonly anySecret: boolean;
  /** The names of secret fields: the last names of their patterns. */
  readonly secretNames: ReadonlySet<string>;
  /** Whether null and blank texts count as missing somewhere. */
  readonly anyBlank: boolean;
  /** Whether breaking some rule is a problem of the whole request. */
  readonly anyProblem: boolean;
  /** Names and places that some field's pattern names literally. */
  readonly literals: ReadonlySet<string | number>;
  /** The first segments of parameters' patterns: of the query, the path or a header. */
  private readonly parameters: ReadonlySet<Pattern[number] | undefined>;
  /** Names of headers as they are declared, by their names in small letters. */
  private readonly headers: ReadonlyMap<string, string>;
  /** Whether some such pattern begins with any name or place. */
  private readonly hasOpenParameters: boolean;
  private readonly room = new Room(MOST_REMEMBERED);
  private readonly known = new Map<RequestPart, Memo<boolean>>();
  private keys: ReadonlySet<string> | undefined;
  /** Fields that several speak for; there are as many as the form has places of definitions. */
  private readonly joined = new Map<string, Field>();

  constructor(readonly form: Form) {
    this.anySecret = form.fields.some((field) => field.secret);
    this.secretNames = new Set(
      form.fields.flatMap(({ secret, pattern }) =>
        secret ? (pattern.findLast((segment) => typeof segment === 'string') ?? []) : [],
      ),
    );
    this.parameters = new Set(form.fields.flatMap(beginningOf));
    this.headers = new Map(
      form.fields.flatMap(({ in: part, pattern: [first] }): [string, string][] =>
        part === 'header' && typeof first === 'string' ? [[first.toLowerCase(), first]] : [],
      ),
    );
    this.hasOpenParameters = [...this.parameters].some((first) => typeof first === 'symbol');
    this.anyBlank = form.fields.some(
      ({ blank, uses }) => blank === true && uses.some(({ rule }) => rule === 'required'),
    );
    this.anyProblem = form.fields.some(({ uses }) =>
      uses.some(({ problem }) => problem !== undefined),
    );
    this.literals = new Set(
      form.fields.flatMap(({ pattern }) =>
        pattern.filter((segment) => typeof segment !== 'symbol'),
      ),
    );
    for (const field of form.fields) {
      trieOf(this.fields, field.in).at(field.pattern, () => field);
      for (const segment of field.pattern)
        if (typeof segment === 'string' && !this.names.has(segment))
          this.names.set(segment, this.names.size);
    }
    for (const { pattern, in: part, root, isChoice } of form.joins ?? [])
      trieOf(this.fields, part).join(pattern, root, isChoice);
  }

  /** Whether any field uses a rule, by its own name or the use's. */
  hasRule(rule: string): boolean {
    this.keys ??= new Set(
      this.form.fields.flatMap(({ uses }) =>
        uses.flatMap((use) => (use.as === undefined ? [use.rule] : [use.rule, use.as])),
      ),
    );
    return this.keys.has(rule);
  }

  /**
   * The fields that speak for a place: of those whose patterns cover it the most literal, and those
   * of the definitions that stand there.
   */
  speaking(path: Pattern, part: RequestPart): readonly Field[] {
    const found = this.fields.get(part)?.matches(path) ?? [];
    if (found.length < 2) return found;
    const isOwn = ({ pattern }: Field): boolean =>
      pattern[0] === path[0] && pattern.length === path.length;
    return found.filter(
      (field, at) => at === 0 || (isSharedRoot(field.pattern[0]) && !isOwn(field)),
    );
  }

  /**
   * The field that stands at a path, with all that is said of it there: the most literal of those
   * whose pattern covers it, and what definitions say that stand there.
   */
  field(path: Pattern, part: RequestPart): Field | undefined {
    const [first, ...more] = this.speaking(path, part);
    if (!first || more.length === 0) return first;
    const key = keyOf(part, first.path, ...more.map((one) => one.path));
    return getOrMake(this.joined, key, () => togetherOf(first, more));
  }

  /**
   * The declared pattern that a path falls under, also where only something below it is declared.
   */
  declared(path: Pattern, part: RequestPart): Pattern | undefined {
    return this.fields.get(part)?.declared(path);
  }

  /**
   * Whether a path leads to something that the form declares, or to what is around it.
   * @throws {PathSyntaxError} when the text is not a path
   */
  knows(text: string, part: RequestPart): boolean {
    const known = getOrMake(this.known, part, () => new Memo<boolean>(this.room));
    return known.getOrMake(text, () => {
      const path = this.readPath(text, part);
      return path.length === 0 || this.declared(path, part) !== undefined;
    });
  }

  /** Whether a path may lead to a parameter, going by what it begins with. */
  mayBeParameter(path: Path): boolean {
    const first = path[0];
    if (this.hasOpenParameters || this.parameters.has(first)) return true;
    return typeof first === 'string' && this.headers.has(first.toLowerCase());
  }

  /**
   * How long the beginning of a path is that leads to something secret: all below that is secret as
   * well.
   */
  private secretFrom(path: Pattern, part: RequestPart): number | undefined {
    const fields = this.anySecret ? this.fields.get(part) : undefined;
    if (!fields) return undefined;
    for (let length = 0; length <= path.length; length++)
      if (fields.matches(path.slice(0, length)).some((field) => field.secret)) return length;
    return undefined;
  }

  /** Whether what stands at a path must never be shown: it is secret, or something around it is. */
  isSecretAt(path: Pattern, part: RequestPart): boolean {
    return this.secretFrom(path, part) !== undefined;
  }

  /**
   * The gate for what is shown of a value: whether a part of it must not be. Where a value is not
   * what the form declares, secrets stand at other places than declared, so inside of it the names
   * of secret fields decide too.
   * @param around the path of the value, with which the paths of its parts begin
   */
  gate(around: Path, part: RequestPart): ((path: Path) => boolean) | undefined {
    if (!this.anySecret) return undefined;
    return (path) => {
      if (this.isSecretAt(path, part)) return true;
      for (let at = around.length; at < path.length; at++) {
        const segment = path[at];
        if (typeof segment === 'string' && this.secretNames.has(segment)) return true;
      }
      return false;
    };
  }

  /**
   * A path as it may be shown: without the names that a client chose inside something secret, and
   * what is below them. The names that the form declares say nothing.
   */
  shownPath(path: Path, part: RequestPart): Path {
    const from = this.secretFrom(path, part);
    if (from === undefined) return path;
    for (let length = from; length < path.length; length++) {
      const declared = this.declared(path.slice(0, length + 1), part)?.at(-1);
      if (typeof path[length] === 'string' && declared !== path[length])
        return path.slice(0, length);
    }
    return path;
  }

  /**
   * Reads a path in our notation, or a JSON Pointer (it starts with `/`, `#/`, or is `#`); digits
   * in a pointer are a member's name where the form has no array there.
   * @throws {PathSyntaxError}
   */
  readPath(text: string, part: RequestPart): Path {
    if (!text.startsWith('/') && text !== '#' && !text.startsWith('#/'))
      return this.spelled(parsePath(text), part);
    let pointer: Path;
    try {
      pointer = parsePointer(text);
    } catch (error) {
      throw error instanceof PointerSyntaxError ? new PathSyntaxError(error.message, 0) : error;
    }
    const trie = this.fields.get(part);
    let layer = trie?.begin() ?? [];
    return this.spelled(pointer, part).map((segment) => {
      const further = trie?.step(layer, segment) ?? [];
      const named = further.length > 0 ? [] : (trie?.step(layer, String(segment)) ?? []);
      layer = named.length > 0 ? named : further;
      return named.length > 0 ? String(segment) : segment;
    });
  }

  /** A path with the name of a header as it is declared; it has no case (RFC 9110 section 5.1). */
  private spelled(path: Path, part: RequestPart): Path {
    const [name, ...inside] = path;
    const declared =
      part === 'header' && typeof name === 'string'
        ? this.headers.get(name.toLowerCase())
        : undefined;
    return declared === undefined ? path : [declared, ...inside];
  }

  /**
   * Numbers to sort violations by, so that they come as one reads the document: what a value itself
   * broke before what is inside it, rules as declared; what is not declared comes last.
   * @param rule the place of the broken use among the field's, from 0
   */
  rank(path: Path, part: RequestPart, rule: number): readonly number[] {
    const places = [...this.fields.keys()];
    const at = places.indexOf(part);
    const ranks = [at < 0 ? places.length : at];
    const trie = this.fields.get(part);
    let layer = trie?.begin() ?? [];
    for (const segment of path) {
      const declared = trie?.rank(layer, segment);
      ranks.push(
        typeof segment === 'number'
          ? segment
          : (declared ?? this.names.get(segment) ?? Number.MAX_SAFE_INTEGER),
      );
      layer = trie?.step(layer, segment) ?? [];
    }
    ranks.push(-1, rule);
    return ranks;
  }

  /**
   * Where a path passes definitions that recur, as patterns below them: the outermost first.
   * @param names without those of which one of several may stand at the place itself
   */
  aliases(path: Pattern, names = false): readonly Pattern[] {
    return [...this.fields.values()].flatMap((trie) => trie.aliases(path, names));
  }

  /** The pattern that is declared for a path, whatever part of the request it is in. */
  general(path: Pattern): Pattern | undefined {
    for (const trie of this.fields.values()) {
      const declared = trie.declared(path);
      if (declared) return declared;
    }
    return undefined;
  }

  /** A pattern that a rule of the field at a path names, its open segments those of the path. */
  filled(named: Pattern, path: Pattern, part: RequestPart): Pattern {
    const [root] = named;
    const own = isSharedRoot(root)
      ? this.speaking(path, part).find(({ pattern: [first] }) => first === root)?.pattern
      : undefined;
    const start = own ? path.length - own.length + 1 : 0;
    const below = own ? named.slice(1) : named;
    const filled = below.map((segment, at) =>
      typeof segment === 'symbol' ? (path[start + at] ?? 0) : segment,
    );
    return own ? [...path.slice(0, start), ...filled] : filled;
  }

  /** Returns the tree of recurring definitions; nothing where the form has none. */
  definitions(part: RequestPart): PatternTrie<Field> | undefined {
    return this.form.joins && this.fields.get(part);
  }
}

function togetherOf(first: Field, more: readonly Field[]): Field {
  const all = [first, ...more];
  const blank = all.find((field) => field.blank !== undefined)?.blank;
  const label = all.find((field) => field.label)?.label;
  return {
    ...first,
    uses: all.flatMap(({ uses }) => uses),
    optional: all.some(({ optional }) => optional),
    trim: all.some(({ trim }) => trim),
    secret: all.some(({ secret }) => secret),
    ...(blank === undefined ? {} : { blank }),
    ...(label === undefined ? {} : { label }),
  };
}

/** Returns the first segment of a parameter's path. */
const beginningOf = ({ in: part, pattern: [first] }: Field): (Pattern[number] | undefined)[] =>
  part === 'body' ? [] : [first];

function trieOf<T>(tries: Map<RequestPart, PatternTrie<T>>, part: RequestPart): PatternTrie<T> {
  return getOrMake(tries, part, () => new PatternTrie());
}

/** Compares two ranks: from the left, the shorter first where one begins the other. */
export function compareRanks(one: readonly number[], other: readonly number[]): number {
  const shared = Math.min(one.length, other.length);
  for (let at = 0; at < shared; at++) {
    const difference = (one[at] ?? 0) - (other[at] ?? 0);
    if (difference !== 0) return difference;
  }
  return one.length - other.length;
}
