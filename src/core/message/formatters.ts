import type { Locale } from '../locale/tag.js';
import { Memo } from '../base/memo.js';
import type { DateStyle } from './date-style.js';
import { currencyOf } from './local-currency.js';
import { product } from '../text/decimal.js';
import { EXACT, HALF_EVEN, STANDARD, type NumberStyle } from './number-options.js';
import type { MessageNode } from './tree.js';
import { keyed } from '../base/keyed.js';

type WriteNumber = (value: number | bigint) => string;

/**
 * Languages that write whole numbers below a thousand as JavaScript does, in every region: the
 * first number format of a process costs more than all else that a short sentence needs.
 */
const PLAIN_DIGITS =
  /^(?:bg|ca|cs|cy|da|de|el|en|es|et|eu|fi|fr|ga|he|hr|hu|id|is|it|ja|ko|lt|lv|nb|nl|nn|pl|pt|ro|ru|sk|sl|sv|tr|uk|vi|zh)(?:-[A-Z][a-z]{3})?(?:-[A-Z]{2})?$/;

/**
 * The separator of thousands, for common languages in the region that their tag means; some
 * languages write 1234 without one. This quick way exists because a bound such as 3,600 would take
 * as long as the rest of the body where no number was formatted yet.
 */
const THOUSANDS: Readonly<Record<string, string>> = keyed({
  en: ',',
  he: ',',
  ja: ',',
  ko: ',',
  zh: ',',
  de: '.',
  nl: '.',
  pt: '.',
  tr: '.',
  fr: '\u202f',
  cs: '\u00a0',
  uk: '\u00a0',
});

/**
 * Languages whose lists of many have a comma and a space between the first two, in every region.
 */
const COMMA_AND_SPACE =
  /^(?:bg|ca|cs|cy|da|de|el|en|es|et|eu|fi|fr|ga|he|hr|hu|id|is|it|ko|lt|lv|nb|nl|nn|pl|pt|ro|ru|sk|sl|sv|tr|uk|vi)(?:-[A-Z]{2})?$/;

/** A call of Intl costs about a microsecond, and messages mostly repeat a few bounds. */
const REMEMBERED = 1024;

function remembering<T>(work: (value: number | bigint) => T): (value: number | bigint) => T {
  const small: T[] = [];
  const others = new Map<number, T>();
  return (value) => {
    if (typeof value === 'number' && value > 0 && value < REMEMBERED && Number.isInteger(value))
      return (small[value] ??= work(value));
    // A map takes -0 for 0, which is written otherwise; clients may send whole numbers of any
    // length.
    if (value === 0 || typeof value === 'bigint') return work(value);
    let known = others.get(value);
    if (known === undefined) {
      if (others.size >= REMEMBERED) others.clear();
      others.set(value, (known = work(value)));
    }
    return known;
  };
}

/** The `Intl` objects of one locale, each made once. */
export class Formatters {
  private readonly numbers = new Map<string, WriteNumber>();
  private readonly categories = new Map<string, (value: number | bigint) => Intl.LDMLPluralRule>();
  private readonly dates = new Map<string, Intl.DateTimeFormat>();
  private readonly lists = new Map<string, Intl.ListFormat>();

  private readonly plainDigits: boolean;
  private readonly thousands: string | undefined;

  constructor(readonly locale: Locale) {
    this.plainDigits = PLAIN_DIGITS.test(locale);
    this.thousands = THOUSANDS[locale];
  }

  /** A whole number that needs no formatter. */
  private simply(value: number | bigint): string | undefined {
    if (!this.plainDigits || typeof value !== 'number' || value <= 0 || !Number.isInteger(value))
      return undefined;
    if (value < 1000) return String(value);
    if (this.thousands === undefined || value >= 1_000_000) return undefined;
    return `${Math.floor(value / 1000)}${this.thousands}${String(value % 1000).padStart(3, '0')}`;
  }

  /** A number with all its digits, in the locale's way. */
  readonly bare: WriteNumber = remembering((value) => this.simply(value) ?? this.bareFormat(value));
  /** A number as ICU writes it by default: at most three decimals. */
  readonly standard: WriteNumber = remembering(
    (value) => this.simply(value) ?? this.standardFormat(value),
  );
  private optionsOf({ options, localCurrency }: NumberStyle): Intl.NumberFormatOptions {
    return localCurrency ? { ...options, currency: currencyOf(this.locale) } : options;
  }

  number(style: NumberStyle): WriteNumber {
    const { options, scale } = style;
    const key = JSON.stringify([options, scale]);
    const kept = this.numbers.get(key);
    if (kept) return kept;
    const format = new Intl.NumberFormat(this.locale, this.optionsOf(style));
    const write: WriteNumber =
      scale === undefined
        ? (value) => format.format(value)
        : (value) => format.format(product(value, scale) as Intl.StringNumericLiteral);
    this.numbers.set(key, write);
    return write;
  }

  /**
   * The plural category of a number as it is written: 1.0005 with three decimals is 1, and 1 with
   * two is 1.00.
   * @param style how its plural writes it; absent: as `#` does
   */
  category(
    type: 'cardinal' | 'ordinal',
    style: NumberStyle = STANDARD,
  ): (value: number) => Intl.LDMLPluralRule {
    const key = JSON.stringify([type, style]);
    let kept = this.categories.get(key);
    if (!kept) this.categories.set(key, (kept = this.makeCategory(type, style)));
    return kept;
  }

