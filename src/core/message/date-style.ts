import { MessageError } from './syntax-error.js';
import { keyed } from '../base/keyed.js';

/** How a date or time is written: what `Intl.DateTimeFormat` is asked for. */
export type DateStyle = Readonly<Intl.DateTimeFormatOptions>;

const LENGTHS = ['short', 'medium', 'long', 'full'] as const;

const byCount =
  <K extends keyof Intl.DateTimeFormatOptions>(
    key: K,
    ...forms: (Intl.DateTimeFormatOptions[K] | undefined)[]
  ) =>
  (count: number): Intl.DateTimeFormatOptions | undefined => {
    const form = forms[count - 1];
    return form === undefined ? undefined : { [key]: form };
  };

/**
 * `hh` asks for no more than `h`: whether there is a zero in front is the language's own business,
 * in ICU as here.
 */
const hour = (cycle: Intl.DateTimeFormatOptions) => (count: number) =>
  count > 2 ? undefined : { hour: 'numeric' as const, ...cycle };

/**
 * The fields of a date skeleton (CLDR, UTS 35 part 4) that Intl can write, by letter; each takes
 * how often the letter stands.
 */
const FIELDS: Record<string, (count: number) => Intl.DateTimeFormatOptions | undefined> = keyed({
  G: byCount('era', 'short', 'short', 'short', 'long', 'narrow'),
  y: byCount('year', 'numeric', '2-digit', 'numeric', 'numeric'),
  M: byCount('month', 'numeric', '2-digit', 'short', 'long', 'narrow'),
  L: byCount('month', 'numeric', '2-digit', 'short', 'long', 'narrow'),
  E: byCount('weekday', 'short', 'short', 'short', 'long', 'narrow'),
  d: byCount('day', 'numeric', '2-digit'),
  j: hour({}),
  h: hour({ hourCycle: 'h12' }),
  H: hour({ hourCycle: 'h23' }),
  m: byCount('minute', 'numeric', '2-digit'),
  s: byCount('second', 'numeric', '2-digit'),
  S: byCount('fractionalSecondDigits', 1, 2, 3),
  B: byCount('dayPeriod', 'short', 'short', 'short', 'long', 'narrow'),
  z: byCount('timeZoneName', 'short', 'short', 'short', 'long'),
  O: byCount('timeZoneName', 'shortOffset', undefined, undefined, 'longOffset'),
  v: byCount('timeZoneName', 'shortGeneric', undefined, undefined, 'longGeneric'),
  a: () => ({}),
});

/** Letters that ICU reads in another way than they say. */
const INSTEAD: Readonly<Record<string, string>> = keyed({ K: 'h', k: 'H' });

/** Fields that `Intl` writes only beside others; alone it would add a date. */
const BESIDE_OTHERS: readonly string[] = ['era', 'timeZoneName'];

function parseSkeleton(skeleton: string, offset: number): DateStyle {
  const options: Intl.DateTimeFormatOptions = {};
  for (const run of skeleton.matchAll(/(.)\1*/gsu)) {
    const [letters, letter = ''] = run;
    const field = Object.hasOwn(FIELDS, letter) ? FIELDS[letter]?.(letters.length) : undefined;
    if (!field) {
      const known = Object.keys(FIELDS).join(' ');
      const instead = Object.hasOwn(INSTEAD, letter) ? INSTEAD[letter] : undefined;
      throw new MessageError(
        `"${letters}" is not a field of a date skeleton`,
        offset + run.index,
        instead
          ? `write "${instead}"; whether midnight is 0, 12 or 24 is the language's own business`
          : `write letters such as "yMMMd" or "Hm", out of ${known}`,
      );
    }
    Object.assign(options, field);
  }
  const named = Object.keys(options);
  if (named.length === 0)
    throw new MessageError('The date skeleton is empty', offset, 'write one such as "::yMMMd"');
  if (named.every((name) => BESIDE_OTHERS.includes(name)))
    throw new MessageError(
      `"${skeleton}" names no date and no time`,
      offset,
      'write a zone beside a time and an era beside a year, as in "::Hmz" or "::yG"',
    );
  // Beside an hour the language knows how minutes are written; asked for two digits, it takes a
  // zero from the hour.
  return options.hour === undefined || options.minute === undefined
    ? options
    : { ...options, minute: 'numeric' };
}

/**
 * Reads the style of `{d, date, …}` or `{d, time, …}`: short, medium, long, full, or a skeleton
 * behind `::`.
 * @param offset where the style starts in the message, for errors
 * @throws {MessageError}
 */
export function parseDateStyle(
  kind: 'date' | 'time',
  text: string | undefined,
  offset: number,
): DateStyle {
  const style = text?.trim() ?? '';
  if (style.startsWith('::'))
    return parseSkeleton(style.slice(2).trim(), offset + (text ?? '').indexOf('::') + 2);
  const length = style === '' ? 'medium' : LENGTHS.find((one) => one === style);
  if (length) return kind === 'date' ? { dateStyle: length } : { timeStyle: length };
  const remedy =
    'write short, medium, long, full or a skeleton such as ' +
    (kind === 'date' ? '"::yMMMd"' : '"::Hm"');
  throw new MessageError(
    `"${style}" is no ${kind} style`,
    offset,
    /[yMdHhms]{2}/.test(style) ? `old patterns are not supported, ${remedy}` : remedy,
  );
}
