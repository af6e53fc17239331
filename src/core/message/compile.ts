import { directionOf, parseLocale, type Locale } from '../locale/tag.js';
import { isolated } from '../text/direction.js';
import { formattersOf, type Formatters } from './formatters.js';
import { momentOf } from './moment.js';
import { EXACT, type NumberStyle } from './number-options.js';
import { readMessage } from './parse.js';
import type {
  Case,
  DateNode,
  Message,
  MessageNode,
  NumberNode,
  PluralNode,
  SelectNode,
} from './tree.js';

/** The values of a message's arguments, by name (an array for `{0}`, `{1}`). */
export type Arguments = Readonly<Record<string, unknown>>;

/** A compiled message. Never throws: an argument that is missing prints as `{name}`. */
export type Format = (args: Arguments) => string;

export interface CompileOptions {
  /** The IANA time zone in which instants are written; UTC where absent. */
  readonly zone?: string;
  /**
   * Whether inserted texts are isolated (U+2068, U+2069) where their direction differs from the
   * sentence's.
   */
  readonly isolate?: boolean;
  /** Arguments that are the same each time: what hangs on them alone is decided once. */
  readonly known?: Arguments;
}

const NOTHING_KNOWN: Arguments = {};

/**
 * `number` is what `#` stands for: the value of the plural around it less its offset, or the
 * argument's name in braces.
 */
type Step = (args: Arguments, number: number | string) => string;

/** A part of a message: what is the same each time, or a step. */
type Part = string | Step;

interface Context {
  readonly formatters: Formatters;
  readonly zone: string;
  readonly insert: (text: string) => string;
  /** Arguments that are the same each time. */
  readonly known: Arguments;
}

function asNumber(value: unknown): number | bigint | undefined {
  if (typeof value === 'number' || typeof value === 'bigint') return value;
  if (typeof value !== 'string' || value.trim() === '') return undefined;
  const number = Number(value);
  return Number.isNaN(number) ? undefined : number;
}

/**
 * The missing argument of the message being formatted. Formatting is synchronous, so one variable
 * is enough.
 */
let lacking: string | undefined;

/** A missing argument as it is written, and noted. */
function missing(name: string): string {
  lacking ??= name;
  return `{${name}}`;
}

/**
 * Formats, and returns the argument that the message lacked: cases that were not taken ask for
 * nothing.
 * @returns the text, and the name of the first argument that is missing in it
 */
export function saidOf(
  format: Format,
  args: Arguments,
): { readonly text: string; readonly lacking: string | undefined } {
  lacking = undefined;
  const text = format(args);
  return { text, lacking };
}

/** Formats a value that has no style. */
function plainText(value: unknown, name: string, context: Context): string {
  switch (typeof value) {
    case 'string':
      return context.insert(value);
    case 'number':
    case 'bigint':
      return context.formatters.bare(value);
    case 'boolean':
      return String(value);
    default:
      if (value instanceof Date)
        return (
          dateText(value, { dateStyle: 'short', timeStyle: 'short' }, context) ?? missing(name)
        );
      if (Array.isArray(value)) {
        return context.formatters.list(
          value.map((one) => plainText(one, name, context)),
          'conjunction',
        );
      }
      return typeof value === 'object' && value !== null
        ? context.insert(JSON.stringify(value))
        : missing(name);
  }
}

function dateText(
  value: unknown,
  style: Intl.DateTimeFormatOptions,
  context: Context,
): string | undefined {
  const moment = momentOf(value);
  return moment && context.formatters.date(style, moment.zone ?? context.zone).format(moment.at);
}

function argumentStep(name: string, context: Context): Part {
  if (Object.hasOwn(context.known, name)) return plainText(context.known[name], name, context);
  return (args) => {
    const value = args[name];
    if (typeof value === 'string') return context.insert(value);
    // What every object inherits (constructor, toString) is nobody's argument.
    return plainText(Object.hasOwn(args, name) ? value : undefined, name, context);
  };
}

/**
 * A step as a part: what asks only for arguments that are the same each time is worked out at once.
 */
function settled(name: string, step: Step, { known }: Context): Part {
  return Object.hasOwn(known, name) ? step(known, '#') : step;
}

function numberStep({ name, style }: NumberNode, context: Context): Step {
  const write = context.formatters.number(style);
  return (args) => {
    const number = asNumber(args[name]);
    return number === undefined ? plainText(args[name], name, context) : write(number);
  };
}

function dateStep({ name, style }: DateNode, context: Context): Step {
  return (args) => dateText(args[name], style, context) ?? plainText(args[name], name, context);
}

const stepped = (part: Part): Step => (typeof part === 'string' ? () => part : part);

function casesOf(
  cases: readonly Case[],
  context: Context,
): { named: Map<string, Step>; exact: Map<number, Step>; other: Step } {
  const named = new Map<string, Step>();
  const exact = new Map<number, Step>();
  for (const { selector, exactly, message } of cases) {
    const step = stepped(sequence(message, context));
    if (exactly === undefined) named.set(selector, step);
    else exact.set(exactly, step);
  }
  return { named, exact, other: named.get('other') ?? (() => '') };
}

/**
 * How a plural counts its number. ICU goes by how the case for all that is left writes it: as `#`
 * does, or by a keyword such as `integer`; behind a skeleton or a date the number counts as it is.
 */
function countedBy(cases: readonly Case[], name: string): NumberStyle | undefined {
  const other = cases.find(({ selector }) => selector === 'other');
  const first = other?.message.find(
    (node) => node.kind === 'hash' || ('name' in node && node.name === name && !('cases' in node)),
  );
  if (first === undefined || first.kind === 'hash' || first.kind === 'argument') return undefined;
  return first.kind === 'number' && !first.styleText?.startsWith('::') ? first.style : EXACT;
}

