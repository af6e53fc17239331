/** `[*]`: any element of an array. */
export const ANY_ELEMENT: unique symbol = Symbol('[*]');
/** `.*`: any key of a map. */
export const ANY_KEY: unique symbol = Symbol('.*');
/** `..`: any number of levels, none too; always followed by a selector. */
export const ANY_DEPTH: unique symbol = Symbol('..');

declare const SHARED: unique symbol;
/**
 * `Component::`: every place where a definition stands that recurs in a schema; only ever the first
 * segment.
 */
export type SharedRoot = symbol & { readonly [SHARED]: true };

/**
 * Where one value stands: names of members (text) and places of elements (from 0). The empty path
 * is the whole body.
 */
export type Path = readonly (string | number)[];
export type PatternSegment =
  string | number | typeof ANY_ELEMENT | typeof ANY_KEY | typeof ANY_DEPTH | SharedRoot;
/** A path in which segments may be open. Every path is a pattern. */
export type Pattern = readonly PatternSegment[];

/** The segment that stands for all places of a definition. The same name gives the same one. */
export const sharedRoot = (name: string): SharedRoot => Symbol.for(`${name}::`) as SharedRoot;

/** Whether a segment stands for the places of a definition. */
export const isSharedRoot = (segment: PatternSegment | undefined): segment is SharedRoot =>
  typeof segment === 'symbol' &&
  segment !== ANY_ELEMENT &&
  segment !== ANY_KEY &&
  segment !== ANY_DEPTH;

/**
 * Whether a pattern says what is below some place, wherever that is: it begins with `..` or with a
 * definition.
 */
export const isFloating = ([first, ...more]: Pattern): boolean =>
  (first === ANY_DEPTH || isSharedRoot(first)) && !more.includes(ANY_DEPTH);

/** A pattern that covers the same paths without naming a definition, and may cover more. */
export const anywhere = (pattern: Pattern): Exclude<PatternSegment, SharedRoot>[] =>
  pattern.map((segment) => (isSharedRoot(segment) ? ANY_DEPTH : segment));

/** Whether a pattern begins with all segments of another. */
export const startsWith = (path: Pattern, start: Pattern): boolean =>
  path.length >= start.length && start.every((segment, at) => path[at] === segment);

/** A text that is not a path; `offset` counts UTF-16 units from 0. */
export class PathSyntaxError extends Error {
  override name = 'PathSyntaxError';
  constructor(
    message: string,
    readonly offset: number,
  ) {
    super(message);
  }
}

/** No payload that is read is nested deeper. How long a name is, a client chooses. */
const DEEPEST = 200;

/** As much of a text as a sentence has room for. */
const excerpt = (text: string): string => (text.length > 80 ? `${text.slice(0, 80)}…` : text);

const BARE_NAME = /[^.[\]"'*\s\p{Cc}]+/uy;
/** The name of a definition, with the mark behind it. */
const ROOT = /[^[\]"'*\s\p{Cc}:]+::/uy;
const INDEX = /(?:0|[1-9]\d*)(?=\])/y;
/** As JSON writes texts: any character but the controls of C0 (RFC 8259 section 7). */
const QUOTED = /"(?:[^"\\\u0000-\u001f]|\\.)*"(?=\])/uy;

class Reader {
  at = 0;
  readonly segments: PatternSegment[] = [];
  /**
   * @param open whether segments may be open; what only a client wrote is not remembered as a
   * definition's name
   */
  constructor(
    readonly text: string,
    private readonly open: boolean,
  ) {}

  read(): Pattern {
    if (this.text === '') return [];
    const root = this.open ? this.take(ROOT) : undefined;
    if (root !== undefined) this.segments.push(Symbol.for(root) as SharedRoot);
    if (this.at < this.text.length && !'[.'.includes(this.text[this.at] ?? '')) this.name();
    while (this.at < this.text.length) {
      this.segment();
      if (this.segments.length > DEEPEST) this.fail(`it has more than ${DEEPEST} segments`);
    }
    return this.segments;
  }

  private segment(): void {
    if (this.text.startsWith('..', this.at)) {
      this.at += 2;
      this.segments.push(ANY_DEPTH);
      if (this.text[this.at] === '[') this.bracket();
      else this.name();
    } else if (this.text[this.at] === '.') {
      this.at += 1;
      this.name();
    } else this.bracket();
  }

  private name(): void {
    if (this.text[this.at] === '*' && this.segments.length + this.at > 0) {
      this.at += 1;
      this.segments.push(ANY_KEY);
    } else
      this.segments.push(
        this.take(BARE_NAME) ?? this.fail('expected a name; other names are written ["like this"]'),
      );
  }

