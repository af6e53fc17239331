import { parse, printParseErrorCode, visit, type ParseError } from 'jsonc-parser';
import { complaint } from '../disk/complaint.js';
import { refuseConflicts } from './conflict.js';
import { isYaml } from '../disk/files.js';
import { afterString } from './json-literal.js';
import { tooDeepAt } from '../../core/text/nesting.js';
import { positionAt } from './position.js';

/**
 * The greatest nesting. No person nests deeper, and the parser that reports errors is recursive.
 */
export const DEEPEST = 1000;
const TOO_DEEP = `it is nested deeper than ${DEEPEST} levels`;

const IN_JSON = 'a file like this is written in JSON, not in YAML; write it so, and name it .json';
const COMMENTS = { allowTrailingComma: true, allowEmptyContent: false };

/** The remedy for each error of the parser. */
const REMEDIES: Partial<Record<ReturnType<typeof printParseErrorCode>, string>> = {
  InvalidSymbol: 'this word is not JSON; put texts in double quotes',
  InvalidNumberFormat: 'this number is not written as JSON has it',
  PropertyNameExpected: 'a name in double quotes should stand here',
  ValueExpected: 'a value should stand here',
  ColonExpected: 'a colon should stand here',
  CommaExpected: 'a comma should stand here',
  CloseBraceExpected: 'a closing brace should stand here',
  CloseBracketExpected: 'a closing bracket should stand here',
  EndOfFileExpected: 'the text should end here',
  InvalidCommentToken: 'comments have no place in this file',
  UnexpectedEndOfComment: 'this comment does not end',
  UnexpectedEndOfString: 'this text does not end; close its double quotes',
  UnexpectedEndOfNumber: 'this number does not end',
  InvalidUnicode: 'this \\u escape needs four hexadecimal digits',
  InvalidEscapeCharacter: 'there is no such escape in JSON',
  InvalidCharacter: 'this character is not allowed in a text; write it as an escape',
};

const trouble = (error: ParseError): string => {
  const name = printParseErrorCode(error.error);
  return REMEDIES[name] ?? name;
};

/**
 * Reads JSON; with `comments`, also `//`, `/* *\/` and a comma behind the last entry.
 * @throws {Complaint} with line and column
 */
export function parseJson(text: string, file: string, comments: boolean): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    refuseConflicts(text, file);
    const deep = tooDeepAt(text, DEEPEST);
    if (deep !== undefined)
      throw complaint('broken-json', [TOO_DEEP], { file, ...positionAt(text, deep) });
    // Either it has comments, or the other parser reports the error with its place; JSON.parse has
    // only an offset, if that.
    const errors: ParseError[] = [];
    const value = parse(
      text,
      errors,
      comments ? COMMENTS : { disallowComments: true, allowTrailingComma: false },
    ) as unknown;
    const [first] = errors;
    if (first)
      throw complaint('broken-json', [isYaml(file) ? IN_JSON : trouble(first)], {
        file,
        ...positionAt(text, first.offset),
      });
    if (comments) return value;
    throw complaint('broken-json', ['it breaks the grammar of RFC 8259'], {
      file,
      line: 1,
      column: 1,
    });
  }
}

const QUOTE = 0x22;
const COLON = 0x3a;

/**
 * How many names of members a JSON text writes: strings with a colon behind them. Comments may make
 * it more, never less.
 */
function namesIn(text: string): number {
  let names = 0;
  for (let open = text.indexOf('"'); open >= 0; open = text.indexOf('"', open)) {
    let next = afterString(text, open);
    while (text.charCodeAt(next) <= 0x20) next++;
    if (text.charCodeAt(next) === COLON) names++;
    else if (text.charCodeAt(next) === QUOTE) return Infinity;
    open = next;
  }
  return names;
}

/**
 * Whether a key may stand twice in an object of a text; a quick test.
 * @param members the number of members in the parsed value, which keeps one of two
 */
export function mayRepeatKeys(text: string, members: number): boolean {
  // A comment may hold quotes, and then the count says nothing.
  return text.includes('//') || text.includes('/*') || namesIn(text) !== members;
}

/**
 * Keys that stand twice in one object: where the object is, the key, and which one of the equals it
 * is, from 1.
 */
export function duplicateKeys(text: string): { keys: (string | number)[]; nth: number }[] {
  const found: { keys: (string | number)[]; nth: number }[] = [];
  const open: Map<string, number>[] = [];
  if (tooDeepAt(text, DEEPEST) !== undefined) return found;
  visit(
    text,
    {
      onObjectBegin: () => {
        open.push(new Map());
      },
      onObjectEnd: () => {
        open.pop();
      },
      onObjectProperty: (name, _offset, _length, _line, _column, pathTo) => {
        const seen = open.at(-1);
        const times = seen?.get(name) ?? 0;
        seen?.set(name, times + 1);
        if (times > 0) found.push({ keys: [...pathTo(), name], nth: times });
      },
    },
    COMMENTS,
  );
  return found;
}
