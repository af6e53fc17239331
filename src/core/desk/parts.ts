import { categoriesOf } from '../check/kinds/plurals.js';
import type { Locale } from '../locale/tag.js';
import { printMessage } from '../message/print.js';
import type { Case, Message, MessageNode, TextNode } from '../message/tree.js';

/** A part of a message that cannot be typed as words. */
export type Chip = Value | Choice;

/** The value of an argument, or the number of the plural around it (`hash`). */
export interface Value {
  readonly kind: 'value';
  readonly node: Exclude<MessageNode, TextNode | { readonly cases: unknown }>;
}

/** A part of a message with a text for each number or word. */
export interface Choice {
  readonly kind: 'plural' | 'selectordinal' | 'select';
  readonly name: string;
  readonly offset: number;
  readonly rows: readonly ChoiceRow[];
}

export interface ChoiceRow {
  readonly selector: string;
  readonly exactly?: number | undefined;
  line: Line;
  /** Whether the message had it: then it may be empty. */
  readonly wasThere: boolean;
}

/** A message, or one of its cases, as words and chips. */
export type Line = readonly (string | Chip)[];

const NOWHERE = { start: 0, end: 0 };

/** The rows of a choice, with one for each category that the language has. */
function rowsOf(
  kind: Choice['kind'],
  cases: readonly Case[],
  locale: Locale,
  lineOf: (message: Message) => Line,
  wasThere: boolean,
): ChoiceRow[] {
  const rows = cases.map(({ selector, exactly, message }): ChoiceRow => ({
    selector,
    exactly,
    line: lineOf(message),
    wasThere,
  }));
  if (kind === 'select') return rows;
  const categories = categoriesOf(locale, kind === 'plural' ? 'cardinal' : 'ordinal');
  const all = [...categories, ...(categories.includes('other') ? [] : ['other'])];
  const ofCategories = all.map(
    (selector): ChoiceRow =>
      rows.find((row) => row.selector === selector) ?? { selector, line: [], wasThere: false },
  );
  const others = rows.filter(({ selector }) => !all.includes(selector));
  return [...others.filter((row) => row.exactly !== undefined || wasThere), ...ofCategories];
}

/** A message as words and chips. @param locale the language that it is in, for its plurals */
export const lineOf = (message: Message, locale: Locale): Line =>
  message.map((node) => {
    if (node.kind === 'text') return node.text;
    return chipOf(node, locale, (inner) => lineOf(inner, locale), true);
  });

function chipOf(
  node: Exclude<MessageNode, TextNode>,
  locale: Locale,
  inner: (message: Message) => Line,
  wasThere: boolean,
): Chip {
  if (!('cases' in node)) return { kind: 'value', node };
  const { kind, name, cases } = node;
  const offset = kind === 'select' ? 0 : node.offset;
  return { kind, name, offset, rows: rowsOf(kind, cases, locale, inner, wasThere) };
}

/**
 * The chips of a message of another language, made anew for this one: what chooses has no words
 * yet.
 */
export const chipsOf = (message: Message, locale: Locale): Chip[] =>
  message.flatMap((node) => (node.kind === 'text' ? [] : [chipOf(node, locale, () => [], false)]));

/** The value of an argument as a chip. */
export const chipFor = (name: string): Value => ({
  kind: 'value',
  node: { kind: 'argument', name, ...NOWHERE },
});

/** The number of the plural around it. */
export const HASH: Value = { kind: 'value', node: { kind: 'hash', ...NOWHERE } };

/** The words of a line without those of choices, by which an empty one is known. */
export const isBlank = (line: Line): boolean =>
  line.every((part) => typeof part === 'string' && part === '');

function nodeOf(part: string | Chip): MessageNode {
  if (typeof part === 'string') return { kind: 'text', text: part, ...NOWHERE };
  if (part.kind === 'value') return part.node;
  const { kind, name, offset, rows } = part;
  const said = rows.filter(
    ({ selector, line, wasThere }) =>
      !isBlank(line) || wasThere || selector === 'other' || kind === 'select',
  );
  const cases = said.map(({ selector, exactly, line }): Case => ({
    selector,
    ...(exactly === undefined ? {} : { exactly }),
    message: line.map(nodeOf),
    start: 0,
  }));
  return kind === 'select'
    ? { kind, name, cases, ...NOWHERE }
    : { kind, name, offset, cases, ...NOWHERE };
}

/** The message that words and chips stand for. */
export const textOf = (line: Line): string => printMessage(line.map(nodeOf));

/**
 * Whether the numbers that no other case is for have no words yet; of other categories the check
 * says which ones may be left out.
 */
export const hasGaps = (line: Line): boolean =>
  line.some(
    (part) =>
      typeof part !== 'string' &&
      part.kind !== 'value' &&
      part.rows.some(
        (row) =>
          hasGaps(row.line) ||
          (part.kind !== 'select' &&
            row.selector === 'other' &&
            !row.wasThere &&
            isBlank(row.line)),
      ),
  );

/** A line in a few words for a list: of what is chosen, what is said mostly. */
export function inShort(line: Line): string {
  const said = line.map((part) => {
    if (typeof part === 'string') return part;
    if (part.kind === 'value') return part.node.kind === 'hash' ? '#' : `‹${part.node.name}›`;
    return inShort(part.rows.findLast((row) => !isBlank(row.line))?.line ?? []);
  });
  return said.join('');
}

/** Numbers that people meet, in which each category of every language is. */
const MET = [...Array.from({ length: 201 }, (_, n) => n), 1.5, 1000, 1_000_000];

/** Some numbers of a plural category, for people who do not know what it is called. */
export function numbersOf(
  locale: Locale,
  kind: 'plural' | 'selectordinal',
  category: string,
  most = 4,
): number[] {
  const rules = new Intl.PluralRules(locale, {
    type: kind === 'plural' ? 'cardinal' : 'ordinal',
  });
  return MET.filter((number) => rules.select(number) === category).slice(0, most);
}
