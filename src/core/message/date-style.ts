import { MessageSyntaxError } from './syntax-error.js';

/** How a date or time is written: what `Intl.DateTimeFormat` is asked for. */
export type DateStyle = Readonly<Intl.DateTimeFormatOptions>;

const LENGTHS = ['short', 'medium', 'long', 'full'] as const;

const byCount =
  <K extends keyof Intl.DateTimeFormatOptions>(key: K, ...forms: (Intl.DateTimeFormatOptions[K] | undefined)[]) =>
  (count: number): Intl.DateTimeFormatOptions | undefined => {
    const form = forms[count - 1];
    return form === undefined ? undefined : { [key]: form };
  };

const hour = (hourCycle: Intl.DateTimeFormatOptions['hourCycle']) => (count: number) =>
  count > 2
    ? undefined
    : { hour: count === 2 ? ('2-digit' as const) : ('numeric' as const), ...(hourCycle ? { hourCycle } : {}) };

/** The fields of a date skeleton (CLDR, UTS 35 part 4) that Intl can write, by letter; each takes how often the letter stands. */
const FIELDS: Record<string, (count: number) => Intl.DateTimeFormatOptions | undefined> = {
  G: byCount('era', 'short', 'short', 'short', 'long', 'narrow'),
  y: byCount('year', 'numeric', '2-digit', 'numeric', 'numeric'),
  M: byCount('month', 'numeric', '2-digit', 'short', 'long', 'narrow'),
  L: byCount('month', 'numeric', '2-digit', 'short', 'long', 'narrow'),
  E: byCount('weekday', 'short', 'short', 'short', 'long', 'narrow'),
  d: byCount('day', 'numeric', '2-digit'),
  j: hour(undefined),
  h: hour('h12'),
  H: hour('h23'),
  K: hour('h11'),
  k: hour('h24'),
  m: byCount('minute', 'numeric', '2-digit'),
  s: byCount('second', 'numeric', '2-digit'),
  S: byCount('fractionalSecondDigits', 1, 2, 3),
  B: byCount('dayPeriod', 'short', 'short', 'short', 'long', 'narrow'),
  z: byCount('timeZoneName', 'short', 'short', 'short', 'long'),
  O: byCount('timeZoneName', 'shortOffset', undefined, undefined, 'longOffset'),
  v: byCount('timeZoneName', 'shortGeneric', undefined, undefined, 'longGeneric'),
  a: () => ({}),
};

function parseSkeleton(skeleton: string, offset: number): DateStyle {
  const options: Intl.DateTimeFormatOptions = {};
  for (const run of skeleton.matchAll(/(.)\1*/gsu)) {
    const [letters, letter = ''] = run;
    const field = Object.hasOwn(FIELDS, letter) ? FIELDS[letter]?.(letters.length) : undefined;
    if (!field) {
      const known = Object.keys(FIELDS).join(' ');
      throw new MessageSyntaxError(
        `"${letters}" is no field of a date skeleton`,
        offset + run.index,
        `write letters such as "yMMMd" or "Hm", out of ${known}`,
      );
    }
    Object.assign(options, field);
  }
  if (Object.keys(options).length === 0)
    throw new MessageSyntaxError('The date skeleton is empty', offset, 'write one such as "::yMMMd"');
  return options;
}

/**
 * Reads the style of `{d, date, …}` or `{d, time, …}`: short, medium, long, full, or a skeleton behind `::`.
 * @param offset where the style starts in the message, for errors
 * @throws {MessageSyntaxError}
 */
export function parseDateStyle(kind: 'date' | 'time', text: string | undefined, offset: number): DateStyle {
  const style = text?.trim() ?? '';
  if (style.startsWith('::')) return parseSkeleton(style.slice(2).trim(), offset + (text ?? '').indexOf('::') + 2);
  const length = style === '' ? 'medium' : LENGTHS.find((one) => one === style);
  if (length) return kind === 'date' ? { dateStyle: length } : { timeStyle: length };
  const remedy = 'write short, medium, long, full or a skeleton such as ' + (kind === 'date' ? '"::yMMMd"' : '"::Hm"');
  throw new MessageSyntaxError(
    `"${style}" is no ${kind} style`,
    offset,
    /[yMdHhms]{2}/.test(style) ? `old patterns are not supported, ${remedy}` : remedy,
  );
}
