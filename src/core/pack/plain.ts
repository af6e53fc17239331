import type { ShapeOptions } from '../body/shapes/shape.js';
import { PLURAL_RULES } from '../locale/plural-rules.js';
import type { Parents } from '../locale/chain.js';
import type { Locale } from '../locale/tag.js';
import { formattersOf } from '../message/formatters.js';
import { EXACT } from '../message/number-options.js';
import type { PackStyle } from './pack.js';

/** A sentence without ICU: a text with simple places, or its cases by a value of the request. */
export type PlainSentence =
  | string
  /** Sentences in the order in which they are tried: said is the first that lacks no argument. */
  | readonly PlainSentence[]
  | { readonly plural: string; readonly cases: Readonly<Record<string, PlainSentence>> }
  | { readonly select: string; readonly cases: Readonly<Record<string, PlainSentence>> }
  /** A sentence in another language than the pack's, since that has none. */
  | { readonly locale: string; readonly sentence: PlainSentence };

export type PlainInline = PlainSentence | readonly (PlainSentence | null)[];

/** How a language writes numbers. */
export interface PlainNumbers {
  /** From 0 to 9. */
  readonly digits: string;
  readonly group: string;
  readonly decimal: string;
  readonly minus: string;
  /** How many digits stand in the last group, and in those before it. */
  readonly sizes: readonly [number, number];
  /** How many digits must stand before the last group for any to be set apart. */
  readonly least: number;
}

/** How a language joins a list: the patterns of CLDR for `or`, with `{0}` and `{1}`. */
export interface PlainLists {
  readonly two: string;
  readonly start: string;
  readonly middle: string;
  readonly end: string;
  /** What stands between the entries where only the first are named. */
  readonly mark: string;
}

/** Shared by all rules of a field. */
export interface PlainField {
  /** The names of the numbers and keys that its path leaves open, from the outside. */
  readonly positions: readonly string[];
  /** Said of rules that have no sentence here. */
  readonly otherwise?: PlainSentence;
  /** Whether a client's value must not be shown here: three dots (U+2022) stand in for it. */
  readonly secret?: true;
  /** So many segments at the end of its path are secret too: names that a client chose. */
  readonly hidden?: number;
}

/** A problem that a broken rule is, with its texts where they speak of the rule. */
export interface PlainProblem {
  readonly problem: string;
  readonly title?: PlainSentence;
  readonly detail?: PlainSentence;
}

export type ByField<T> = Readonly<Record<string, Readonly<Record<string, T>>>>;

/** How a language writes values of a request. */
export interface PlainLanguage {
  readonly direction: 'ltr' | 'rtl';
  readonly numbers: PlainNumbers;
  readonly lists: PlainLists;
  /** A text in the marks of the language, around `{text}`. */
  readonly quoted: string;
  /**
   * Conditions of the plural categories in the words of UTS 35; what none holds for is `other`.
   * Absent where ICU knows them.
   */
  readonly plurals?: Readonly<Record<string, string>>;
  /** Sentences are ICU messages, to be said in this locale. */
  readonly icu?: string;
}

/** The workspace's settings of bodies. */
export interface PlainSettings extends ShapeOptions {
  /** The language where nothing fits what a client asks for. */
  readonly original: string;
  /** The languages that answers are in, in order. */
  readonly locales: readonly string[];
  /** By language tag: the one to look for before a shorter tag; absent where there is none. */
  readonly parents?: Parents;
  readonly shape: string;
  readonly perField: 'all' | 'first';
  readonly maxViolations: number;
  /** The detail of broken rules: a text of its own, all sentences joined, or the first alone. */
  readonly detail: 'own' | 'joined' | 'first';
  readonly separator: string;
  /** All shapes, by name: templates. */
  readonly shapes: NonNullable<PackStyle['shapes']>;
}

