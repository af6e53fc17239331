import { isObject, type LooseObject } from '../../core/reading.js';
import { isMultiple } from '../../core/rules/bounds.js';
import { firstTwins } from '../../core/rules/equality.js';
import { memberOf } from '../../core/rules/occurrences.js';
import { unevaluated, type Neighbours } from './evaluated.js';

/**
 * A failure of a keyword: its parameters, or the schema that a value breaks (`by`) and the member
 * (`at`) where it is not the value itself.
 */
export type Fault = LooseObject;

/** Says what is wrong with a value at a place. */
export type Judge = (value: unknown, pointer: string) => readonly Fault[];

/** A keyword of JSON Schema that is judged here, and not in the code that Ajv generates. */
type Keyword = (wanted: unknown, parent: LooseObject) => Judge;

/** The failures of a run so far. */
export interface Tally {
  /** Whether failures are wanted, or only whether there are any. */
  lists: boolean;
  /** The number of members that may still have failures; a client can send any number. */
  room: number;
  /** How many more break something. */
  more: number;
}

/** The surrounding schemas and the run, for keywords. */
export interface Around extends Neighbours {
  readonly tally: Tally;
  /** Whether what a reference leads to holds. */
  readonly refers: (reference: string) => (value: unknown, pointer: string) => boolean;
  /** Compiles a schema, for a keyword that will run it. */
  readonly prepare: (schema: unknown) => void;
}

/** A pointer one step further down. */
export const below = (pointer: string, at: string | number): string =>
  `${pointer}/${String(at).replaceAll('~', '~0').replaceAll('/', '~1')}`;

const listOf = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);
const namesOf = (value: unknown): readonly string[] => (isObject(value) ? Object.keys(value) : []);

/** The places of a list from one on. */
function* placesFrom(first: number, list: readonly unknown[]): Iterable<number> {
  for (let at = first; at < list.length; at++) yield at;
}

/** Whether a list has too many entries already: those are not looked at. */
const isTooLong = (list: readonly unknown[], { maxItems }: LooseObject): boolean =>
  typeof maxItems === 'number' && list.length > maxItems;

