import type * as z from 'zod';
import { suggestion } from '../../core/text/closest.js';
import { described, isObject } from '../../core/reading.js';
import { keyed } from '../../core/base/keyed.js';

/** The fault of a value, in one sentence without its full stop, and its place. */
export interface Explanation {
  readonly keys: readonly (string | number)[];
  readonly at: 'key' | 'value';
  readonly sentence: string;
}

const NAMES: Record<string, string> = keyed({
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list',
  object: 'an object',
  record: 'an object',
});

function valueAt(root: unknown, keys: readonly (string | number)[]): unknown {
  return keys.reduce<unknown>((value, key) => {
    if (Array.isArray(value)) return (value as unknown[])[Number(key)];
    return isObject(value) && Object.hasOwn(value, key) ? value[key] : undefined;
  }, root);
}

/**
 * Puts the first issue of a Zod check into a sentence with a place.
 * @param known the keys that may stand in the object at a place, for suggestions
 */
export function explainIssue(
  error: z.ZodError,
  root: unknown,
  what: string,
  known: (keys: readonly (string | number)[]) => readonly string[],
): Explanation {
  const issue = error.issues[0];
  if (!issue) return { keys: [], at: 'value', sentence: `${what} is not what it should be` };
  const keys = issue.path.filter((key): key is string | number => typeof key !== 'symbol');
  const last = keys.at(-1);
  const name =
    last === undefined
      ? what
      : typeof last === 'number'
        ? `entry ${last + 1} of "${String(keys.at(-2) ?? what)}"`
        : `"${last}"`;
  const given = valueAt(root, keys);
  switch (issue.code) {
    case 'unrecognized_keys': {
      const [key = ''] = issue.keys;
      return {
        keys: [...keys, key],
        at: 'key',
        sentence: `${last === undefined ? what : name} has no key "${key}"${suggestion(key, known(keys))}`,
      };
    }
    case 'invalid_type': {
      const wanted = NAMES[issue.expected] ?? issue.expected;
      if (given === undefined)
        return {
          keys: keys.slice(0, -1),
          at: 'value',
          sentence: `${name} is missing; it is ${wanted}`,
        };
      return { keys, at: 'value', sentence: `${name} is ${wanted}, not ${described(given)}` };
    }
    case 'invalid_value': {
      const values = issue.values.map(String);
      return {
        keys,
        at: 'value',
        sentence: `${name} is one of ${values.join(', ')}, not ${described(given)}${suggestion(String(given), values)}`,
      };
    }
    default:
      return { keys, at: 'value', sentence: `${name}: ${issue.message}` };
  }
}

/** For a check that a process makes once: to compile it first would take longer than it saves. */
export const ONCE = { jitless: true } as const;
