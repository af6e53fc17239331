import type { Spot } from '../../core/origin.js';

/** A value in the text of a JSON file, and where it stands. */
interface Node {
  /** Where the member begins that it is the value of; its own beginning where it is none. */
  readonly key: number;
  readonly from: number;
  /**
   * The names of its members, as they are written between the quotes, and what they hold; of a list
   * only the latter.
   */
  names?: string[];
  readonly inner: Node[];
  /** The first member of each name, made when somebody asks an object that has many. */
  byName?: Map<string, Node>;
}

const [QUOTE, BACKSLASH, COMMA, COLON, SLASH, STAR] = [0x22, 0x5c, 0x2c, 0x3a, 0x2f, 0x2a];
const [OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT] = [0x5b, 0x5d, 0x7b, 0x7d];

/** Where a string ends that begins at a quote: behind its closing quote, or at the end of all. */
export function afterString(text: string, open: number): number {
  let close = text.indexOf('"', open + 1);
  while (close > 0 && text.charCodeAt(close - 1) === BACKSLASH) {
    let slashes = 1;
    while (text.charCodeAt(close - 1 - slashes) === BACKSLASH) slashes++;
    if (slashes % 2 === 0) break;
    close = text.indexOf('"', close + 1);
  }
  return close < 0 ? text.length : close + 1;
}

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

/**
 * The places of all values of a JSON text, in one scan forward; what is broken ends it. However
 * deep it is, nothing descends.
 */
function scanned(text: string): Node | undefined {
  const around: Node[] = [];
  let root: Node | undefined;
  let key = -1;
  let name: string | undefined;
  for (let at = afterBlanks(text, 0); at < text.length; at = afterBlanks(text, at)) {
    const unit = text.charCodeAt(at);
    const outer = around.at(-1);
    if (unit === COMMA) at++;
    else if (unit === CLOSE_OBJECT || unit === CLOSE_LIST) {
      around.pop();
      if (around.length === 0) return root;
      at++;
    } else if (unit === QUOTE && outer?.names && name === undefined) {
      const end = afterString(text, at);
      [key, name] = [at, text.slice(at + 1, end - 1)];
      const colon = afterBlanks(text, end);
      if (text.charCodeAt(colon) !== COLON) return root;
      at = colon + 1;
    } else {
      const isObject = unit === OPEN_OBJECT;
      const place: Node = {
        key: name === undefined ? at : key,
        from: at,
        inner: [],
        ...(isObject ? { names: [] } : {}),
      };
      root ??= place;
      outer?.inner.push(place);
      if (name !== undefined) outer?.names?.push(name);
      name = undefined;
      if (isObject || unit === OPEN_LIST) {
        around.push(place);
        at++;
      } else {
        const start = at;
        if (unit === QUOTE) at = afterString(text, at);
        else while (at < text.length && /[^\s,\]}/]/.test(text.charAt(at))) at++;
        if (around.length === 0) return root;
        if (at === start) return root;
      }
    }
  }
  return root;
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

/** An object with fewer members is looked through. */
const MANY = 16;

/** The member of a name, the `nth` of those that have it. */
function member(place: Node, name: string, nth = 0): Node | undefined {
  const { names, inner } = place;
  if (!names) return undefined;
  const wanted = written(name);
  if (nth === 0 && names.length > MANY) {
    if (!place.byName) {
      place.byName = new Map();
      for (const [at, one] of names.entries()) {
        const value = inner[at];
        if (value && !place.byName.has(named(one))) place.byName.set(named(one), value);
      }
    }
    return place.byName.get(wanted);
  }
  let left = nth;
  for (let at = 0; at < names.length; at++)
    if (named(names[at] ?? '') === wanted && left-- === 0) return inner[at];
  return undefined;
}

/** Where in a JSON string literal, quotes included, the text's unit at `offset` is written. */
function offsetInLiteral(literal: string, offset: number): number {
  let at = 1;
  for (let unit = 0; unit < offset && at < literal.length - 1; unit++)
    at += literal[at] !== '\\' ? 1 : literal[at + 1] === 'u' ? 6 : 2;
  return at;
}

/**
 * Finds offsets of spots in the text of a JSON file; of what is not there, that of the nearest
 * thing around it.
 */
export function jsonLocator(text: string): (spot: Spot) => number {
  const root = scanned(text);
  return ({ keys, at, nth, offset }) => {
    if (!root) return 0;
    let place = root;
    for (const [depth, key] of keys.entries()) {
      const isLast = depth === keys.length - 1;
      const inner =
        (isLast && nth !== undefined ? member(place, String(key), nth) : undefined) ??
        (typeof key === 'number' && !place.names ? place.inner[key] : member(place, String(key)));
      // The key of the nearest enclosing thing is used where the key is meant.
      if (!inner) return at === 'key' ? place.key : place.from;
      place = inner;
    }
    if (at === 'key' && keys.length > 0) return place.key;
    if (offset === undefined || text.charCodeAt(place.from) !== QUOTE) return place.from;
    return (
      place.from + offsetInLiteral(text.slice(place.from, afterString(text, place.from)), offset)
    );
  };
}