  private makeCategory(
    type: 'cardinal' | 'ordinal',
    style: NumberStyle,
  ): (value: number | bigint) => Intl.LDMLPluralRule {
    const digits = once(() =>
      style === STANDARD ? style.options : digitsOf(this.optionsOf(style)),
    );
    const rules = once(() => new Intl.PluralRules(this.locale, { type, ...digits() }));
    // The rules round in a way of their own, so they are given what is written.
    const written = once(() => new Intl.NumberFormat('en', { ...digits(), useGrouping: false }));
    const scale = style.options.style === 'percent' ? '100' : style.scale;
    return remembering((value) => {
      if (Number.isInteger(value) && scale === undefined) return rules().select(Number(value));
      const scaled =
        scale === undefined ? value : (product(value, scale) as Intl.StringNumericLiteral);
      return rules().select(Number(written().format(scaled)));
    });
  }

  /** @param zone an IANA time zone */
  date(style: DateStyle, zone: string): Intl.DateTimeFormat {
    const key = JSON.stringify([style, zone]);
    let kept = this.dates.get(key);
    if (!kept) {
      // Japanese alone counts the hours of half a day from 0 to 11.
      const hours =
        style.hourCycle === 'h12' && /^ja\b/.test(this.locale)
          ? ({ hourCycle: 'h11' } as const)
          : {};
      this.dates.set(
        key,
        (kept = new Intl.DateTimeFormat(this.locale, { ...style, ...hours, timeZone: zone })),
      );
    }
    return kept;
  }

  private listFormat(type: 'disjunction' | 'conjunction' | 'unit'): Intl.ListFormat {
    let kept = this.lists.get(type);
    if (!kept)
      this.lists.set(type, (kept = new Intl.ListFormat(this.locale, { type, style: 'long' })));
    return kept;
  }

  /** Joins texts: `disjunction` with "or", `conjunction` with "and". */
  list(texts: readonly string[], type: 'disjunction' | 'conjunction'): string {
    return this.listFormat(type).format(texts);
  }

  /**
   * Joins the steps of a way without "and", with the mark that the locale puts between the first
   * two of many: of two steps alone, half of CLDR's locales write "A and B" in every kind of list,
   * which would name two places.
   */
  trail(steps: readonly string[]): string {
    return steps.join(this.mark());
  }

  private readonly mark = once(() => {
    // To make the first list format of a process costs as much as to render a body.
    if (COMMA_AND_SPACE.test(this.locale)) return ', ';
    const between = (type: 'disjunction' | 'unit'): string =>
      this.listFormat(type).formatToParts(['1', '2', '3', '4'])[1]?.value ?? ', ';
    const mark = between('disjunction');
    // Character classes of Unicode cost milliseconds to compile, so what nearly all locales have is
    // looked for first.
    if (/^[,、，;؛،]? ?$/.test(mark)) return mark;
    // Arabic repeats its "and"; its unit lists have a comma before.
    return /\p{L}/u.test(mark) ? between('unit').replace(/\p{L}/gu, '') : mark;
  });

  private readonly bareFormat = lazily(() => this.number(EXACT));
  private readonly standardFormat = lazily(() => this.number(STANDARD));
}

/**
 * Of a style, how many digits it writes, and how it rounds; a currency has as many decimals as
 * people pay with.
 */
function digitsOf(options: Intl.NumberFormatOptions): Intl.NumberFormatOptions {
  const { minimumFractionDigits, maximumFractionDigits } = new Intl.NumberFormat(
    'en',
    options,
  ).resolvedOptions();
  return { ...HALF_EVEN, minimumFractionDigits, maximumFractionDigits };
}

function once<T>(make: () => T): () => T {
  let made: T | undefined;
  return () => (made ??= make());
}

function lazily(make: () => WriteNumber): WriteNumber {
  const made = once(make);
  return (value) => made()(value);
}

const troubles = new Memo<string>();
/** Most styles are one of a few objects. */
const fine = new WeakSet<object>();

/**
 * Returns why a style cannot be formatted in any language; nothing where it can. `Intl` refuses
 * conflicting options only when a formatter is made, which would be while a client waits.
 */
export function styleTrouble(node: MessageNode): string | undefined {
  if (node.kind !== 'number' && node.kind !== 'date' && node.kind !== 'time') return undefined;
  if (fine.has(node.style)) return undefined;
  const key = JSON.stringify([node.kind === 'number', node.style]);
  const trouble = troubles.getOrMake(key, () => {
    try {
      if (node.kind === 'number') formattersOf(SOME).number(node.style)(1234.5);
      else formattersOf(SOME).date(node.style, 'UTC').format(0);
      return '';
    } catch (error) {
      return error instanceof Error ? error.message : String(error);
    }
  });
  if (trouble !== '') return trouble;
  fine.add(node.style);
  return undefined;
}

/** Which options go together does not hang on the language. */
const SOME = 'en' as Locale;

const kept = new Memo<Formatters>();

/** The formatters of a locale, made when they are first asked for. */
export const formattersOf = (locale: Locale): Formatters =>
  kept.getOrMake(locale, () => new Formatters(locale));
