import type { Spot } from '../../core/origin.js';
import { afterString, offsetInLiteral } from './json-literal.js';

const [QUOTE, COMMA, COLON, SLASH, STAR] = [0x22, 0x2c, 0x3a, 0x2f, 0x2a];
const [OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT] = [0x5b, 0x5d, 0x7b, 0x7d];

/** Where what means something goes on, behind blanks and comments. */
function afterBlanks(text: string, from: number): number {
  let at = from;
  for (;;) {
    const unit = text.charCodeAt(at);
    if (unit <= 0x20 || unit === 0xfeff) at++;
    else if (unit === SLASH && text.charCodeAt(at + 1) === SLASH) {
      const end = text.slice(at).search(/[\r\n]/);
      at = end < 0 ? text.length : at + end;
    } else if (unit === SLASH && text.charCodeAt(at + 1) === STAR) {
      const end = text.indexOf('*/', at + 2);
      at = end < 0 ? text.length : end + 2;
    } else return at;
  }
}

/** An object or list with fewer values is looked through. */
const MANY = 16;

/** The numbers kept of each value: a file has thousands, and hundreds of files are asked. */
const [KEY, FROM, KIND, INNER, NEXT, SIZE] = [0, 1, 2, 3, 4, 5];
/** The kinds of values. */
const [SCALAR, LIST, OBJECT] = [0, 1, 2];
const NONE = -1;
const ROOT = 0;

/**
 * The values of a JSON text by number: the outermost is 0, and each stands behind what holds it.
 */
class Values {
  private numbers = new Int32Array(64 * SIZE);
  private count = 0;
  /** What objects and lists with many values hold, for those that were asked. */
  private readonly held = new Map<number, readonly number[]>();
  private readonly byName = new Map<number, ReadonlyMap<string, number>>();

  constructor(private readonly text: string) {
    this.scan();
  }

  get isEmpty(): boolean {
    return this.count === 0;
  }

  private number(value: number, which: number): number {
    return this.numbers[value * SIZE + which] ?? NONE;
  }

  /** Where the member begins that a value is of; its own beginning where it is of none. */
  keyOf(value: number): number {
    return this.number(value, KEY);
  }

  /** Where a value begins. */
  startOf(value: number): number {
    return this.number(value, FROM);
  }

  isObject(value: number): boolean {
    return this.number(value, KIND) === OBJECT;
  }

  private add(key: number, from: number, kind: number): number {
    const at = this.count * SIZE;
    if (at === this.numbers.length) {
      const longer = new Int32Array(2 * at);
      longer.set(this.numbers);
      this.numbers = longer;
    }
    this.numbers.set([key, from, kind, NONE, NONE], at);
    return this.count++;
  }

  /**
   * Reads the text in one scan forward; what is broken ends it. However deep it is, nothing
   * descends.
   */
  private scan(): void {
    const { text } = this;
    /** The objects and lists around, and the last value in each. */
    const around: { readonly value: number; last: number }[] = [];
    let key = NONE;
    for (let at = afterBlanks(text, 0); at < text.length; at = afterBlanks(text, at)) {
      const unit = text.charCodeAt(at);
      const outer = around.at(-1);
      if (unit === COMMA) at++;
      else if (unit === CLOSE_OBJECT || unit === CLOSE_LIST) {
        around.pop();
        if (around.length === 0) return;
        at++;
      } else if (unit === QUOTE && key === NONE && outer && this.isObject(outer.value)) {
        key = at;
        const colon = afterBlanks(text, afterString(text, at));
        if (text.charCodeAt(colon) !== COLON) return;
        at = colon + 1;
      } else {
        const kind = unit === OPEN_OBJECT ? OBJECT : unit === OPEN_LIST ? LIST : SCALAR;
        const value = this.add(key === NONE ? at : key, at, kind);
        if (outer) {
          const before = outer.last === NONE ? outer.value : outer.last;
          this.numbers[before * SIZE + (outer.last === NONE ? INNER : NEXT)] = value;
          outer.last = value;
        }
        key = NONE;
        if (kind === SCALAR) {
          const start = at;
          if (unit === QUOTE) at = afterString(text, at);
          else while (at < text.length && /[^\s,\]}/]/.test(text.charAt(at))) at++;
          if (around.length === 0 || at === start) return;
        } else {
          around.push({ value, last: NONE });
          at++;
        }
      }
    }
  }

  /** Returns the values that an object or list holds. */
  private within(value: number): readonly number[] {
    const known = this.held.get(value);
    if (known) return known;
    const found: number[] = [];
    for (let one = this.number(value, INNER); one !== NONE; one = this.number(one, NEXT))
      found.push(one);
    if (found.length > MANY) this.held.set(value, found);
    return found;
  }

  /** Returns the name of a member, in the plainest way that JSON writes it. */
  private nameOf(member: number): string {
    const key = this.keyOf(member);
    return named(this.text.slice(key + 1, afterString(this.text, key) - 1));
  }

  element(value: number, at: number): number | undefined {
    return this.within(value)[at];
  }

  /** The member of a name, the `nth` of those that have it, from 0. */
  member(value: number, name: string, nth = 0): number | undefined {
    if (!this.isObject(value)) return undefined;
    const wanted = written(name);
    const members = this.within(value);
    if (nth > 0 || members.length <= MANY)
      return members.filter((one) => this.nameOf(one) === wanted)[nth];
    let byName = this.byName.get(value);
    if (!byName) {
      // Of equal names the first counts.
      byName = new Map(members.toReversed().map((one) => [this.nameOf(one), one]));
      this.byName.set(value, byName);
    }
    return byName.get(wanted);
  }
}

/** A name as JSON writes it, in the plainest way. */
const written = (name: string): string => JSON.stringify(name).slice(1, -1);

const named = (name: string): string => (name.includes('\\') ? (parsedName(name) ?? name) : name);

function parsedName(name: string): string | undefined {
  try {
    return written(JSON.parse(`"${name}"`) as string);
  } catch {
    return undefined;
  }
}

/**
 * Finds offsets of spots in the text of a JSON file; of what is not there, that of the nearest
 * thing around it.
 */
export function jsonLocator(text: string): (spot: Spot) => number {
  const values = new Values(text);
  return ({ keys, at, nth, offset }) => {
    if (values.isEmpty) return 0;
    let place = ROOT;
    for (const [depth, key] of keys.entries()) {
      const isLast = depth === keys.length - 1;
      const inner =
        (isLast && nth !== undefined ? values.member(place, String(key), nth) : undefined) ??
        (typeof key === 'number' && !values.isObject(place)
          ? values.element(place, key)
          : values.member(place, String(key)));
      // The key of the nearest enclosing thing is used where the key is meant.
      if (inner === undefined) return at === 'key' ? values.keyOf(place) : values.startOf(place);
      place = inner;
    }
    if (at === 'key' && keys.length > 0) return values.keyOf(place);
    const from = values.startOf(place);
    if (offset === undefined || text.charCodeAt(from) !== QUOTE) return from;
    return from + offsetInLiteral(text.slice(from, afterString(text, from)), offset);
  };
}
