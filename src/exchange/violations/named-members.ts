import type { Path } from '../../core/path/path.js';
import type { RuleUse } from '../../core/rules/form.js';
import { isGiven } from '../../core/rules/given.js';
import { memberOf, valueAt } from '../../core/rules/occurrences.js';
import type { Background } from './foreign.js';

/** The members of an object that the form declares with a rule. */
export function membersWith(
  { index }: Background,
  path: Path,
  rule: string,
): { name: string; use: RuleUse }[] {
  return (index?.form.fields ?? []).flatMap((field) => {
    const name = field.pattern.at(-1);
    if (field.in !== 'body' || typeof name !== 'string') return [];
    const use = field.uses.find((one) => one.rule === rule);
    return use && index?.field([...path, name], 'body')?.path === field.path ? [{ name, use }] : [];
  });
}

/** Whether an object of the payload has a member. */
export function hasMember({ payload }: Background, path: Path, name: string): boolean {
  return payload !== undefined && isGiven(memberOf(valueAt(payload.value, path), name));
}

/** Quotation marks, the closing one by the opening one. */
const QUOTES: ReadonlyMap<string, string> = new Map([
  ...['"', "'", '`'].map((mark) => [mark, mark] as const),
  ['“', '”'],
]);

/**
 * The words in quotes in a sentence: validators name members so. Read from the left in one pass,
 * marks without an end left out.
 */
export function quotedWords(sentence: string): readonly string[] {
  const words: string[] = [];
  const absent = new Set<string>();
  for (let at = 0; at < sentence.length; at++) {
    const mark = QUOTES.get(sentence.charAt(at));
    if (mark === undefined || absent.has(mark)) continue;
    const end = sentence.indexOf(mark, at + 1);
    if (end < 0) absent.add(mark);
    else if (end > at + 1) {
      words.push(sentence.slice(at + 1, end));
      at = end;
    }
  }
  return words;
}
