import { keyed } from '../base/keyed.js';

/** The fault of an expression, by the engine's words behind its last colon. */
const REASONS: Readonly<Record<string, string>> = keyed({
  "unmatched ')'": 'a ")" closes no group',
  '\\ at end of pattern': 'it ends with a single backslash',
  'lone quantifier brackets': 'a "{", "}" or "]" stands alone; write a backslash before it',
  'invalid named capture referenced': 'it refers to a group that it does not have',
  'nothing to repeat': 'there is nothing that this could repeat',
  'unterminated group': 'a group is not closed',
  'numbers out of order in {} quantifier': 'the first number of a repetition is the larger one',
  'incomplete quantifier': 'a repetition is not complete',
  'invalid group': 'this begins no group that there is',
  'duplicate capture group name': 'two groups have one name',
  'invalid escape': 'this character may have no backslash',
  'invalid property name': 'there is no such property of characters',
  'invalid named reference': 'this refers to no group',
  'unterminated character class': 'a class of characters, "[", is not closed',
  'invalid character in character class': 'this may not stand in a class of characters',
  'invalid character class': 'this is not a class of characters',
  'range out of order in character class': 'the first character of a range comes after the last',
  'invalid capture group name': 'this is not a name of a group',
  'invalid unicode escape': 'this is not a character by its number',
});

/** What other dialects write, and ECMA-262 in place of it. */
const FOREIGN: Readonly<Record<string, string>> = keyed({
  '\\A': 'write ^',
  '\\Z': 'write $',
  '\\z': 'write $',
  '\\h': 'write [ \\t]',
  '\\R': 'write (?:\\r\\n|[\\n\\r])',
  '(?P<': 'write (?<',
  '(?P=': 'write \\k<name>',
  '(?>': 'write (?:',
  '[:alpha:]': 'write \\p{L}',
  '[:digit:]': 'write \\d',
  '[:alnum:]': 'write \\p{L}\\p{N}',
  '[:space:]': 'write \\s',
  '[:upper:]': 'write \\p{Lu}',
  '[:lower:]': 'write \\p{Ll}',
  '[:punct:]': 'write \\p{P}',
  '[:xdigit:]': 'write 0-9A-Fa-f',
});

const REPEATED = /^[*+?}]\+$/;
const FLAGS = /^\(\?[a-zA-Z-]+[:)]$/;
const PARTS = /\\[^]|\(\?P[<=]|\(\?>|\(\?[imsxuUa-]+[:)]|[*+?}]\+|\[:\^?[a-z]+:\]/g;

/**
 * Returns the part of an expression that another dialect has and ECMA-262 has not, and what to
 * write in place of it; nothing where there is none, or the expression is one of ECMA-262.
 */
export function foreignPart(source: string): string | undefined {
  if (reasonOf(source) === undefined) return undefined;
  for (const [part] of source.matchAll(PARTS)) {
    const remedy = REPEATED.test(part)
      ? `write ${part.charAt(0)}`
      : FLAGS.test(part)
        ? 'write out what the flags stand for, such as [Aa]'
        : FOREIGN[part];
    if (remedy !== undefined) return `${part} is of another dialect; ${remedy}`;
  }
  return undefined;
}

/** So much of an expression is looked through for the place; it takes the square of it. */
const MOST = 500;

function reasonOf(source: string): string | undefined {
  try {
    new RegExp(source, 'u');
    return undefined;
  } catch (error) {
    const { message } = error as Error;
    return message.slice(message.lastIndexOf(': ') + 2).toLowerCase();
  }
}

/**
 * Returns why a text is not a regular expression (ECMA-262, flag `u`), and where, in UTF-16 units
 * from 1; nothing where it is one.
 */
export function regexTrouble(source: string): string | undefined {
  const reason = reasonOf(source);
  if (reason === undefined) return undefined;
  const fault = foreignPart(source) ?? REASONS[reason] ?? 'it cannot be read';
  if (source.length > MOST) return fault;
  // From there on every beginning of it is wrong for the same reason.
  let at = source.length;
  while (at > 1 && reasonOf(source.slice(0, at - 1)) === reason) at -= 1;
  return `${fault}, at character ${at}`;
}