/** All sentences of one language, worked out as far as they can be before a request. */
export interface SentencePack extends PlainLanguage {
  /** The format's version. */
  readonly sentences: 1;
  readonly locale: string;
  /** The marks around the name of a place; absent where sentences are ICU messages. */
  readonly slot?: readonly [string, string];
  /** With ICU: the IANA zone in which instants are written. */
  readonly zone?: string;
  /** The languages of sentences that are in another than the pack's, by locale. */
  readonly locales?: Readonly<Record<string, PlainLanguage>>;
  /** The most characters of a client's value in a sentence. */
  readonly longest: number;
  /**
   * By form, by field: its places, and what is said where a rule is broken that has no sentence.
   */
  readonly fields: Readonly<Record<string, Readonly<Record<string, PlainField>>>>;
  /**
   * By form: the names of its secret fields, which are hidden inside of values too; absent where
   * there are none.
   */
  readonly secrets?: Readonly<Record<string, readonly string[]>>;
  /** By form, by field, by the rule's code. */
  readonly forms: Readonly<Record<string, ByField<PlainSentence>>>;
  /** The texts beside inputs; of a list, each beside its sentence, or null for none. */
  readonly inlines: Readonly<Record<string, ByField<PlainInline>>>;
  /** By form, by field, by code: the problem of the whole request that a broken rule is. */
  readonly becomes: Readonly<Record<string, ByField<PlainProblem>>>;
  readonly settings: PlainSettings;
  readonly problems: Readonly<
    Record<
      string,
      {
        readonly type: string;
        readonly status: number;
        /** What is said where the title lacks an argument: the phrase of the status. */
        readonly phrase: string;
        readonly title: PlainSentence;
        readonly detail?: PlainSentence;
      }
    >
  >;
}

/**
 * How places are written: what stands around a name, and how the text itself is written so that
 * nothing in it looks like one.
 */
export interface SlotTemplate {
  readonly open: string;
  readonly close: string;
  readonly escape?: (text: string) => string;
}

/**
 * Reads how places are to be written, such as `{NAME}`, `<NAME>` or `%(NAME)s`.
 * @throws {RangeError} when NAME does not stand in it once
 */
export function slotTemplate(template: string): SlotTemplate {
  const [open = '', close, ...more] = template.split('NAME');
  if (close === undefined || more.length > 0 || open === '')
    throw new RangeError('a template has NAME in it once, behind some sign, such as <NAME>');
  // What comes behind a per cent sign is a place in all notations that have it; the sign itself is
  // doubled.
  return open.startsWith('%')
    ? { open, close, escape: (text) => text.replaceAll('%', '%%') }
    : { open, close };
}

/** How a locale writes numbers with all their digits. */
export function numbersOf(locale: Locale): PlainNumbers {
  const format = new Intl.NumberFormat(locale, EXACT.options);
  const parts = format.formatToParts(-1234567.5);
  const of = (type: string): string => parts.find((part) => part.type === type)?.value ?? '';
  const groups = parts
    .filter(({ type }) => type === 'integer')
    .map(({ value }) => Array.from(value).length);
  const digit = new Intl.NumberFormat(locale, { useGrouping: false });
  return {
    digits: Array.from({ length: 10 }, (_unused, n) => digit.format(n)).join(''),
    group: of('group'),
    decimal: of('decimal'),
    // In scripts from the right a mark of direction stands before the sign.
    minus: parts
      .slice(
        0,
        parts.findIndex(({ type }) => type === 'integer'),
      )
      .map(({ value }) => value)
      .join(''),
    sizes: [groups.at(-1) ?? 3, groups.at(-2) ?? 3],
    // CLDR's minimumGroupingDigits: in some languages 1234 stays whole.
    least: format.formatToParts(1234).some(({ type }) => type === 'group') ? 1 : 2,
  };
}

/** Returns how a locale joins a list. */
export function listsOf(locale: Locale): PlainLists {
  const format = new Intl.ListFormat(locale, { type: 'disjunction' });
  const entries = ['0', '1', '2', '3'];
  const literals = (count: number): string[] => {
    const found: string[] = [];
    let last = '';
    for (const { type, value } of format.formatToParts(entries.slice(0, count))) {
      if (type === 'element') found.push(last);
      last = type === 'literal' ? value : '';
    }
    return [...found, last];
  };
  const pattern = (between = '', behind = ''): string => `{0}${between}{1}${behind}`;
  const [, two, behindTwo] = literals(2);
  const [, start, middle, end, behind] = literals(4);
  return {
    two: pattern(two, behindTwo),
    start: pattern(start),
    middle: pattern(middle),
    end: pattern(end, behind),
    mark: formattersOf(locale).trail(['', '']),
  };
}

/** The conditions of a language's plural categories. */
export function pluralsOf(locale: Locale): Record<string, string> {
  const [language = ''] = locale.split('-');
  const of = (tag: string): string | undefined =>
    PLURAL_RULES.find(([languages]) => languages.split(' ').includes(tag))?.[1];
  const conditions = of(locale) ?? of(language) ?? '';
  return Object.fromEntries(
    conditions
      .split('; ')
      .filter((one) => one !== '')
      .map((one) => [one.slice(0, one.indexOf(':')), one.slice(one.indexOf(':') + 2)]),
  );
}
