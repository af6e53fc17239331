import { RegExpSyntaxError, RegExpValidator } from '@eslint-community/regexpp';
import { keyed } from '../base/keyed.js';

/** What is wrong with an expression, by what the validator says behind its last colon. */
const REASONS: Readonly<Record<string, string>> = keyed({
  "Unmatched ')'": 'a ")" closes no group',
  '\\ at end of pattern': 'it ends with a single backslash',
  'Lone quantifier brackets': 'a "{", "}" or "]" stands alone; write a backslash before it',
  'Invalid named capture referenced': 'it refers to a group that it does not have',
  'Nothing to repeat': 'there is nothing that this could repeat',
  'Unterminated group': 'a group is not closed',
  'numbers out of order in {} quantifier': 'the first number of a repetition is the larger one',
  'Incomplete quantifier': 'a repetition is not complete',
  'Invalid group': 'this begins no group that there is',
  'Duplicate capture group name': 'two groups have one name',
  'Invalid escape': 'this character needs no backslash, and may have none',
  'Invalid property name': 'there is no such property of characters',
  'Invalid named reference': 'this refers to no group',
  'Unterminated character class': 'a class of characters, "[", is not closed',
  'Invalid character in character class': 'this may not stand in a class of characters',
  'Invalid character class': 'this is no class of characters',
  'Range out of order in character class': 'the first character of a range comes after the last',
  'Invalid capture group name': 'this is no name of a group',
  'Invalid unicode escape': 'this is no character by its number',
});

/**
 * What keeps a text from being a regular expression (ECMA-262, flag `u`), and where, in UTF-16
 * units from 1; nothing where it is one.
 */
export function regexTrouble(source: string): string | undefined {
  try {
    new RegExpValidator().validatePattern(source, 0, source.length, { unicode: true });
    return undefined;
  } catch (error) {
    if (!(error instanceof RegExpSyntaxError)) throw error;
    const reason = REASONS[error.message.slice(error.message.lastIndexOf(': ') + 2)];
    return `${reason ?? 'this is none'}, at character ${Math.min(error.index, source.length - 1) + 1}`;
  }
}
