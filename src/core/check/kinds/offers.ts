import { comparedColumns } from '../../rules/row-conditions.js';
import { getOrMake } from '../../base/get-or-make.js';
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
  return placesOn(samplePath(pattern), isSharedRoot(pattern[0]) ? pattern.slice(1) : pattern).map(
    (place) => place.argument,
  );
}

/** The arguments that a message about a rule may use, wherever it is broken. */
export function ruleArguments(rule: string): string[] {
  return VOCABULARY.get(rule)?.arguments.map((one) => one.name) ?? [];
}

const offered = new WeakMap<Row, ReadonlySet<string>>();

/**
 * All arguments on offer to the message of a row; forms of labels are on offer whatever they are
 * called.
 */
export const offersOf = (row: Row): ReadonlySet<string> =>
  getOrMake(offered, row, () => {
    const { field, use } = row;
    const own = [
      ...ruleArguments(use.rule),
      ...Object.keys(use.params),
      ...comparedColumns(use.params),
      ...placeArguments(field.pattern),
    ];
    return new Set([...FIELD_NAMES, ...own, ...(use.counterpart ? ['counterpart'] : [])]);
  });

/** Arguments that have inflections, as names with something behind them. */
const WITH_FORMS = /^(?:has_)?(label|subject|counterpart|expected_words|format_words)_\w/;

/**
 * Whether a name is an inflection of a word that is on offer, asks whether there is one, or
 * quotes what is on offer: `label_genitive`, `has_label_genitive`, `name_quoted`.
 */
export function isFormOf(name: string, isOnOffer: (word: string) => boolean): boolean {
  const word = WITH_FORMS.exec(name)?.[1] ?? /^(.+)_quoted$/.exec(name)?.[1];
  return word !== undefined && isOnOffer(word);
}

/** Whether an argument is on offer to the message of a row: one of `offersOf`, or a form of one. */
export const isOffered = (row: Row, name: string): boolean =>
  offersOf(row).has(name) || isFormOf(name, (word) => isOffered(row, word));
