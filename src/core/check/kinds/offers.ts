import type { Pattern } from '../../path/path.js';
import { isSharedRoot, samplePath } from '../../path/path.js';
import { placesOn } from '../../path/places.js';
import { FIELD_ARGUMENTS, VOCABULARY } from '../../rules/vocabulary.js';
import type { Row } from '../subject/context.js';

/** The arguments that every message of a field may use. */
export const FIELD_NAMES: ReadonlySet<string> = new Set(FIELD_ARGUMENTS.map(({ name }) => name));

/** The arguments of the arrays and maps on a field's path. */
export function placeArguments(pattern: Pattern): string[] {
  if (pattern.every((segment) => typeof segment === 'string')) return [];
  return placesOn(samplePath(pattern), isSharedRoot(pattern[0]) ? pattern.slice(1) : pattern).map((place) => place.argument);
}

/** The arguments that a message about a rule may use, wherever it is broken. */
export function ruleArguments(rule: string): string[] {
  return VOCABULARY.get(rule)?.arguments.map((one) => one.name) ?? [];
}

/** All arguments on offer to the message of a row; forms of labels are on offer whatever they are called. */
export function offersOf({ field, use }: Row): Set<string> {
  const compares = use.counterpart ? ['counterpart'] : [];
  return new Set([
    ...FIELD_NAMES,
    ...ruleArguments(use.rule),
    ...Object.keys(use.params),
    ...placeArguments(field.pattern),
    ...compares,
  ]);
}

/** Arguments that have grammatical forms, as names with something behind them. */
const WITH_FORMS = /^(?:has_)?(label|subject|counterpart|expected_words|format_words)_\w/;

/**
 * Whether a name is a grammatical form of a word that is on offer, asks whether there is one, or quotes what is on offer:
 * `label_genitive`, `has_label_genitive`, `name_quoted`.
 */
export function isFormOf(name: string, isOnOffer: (word: string) => boolean): boolean {
  const word = WITH_FORMS.exec(name)?.[1] ?? /^(.+)_quoted$/.exec(name)?.[1];
  return word !== undefined && isOnOffer(word);
}

/** Whether an argument is on offer to the message of a row: one of `offersOf`, or a form of one. */
export function isOffered(row: Row, name: string): boolean {
  const { field, use } = row;
  return (
    FIELD_NAMES.has(name) ||
    Object.hasOwn(use.params, name) ||
    ruleArguments(use.rule).includes(name) ||
    (name === 'counterpart' && use.counterpart !== undefined) ||
    placeArguments(field.pattern).includes(name) ||
    isFormOf(name, (word) => isOffered(row, word))
  );
}
