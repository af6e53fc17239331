import { compileTree, saidOf, type Arguments } from '../message/compile.js';
import { argumentsTaking, isTaken, waysIn } from '../message/ways.js';
import type { Entry } from '../texts/entry.js';

/** So many examples say enough. */
const MOST = 12;

/**
 * Sentences that a message says, one for each case that it chooses from, as far as something leads
 * there.
 * @param given what its arguments may be, by where it is said: the first that leads to a case is
 * taken
 * @param mayBe whether an argument may have other values than these, such as a bound
 */
export function examplesOf(
  { tree, locale }: Pick<Entry, 'tree' | 'locale'>,
  given: readonly Arguments[],
  mayBe: (name: string) => boolean,
): string[] {
  const format = compileTree(tree, locale);
  const said = new Set<string>();
  for (const way of waysIn(tree)) {
    if (said.size === MOST) break;
    const args =
      given.find((one) => isTaken(way, one, locale)) ??
      firstOf(given, (one) => argumentsTaking(way, one, locale, mayBe));
    const { text, lacking } = args ? saidOf(format, args) : { text: '', lacking: '' };
    if (args && lacking === undefined) said.add(text);
  }
  return [...said];
}

function firstOf<T>(
  list: readonly Arguments[],
  make: (one: Arguments) => T | undefined,
): T | undefined {
  for (const one of list) {
    const made = make(one);
    if (made !== undefined) return made;
  }
  return undefined;
}

/** Whether an argument is a number of an element, which may be any. */
export const isNumberArgument = (name: string): boolean => /_number(?:_\d+)?$/.test(name);