/** The case of a plural that a number takes. */
export function caseOf(
  { name, kind, offset, cases }: PluralNode,
  value: number,
  locale: Locale,
): Case | undefined {
  const category = formattersOf(locale).category(
    kind === 'plural' ? 'cardinal' : 'ordinal',
    countedBy(cases, name),
  );
  const selector = category(value - offset);
  return (
    cases.find(({ exactly }) => exactly === value) ??
    cases.find((one) => one.exactly === undefined && one.selector === selector) ??
    cases.find((one) => one.selector === 'other')
  );
}

function pluralStep({ name, kind, offset, cases }: PluralNode, context: Context): Step {
  const { named, exact, other } = casesOf(cases, context);
  const category = context.formatters.category(
    kind === 'plural' ? 'cardinal' : 'ordinal',
    countedBy(cases, name),
  );
  const { known } = context;
  const source = Object.hasOwn(known, name) ? known : undefined;
  return (args) => {
    const given = (source ?? args)[name];
    const value = asNumber(given);
    // Which case it is hangs on what is missing.
    if (value === undefined) return other(args, plainText(given, name, context));
    const number = Number(value);
    const left = number - offset;
    const step =
      (exact.size > 0 ? exact.get(number) : undefined) ?? named.get(category(left)) ?? other;
    return step(args, left);
  };
}

/** The key that a value is for a `select`. */
const selectKeyOf = (value: unknown): string =>
  typeof value === 'string'
    ? value
    : typeof value === 'boolean' || typeof value === 'number'
      ? String(value)
      : 'other';

/** The case of a `select` that a value takes. */
export function selectedCase({ cases }: SelectNode, value: unknown): Case | undefined {
  const named = (name: string): Case | undefined =>
    cases.findLast(({ selector }) => selector === name);
  return named(selectKeyOf(value)) ?? named('other');
}

function selectStep(node: SelectNode, context: Context): Part {
  const { name } = node;
  if (Object.hasOwn(context.known, name))
    return sequence(selectedCase(node, context.known[name])?.message ?? [], context);
  const { named, other } = casesOf(node.cases, context);
  return (args, number) => (named.get(selectKeyOf(args[name])) ?? other)(args, number);
}

function partOf(node: MessageNode, context: Context): Part {
  switch (node.kind) {
    case 'text':
      return node.text;
    case 'hash': {
      const write = context.formatters.standard;
      return (_, number) => (typeof number === 'string' ? number : write(number));
    }
    case 'argument':
      return argumentStep(node.name, context);
    case 'number':
      return settled(node.name, numberStep(node, context), context);
    case 'date':
    case 'time':
      return settled(node.name, dateStep(node, context), context);
    case 'plural':
    case 'selectordinal':
      return pluralStep(node, context);
    case 'select':
      return selectStep(node, context);
  }
}

/**
 * One part out of many; the short ones are spelt out since most messages have two or three nodes.
 */
function sequence(message: Message, context: Context): Part {
  const parts: Part[] = [];
  for (const node of message) {
    const part = partOf(node, context);
    const before = parts.at(-1);
    if (typeof part === 'string' && typeof before === 'string')
      parts[parts.length - 1] = before + part;
    else parts.push(part);
  }
  const [only] = parts;
  if (parts.length < 2) return only ?? '';
  const [first, second, third, ...rest] = parts.map(stepped);
  if (!first || !second) return '';
  if (!third) return (args, number) => first(args, number) + second(args, number);
  if (rest.length === 0)
    return (args, number) => first(args, number) + second(args, number) + third(args, number);
  return (args, number) => {
    let text = first(args, number) + second(args, number) + third(args, number);
    for (const step of rest) text += step(args, number);
    return text;
  };
}

/** Makes a parsed message into a function, with all that can be decided beforehand decided. */
export function compileTree(
  message: Message,
  locale: Locale,
  options: CompileOptions = {},
): Format {
  const direction = directionOf(locale);
  const context: Context = {
    formatters: formattersOf(locale),
    zone: options.zone ?? 'UTC',
    insert: options.isolate ? (text) => isolated(text, direction) : (text) => text,
    known: options.known ?? NOTHING_KNOWN,
  };
  const step = stepped(sequence(message, context));
  return (args) => {
    try {
      return step(args, '#');
    } catch {
      // A value of a kind that nobody expects: a list in itself, a symbol, something that throws
      // when it is looked at.
      return step(tame(args), '#');
    }
  };
}

/** Arguments that can be written in any case; of others their names. */
function tame(args: Arguments): Arguments {
  const found = new Map<string, unknown>();
  let names: string[] = [];
  try {
    names = Object.keys(args);
  } catch {
    // Then there are none.
  }
  for (const name of names) {
    try {
      const value = args[name];
      if (
        typeof value === 'string' ||
        typeof value === 'boolean' ||
        (typeof value === 'number' && Number.isFinite(value))
      )
        found.set(name, value);
    } catch {
      // It is as if nobody gave it.
    }
  }
  return Object.fromEntries(found);
}

/**
 * Compiles a text in ICU MessageFormat syntax for a locale.
 * @param text the message, such as `{label}: at most {max, plural, one {# character} other {#
 * characters}}`
 * @param locale a BCP 47 language tag
 * @returns a function from arguments to the sentence; it never throws, and prints a missing
 * argument as `{name}`
 * @throws {MessageError} when the text breaks the syntax
 * @throws {LocaleError} when the tag is not registered
 */
export function formatterOf(text: string, locale: string, options: CompileOptions = {}): Format {
  return compileTree(readMessage(text), parseLocale(locale), options);
}