/** The keywords, by name; drafts that have one of them not leave it out. */
export function judgedKeywords(around: Around): ReadonlyMap<string, Keyword> {
  const { tally, isValid, prepare } = around;

  /** Goes through members; those past the bound are counted. */
  function each<T>(
    members: Iterable<T>,
    holds: (member: T) => boolean,
    fault: (member: T) => Fault,
  ): readonly Fault[] {
    const found: Fault[] = [];
    for (const member of members) {
      if (holds(member)) continue;
      if (tally.lists && tally.room === 0) {
        tally.more += 1;
        continue;
      }
      found.push(fault(member));
      if (!tally.lists) break;
      tally.room -= 1;
    }
    return found;
  }

  /** Holds members of a value against a schema. */
  const members = (
    value: unknown,
    pointer: string,
    at: Iterable<string | number>,
    by: unknown,
    fault = (one: string | number): Fault => ({ at: one, by }),
  ): readonly Fault[] =>
    by === true
      ? []
      : each(at, (one) => isValid(by, memberOf(value, one), below(pointer, one)), fault);

  /** The entries of a list behind those that have schemas of their own. */
  const entriesFrom = (first: number, wanted: unknown): Judge => {
    prepare(wanted);
    return (value, pointer) => {
      const list = listOf(value);
      if (wanted === false) return list.length > first ? [{ limit: first }] : [];
      return members(list, pointer, placesFrom(first, list), wanted);
    };
  };

  const branches = (wanted: unknown): ((value: unknown, pointer: string) => number[]) => {
    const all = listOf(wanted);
    for (const one of all) prepare(one);
    return (value, pointer) => all.flatMap((one, at) => (isValid(one, value, pointer) ? [at] : []));
  };

  const rest =
    (fault: (at: string | number) => Fault): Keyword =>
    (wanted, parent) => {
      prepare(wanted);
      return (value, pointer) => {
        const left = wanted === true ? [] : unevaluated(parent, value, pointer, around);
        const [first] = left;
        // A list that is looked at from its beginning has too many entries; else some of them have
        // no place in it.
        if (wanted === false && typeof first === 'number')
          if (listOf(value).length - first === left.length) return [{ limit: first }];
        return members(value, pointer, left, wanted, wanted === false ? fault : undefined);
      };
    };

  return new Map<string, Keyword>([
    [
      '$ref',
      (reference) => {
        const name = String(reference);
        const holds = around.refers(name);
        const by = around.definition(name);
        return (value, pointer) => (holds(value, pointer) ? [] : [{ by }]);
      },
    ],
    [
      'anyOf',
      (wanted) => {
        const passing = branches(wanted);
        return (value, pointer) => (passing(value, pointer).length > 0 ? [] : [{}]);
      },
    ],
    [
      'oneOf',
      (wanted) => {
        const passing = branches(wanted);
        return (value, pointer) => {
          const passingSchemas = passing(value, pointer);
          if (passingSchemas.length === 1) return [];
          return [passingSchemas.length > 1 ? { passingSchemas } : {}];
        };
      },
    ],
    [
      'not',
      (wanted) => {
        prepare(wanted);
        return (value, pointer) => (isValid(wanted, value, pointer) ? [{}] : []);
      },
    ],
    [
      'if',
      (condition, parent) => {
        for (const one of [condition, parent.then, parent.else]) prepare(one);
        return (value, pointer) => {
          const by = isValid(condition, value, pointer) ? parent.then : parent.else;
          return by === undefined || isValid(by, value, pointer) ? [] : [{ by }];
        };
      },
    ],
    [
      'contains',
      (wanted, { minContains: min = 1, maxContains: max }) => {
        prepare(wanted);
        const counts = around.version !== 'draft-07';
        const minContains = counts ? Number(min) : 1;
        const maxContains = counts && typeof max === 'number' ? max : undefined;
        return (value, pointer) => {
          const list = listOf(value);
          const actual = list.filter((one, at) => isValid(wanted, one, below(pointer, at))).length;
          return actual < minContains || (maxContains !== undefined && actual > maxContains)
            ? [{ minContains, maxContains, actual }]
            : [];
        };
      },
    ],
    [
      'items',
      (wanted, parent) => {
        const first = Array.isArray(wanted)
          ? wanted.map((one) => {
              prepare(one);
              return (value: unknown, pointer: string, at: number) =>
                members(value, pointer, [at], one);
            })
          : undefined;
        const judge = entriesFrom(listOf(parent.prefixItems).length, wanted);
        return (value, pointer) => {
          const list = listOf(value);
          if (isTooLong(list, parent)) return [];
          return first
            ? first.slice(0, list.length).flatMap((one, at) => one(list, pointer, at))
            : judge(value, pointer);
        };
      },
    ],
    [
      'additionalItems',
      (wanted, { items }) => {
        const judge = entriesFrom(listOf(items).length, wanted);
        return Array.isArray(items) ? judge : () => [];
      },
    ],
    [
      'patternProperties',
      (wanted) => {
        const patterns = isObject(wanted) ? Object.entries(wanted) : [];
        for (const [, by] of patterns) prepare(by);
        return (value, pointer) =>
          patterns.flatMap(([regex, by]) =>
            members(
              value,
              pointer,
              namesOf(value).filter((name) => around.matches(regex, name)),
              by,
            ),
          );
      },
    ],
    [
      'additionalProperties',
      (wanted, { properties, patternProperties }) => {
        prepare(wanted);
        const patterns = namesOf(patternProperties);
        const known = new Set(namesOf(properties));
        const fault = (name: unknown): Fault => ({ additionalProperty: name });
        return (value, pointer) =>
          members(
            value,
            pointer,
            namesOf(value).filter(
              (name) => !known.has(name) && !patterns.some((regex) => around.matches(regex, name)),
            ),
            wanted,
            wanted === false ? fault : undefined,
          );
      },
    ],
    [
      'propertyNames',
      (wanted) => {
        prepare(wanted);
        // Names have no place of their own.
        return (value, pointer) =>
          each(
            namesOf(value),
            (name) => isValid(wanted, name, pointer),
            (propertyName) => ({ propertyName }),
          );
      },
    ],
    ['unevaluatedItems', rest((at) => ({ at, by: false }))],
    ['unevaluatedProperties', rest((name) => ({ unevaluatedProperty: name }))],
    [
      // Ajv compares every entry with every other.
      'uniqueItems',
      (wanted, parent) => (value) => {
        const list = listOf(value);
        const twins = wanted && !isTooLong(list, parent) ? firstTwins(list) : undefined;
        return twins ? [{ i: twins[1], j: twins[0] }] : [];
      },
    ],
    [
      // Ajv divides, and 0.3 is not a multiple of 0.1 by that.
      'multipleOf',
      (step) => (value) => (isMultiple(Number(value), Number(step)) ? [] : [{ multipleOf: step }]),
    ],
  ]);
}