  private bracket(): void {
    if (this.text[this.at] !== '[') this.fail('expected "." or "["');
    this.at += 1;
    if (this.text.startsWith('*]', this.at)) {
      this.at += 1;
      this.segments.push(ANY_ELEMENT);
    } else
      this.segments.push(
        this.index() ??
          this.quoted() ??
          this.fail('expected a place from 0, * or a name in double quotes, then "]"'),
      );
    this.at += 1;
  }

  private index(): number | undefined {
    const digits = this.take(INDEX);
    if (digits !== undefined && !Number.isSafeInteger(Number(digits)))
      this.fail('this place is too large');
    return digits === undefined ? undefined : Number(digits);
  }

  private quoted(): string | undefined {
    const start = this.at;
    const literal = this.take(QUOTED);
    if (literal === undefined) return undefined;
    try {
      return JSON.parse(literal) as string;
    } catch {
      this.at = start;
      return this.fail('a quoted name is written as a JSON string');
    }
  }

  private take(shape: RegExp): string | undefined {
    shape.lastIndex = this.at;
    const found = shape.exec(this.text)?.[0];
    this.at += found?.length ?? 0;
    return found;
  }

  private fail(reason: string): never {
    throw new PathSyntaxError(
      `"${excerpt(this.text)}" is not a path: ${reason} at character ${this.at + 1}`,
      this.at,
    );
  }
}

/**
 * Reads a path pattern such as `targets[*].name`, `extras.*`, `..children[*]` or `["odd.name"]`.
 * @throws {PathSyntaxError}
 */
export function parsePattern(text: string): Pattern {
  return new Reader(text, true).read();
}

/** Whether no segment is open. */
export function isPath(pattern: Pattern): pattern is Path {
  return pattern.every((segment) => typeof segment !== 'symbol');
}

/**
 * Reads a path such as `targets[2].exposures[0].seconds`.
 * @throws {PathSyntaxError} also where the text is a pattern
 */
export function parsePath(text: string): Path {
  const pattern = new Reader(text, false).read();
  if (isPath(pattern)) return pattern;
  throw new PathSyntaxError(
    `"${excerpt(text)}" is a pattern: name one element by its place, from 0`,
    text.search(/\*|\.\./),
  );
}

const WORD = /\w/;
const ONLY_BARE = /^[^.[\]"'*\s\p{Cc}]+$/u;

/**
 * Whether a name is written as it stands; two colons make the name of a definition of what is
 * before them.
 */
const isBare = (name: string): boolean => ONLY_BARE.test(name) && !name.includes('::');

/**
 * Whether a name is of letters, digits and low lines, as nearly all are; a loop, since this is
 * asked of every segment.
 */
function isWord(name: string): boolean {
  for (let at = 0; at < name.length; at++) {
    const unit = name.charCodeAt(at) | 0x20;
    if (!(unit >= 0x61 && unit <= 0x7a) && !WORD.test(name.charAt(at))) return false;
  }
  return name !== '';
}

/** Writes a path or pattern so that reading it gives the same again. */
export function printPath(pattern: Pattern): string {
  let text = '';
  for (let position = 0; position < pattern.length; position++) {
    const segment = pattern[position] ?? '';
    if (segment === ANY_ELEMENT) text += '[*]';
    else if (segment === ANY_DEPTH) text += '..';
    else if (typeof segment === 'number')
      // JSON has numbers that are no places; whoever takes one for a place gets a name.
      text += Number.isSafeInteger(segment) && segment >= 0 ? `[${segment}]` : `["${segment}"]`;
    else {
      const before = pattern[position - 1];
      const open = position === 0 || before === ANY_DEPTH || isSharedRoot(before);
      if (segment === ANY_KEY) text += open && position > 0 ? '*' : '.*';
      else if (typeof segment === 'symbol') text += segment.description ?? '';
      else if (isWord(segment) || isBare(segment)) text += (open ? '' : '.') + segment;
      else text += `[${JSON.stringify(segment)}]`;
    }
  }
  return text;
}

/** A path whose places and keys are open but for those that are named. */
export function opened(path: Pattern, isNamed: (segment: string | number) => boolean): Pattern {
  return path.map((segment) => {
    if (typeof segment === 'symbol' || isNamed(segment)) return segment;
    return typeof segment === 'number' ? ANY_ELEMENT : ANY_KEY;
  });
}

/**
 * A concrete path that the pattern matches, for samples: elements at the given place, keys called
 * after the map, no depth.
 */
export function samplePath(pattern: Pattern, place = 2): Path {
  return pattern.flatMap((segment): (string | number)[] => {
    if (segment === ANY_DEPTH || isSharedRoot(segment)) return [];
    if (segment === ANY_ELEMENT) return [place];
    return segment === ANY_KEY ? ['key'] : [segment];
  });
}
