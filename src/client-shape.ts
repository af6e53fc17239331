import { keyed } from './core/base/keyed.js';
// Reads bodies of a shape of one's own by its template, backwards: what stood in a place is taken
// out of it again.

type Loose = unknown;
type Bag = Readonly<Record<string, unknown>>;

/** The values in the places of one violation, of one field, or around them. */
export type Slots = Readonly<Record<string, unknown>>;

/** A body taken apart. */
export interface TakenApart {
  readonly answer: Slots;
  /** Each violation, or each field with all that was said about it. */
  readonly records: readonly Slots[];
}

const PLACE = /<([a-z][a-z-]*)(?:\("[^"]*"\))?>/g;
/** Whether a member may be left out: one placeholder alone, or a part for some answers only. */
const mayLack = (template: Loose): boolean =>
  typeof template === 'string'
    ? /^<[a-z-]+>$/.test(template)
    : isBag(template) && ('when' in template || SOME in template);
const SOME = 'unless-empty';
const isBag = (value: Loose): value is Bag =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

class Reader {
  readonly answer: Record<string, unknown> = {};
  readonly records: Slots[] = [];

  /** A text with places: what stands between its own words. */
  private text(template: string, value: Loose, into: Record<string, unknown>): boolean {
    const names = Array.from(template.matchAll(PLACE), ([, name = '']) => name);
    const [only] = names;
    if (only !== undefined && names.length === 1 && template.replace(PLACE, '') === '') {
      into[only] = value;
      return true;
    }
    if (names.length === 0) return template === value;
    if (typeof value !== 'string') return false;
    const words = template.split(PLACE).filter((_, at) => at % 2 === 0);
    const escaped = words.map((word) => word.replace(/[$()*+./?[\\\]^{|}-]/g, '\\$&'));
    const found = new RegExp(`^${escaped.join('(.*?)')}$`, 's').exec(value);
    for (const [at, name] of names.entries()) into[name] = found?.[at + 1];
    return found !== null;
  }

  private repeated({ key, node }: Bag, value: Loose): boolean {
    const one = (name: string | undefined, inner: Loose): boolean => {
      const record: Record<string, unknown> = keyed();
      if (name !== undefined && typeof key === 'string' && !this.text(key, name, record))
        return false;
      if (!this.read(node, inner, record)) return false;
      this.records.push(record);
      return true;
    };
    if (typeof key === 'string')
      return isBag(value) && Object.entries(value).every(([name, inner]) => one(name, inner));
    return Array.isArray(value) && value.every((inner: Loose) => one(undefined, inner));
  }

  /** A part for some answers only, what stands in for it, or parts that are joined to one list. */
  private some(
    { when, node, otherwise, join, with: between, [SOME]: some }: Bag,
    value: Loose,
    into: Record<string, unknown>,
  ): boolean | undefined {
    if (some !== undefined) return this.read(some, value, into);
    if (typeof when === 'string' && node !== undefined)
      return [node, otherwise].some((one) => one !== undefined && this.read(one, value, into));
    if (!Array.isArray(join)) return undefined;
    // Which part of a joined text is whose is not to be seen.
    if (between !== undefined) return typeof value === 'string';
    return (
      Array.isArray(value) &&
      value.every((one: Loose) =>
        join.some((part: Loose) =>
          isBag(part) && 'each' in part ? this.repeated(part, [one]) : this.read(part, one, into),
        ),
      )
    );
  }

  /** Whether a body, or a part of it, is as the template has it. */
  read(template: Loose, value: Loose, into: Record<string, unknown> = this.answer): boolean {
    if (typeof template === 'string') return this.text(template, value, into);
    if (Array.isArray(template))
      return (
        Array.isArray(value) && template.every((one: Loose, at) => this.read(one, value[at], into))
      );
    if (!isBag(template)) return template === value;
    if (typeof template.each === 'string') return this.repeated(template, value);
    const isSome = this.some(template, value, into);
    if (isSome !== undefined) return isSome;
    return (
      isBag(value) &&
      Object.entries(template).every(([name, one]) =>
        // What is spread into an object may be called anything.
        name in value ? this.read(one, value[name], into) : name === '...' || mayLack(one),
      )
    );
  }
}

/**
 * Takes a body apart by the template that it was made with; nothing where it was made otherwise.
 */
export function takenApart(template: Loose, value: Loose): TakenApart | undefined {
  const reader = new Reader();
  return reader.read(template, value)
    ? { answer: reader.answer, records: reader.records }
    : undefined;
}
