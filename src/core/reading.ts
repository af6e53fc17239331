import type { FindingKind, Remark } from './finding.js';
import type { Origin, Spot } from './origin.js';

/** A value out of a file that was parsed, not yet known to have the form that it should. */
export type Loose = unknown;
export type LooseObject = Readonly<Record<string, unknown>>;

export function isObject(value: Loose): value is LooseObject {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

export function isTextList(value: Loose): value is readonly string[] {
  return Array.isArray(value) && value.every((one) => typeof one === 'string');
}

/** Describes a value in a sentence. */
export function described(value: Loose): string {
  if (value === null) return 'null';
  if (Array.isArray(value)) return 'a list';
  if (typeof value === 'object') return 'an object';
  return typeof value === 'number' || typeof value === 'boolean'
    ? String(value)
    : `"${typeof value === 'string' ? value : typeof value}"`;
}

const NOTHING: LooseObject = {};

/** Collects what is wrong in one file, with places; reading goes on with the rest. */
export class Reading {
  readonly remarks: Remark[] = [];
  constructor(readonly file: string) {}

  origin(keys: Origin['keys']): Origin {
    return { file: this.file, keys };
  }

  note(
    kind: FindingKind,
    keys: Origin['keys'],
    at: Spot['at'],
    message: string,
    about: Partial<Remark> = {},
  ): void {
    this.remarks.push({ kind, message, ...about, spot: { file: this.file, keys, at } });
  }

  wrongStructure(keys: Origin['keys'], at: Spot['at'], message: string): void {
    this.note('wrong-structure', keys, at, message);
  }

  /** Returns an object; for anything else, an empty one and a remark. */
  object(value: Loose, place: Pick<Origin, 'keys'>, what: string): LooseObject {
    if (isObject(value)) return value;
    if (value !== undefined)
      this.wrongStructure(place.keys, 'value', `${what} is an object, not ${described(value)}.`);
    return NOTHING;
  }

  /** The members of what should be an object. */
  members(value: Loose, keys: Origin['keys'], what: string): [string, Loose][] {
    return Object.entries(this.object(value, { keys }, what));
  }
}
