import { keyed } from '../base/keyed.js';
import type { Locale } from '../locale/tag.js';
import { caseOf, selectedCase, type Arguments } from './compile.js';
import type { Case, CasesNode, Message } from './tree.js';

/** The choices that lead to a case of a message, from the outside. */
export type Way = readonly { readonly node: CasesNode; readonly at: Case }[];

/** The ways to the innermost cases of a message; the one that chooses nothing where it has none. */
export function waysIn(message: Message, around: Way = []): Way[] {
  const nodes = message.filter((node): node is CasesNode => 'cases' in node);
  if (nodes.length === 0) return [around];
  return nodes.flatMap((node) =>
    node.cases.flatMap((at) => waysIn(at.message, [...around, { node, at }])),
  );
}

/** The case that a value takes. */
function taken(node: CasesNode, value: unknown, locale: Locale): Case | undefined {
  if (node.kind === 'select') return selectedCase(node, value);
  return typeof value === 'number' ? caseOf(node, value, locale) : undefined;
}

/** Whether arguments take a way. */
export const isTaken = (way: Way, args: Arguments, locale: Locale): boolean =>
  way.every(({ node, at }) => taken(node, args[node.name], locale) === at);

/** Numbers among which there is one for each category of every language. */
const NUMBERS = [...Array.from({ length: 120 }, (_, at) => at), 1000, 1_000_000, 1.5];

/**
 * Arguments by which a way is taken.
 * @param mayBe whether an argument may have another value than it has
 * @returns nothing where one may not, or no value leads there
 */
export function argumentsTaking(
  way: Way,
  args: Arguments,
  locale: Locale,
  mayBe: (name: string) => boolean,
): Arguments | undefined {
  const changed: Record<string, unknown> = keyed({ ...args });
  for (const { node, at } of way) {
    if (taken(node, changed[node.name], locale) === at) continue;
    if (!mayBe(node.name)) return undefined;
    const values = node.kind === 'select' ? [at.selector] : [at.exactly ?? NaN, ...NUMBERS];
    const value = values.find((one) => taken(node, one, locale) === at);
    if (value === undefined) return undefined;
    changed[node.name] = value;
  }
  return isTaken(way, changed, locale) ? changed : undefined;
}
