import { numberOf, wordOf } from '../text/outer.js';
import type { Locale } from '../locale/tag.js';
import { formattersOf } from '../message/formatters.js';
import { momentOf } from '../message/moment.js';
import { keyed } from '../base/keyed.js';

/** What a limit has: a date alone, a time alone, or both. */
export type LimitKind = 'date' | 'time' | 'instant';

const CLOCK = /^(\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)(Z|[+-]\d{2}:\d{2})?$/i;
const DATE = /^(?:[+-]\d{6}|\d{4})-\d{2}-\d{2}$/;
const OFFSET = /T.*?(Z|[+-]\d{2}:?\d{2})$/i;

/** What a limit has; nothing of what is neither date nor time. */
export function limitKind(limit: unknown): LimitKind | undefined {
  if (typeof limit === 'string' && CLOCK.test(limit)) return 'time';
  if (!momentOf(limit)) return undefined;
  return typeof limit === 'string' && DATE.test(limit) ? 'date' : 'instant';
}

/** As much of a clock as is told: seconds are left out where there are none. */
function clockOf(text: string, dateStyle: 'long' | undefined): Intl.DateTimeFormatOptions {
  const [, seconds = '00', fraction = ''] = /:\d{2}:(\d{2})(?:\.(\d+))?/.exec(text) ?? [];
  const digits = Math.min(fraction.replace(/0+$/, '').length, 3);
  if (digits > 0)
    return {
      ...(dateStyle ? { year: 'numeric', month: 'long', day: 'numeric' } : {}),
      hour: 'numeric',
      minute: '2-digit',
      second: '2-digit',
      fractionalSecondDigits: digits as 1 | 2 | 3,
    };
  return {
    ...(dateStyle ? { dateStyle } : {}),
    timeStyle: numberOf(seconds) > 0 ? 'medium' : 'short',
  };
}

/**
 * CLDR's half of a day is Latin for some, which no sentence of theirs has, and in Greek an
 * abbreviation whose point would stand before a sentence's own. In Thai years are counted
 * otherwise, and what is sent has those of the Gregorian calendar.
 */
const OWN_STYLE: Readonly<Record<string, Intl.DateTimeFormatOptions>> = keyed({
  ko: { hourCycle: 'h23' },
  el: { hourCycle: 'h23' },
  hi: { hourCycle: 'h23' },
  th: { calendar: 'gregory' },
});

/**
 * In full sentences some languages write the word for "year" behind the number, and not its
 * abbreviation, which ends with a point.
 */
const YEAR_WORD: Readonly<Record<string, string>> = keyed({ pl: 'roku', ru: 'года', uk: 'року' });
const YEAR_ABBREVIATION = /^\s*[гр]\.?(?=,|\s|$)/u;

/** What stands between a date and a time where CLDR has a blank and sentences a word. */
const BEFORE_CLOCK: Readonly<Record<string, string>> = keyed({ pl: ' o ', tr: ' saat ' });

/** What sentences have behind a time, and clocks do not. */
const AFTER_CLOCK: Readonly<Record<string, string>> = keyed({ de: '\u00a0Uhr', nl: '\u00a0uur' });

/** The first of a month, where it is an ordinal. */
const FIRST_DAY: Readonly<Record<string, string>> = keyed({ fr: '1er', pt: '1º' });

/** A date or a time as a sentence has it. */
function written(
  style: Intl.DateTimeFormatOptions,
  zone: string,
  at: Date,
  locale: Locale,
): string {
  const [language = ''] = locale.split('-');
  const [word, before] = [YEAR_WORD[language], BEFORE_CLOCK[language]];
  const first = locale === 'pt-PT' ? undefined : FIRST_DAY[language];
  const parts = formattersOf(locale).date(
    { ...style, ...((style.dateStyle ?? style.timeStyle) ? OWN_STYLE[language] : {}) },
    zone,
  );
  let text = '';
  let last = '';
  for (const { type, value } of parts.formatToParts(at)) {
    if (type === 'year' && word !== undefined) text += `${value} ${word}`;
    else if (type === 'day' && value === '1' && first !== undefined) text += first;
    else if (type === 'hour' && before !== undefined && text.endsWith(' '))
      text = text.trimEnd() + before + value;
    else
      text += last === 'year' && word !== undefined ? value.replace(YEAR_ABBREVIATION, '') : value;
    last = type;
  }
  return style.timeStyle || style.hour ? text + (AFTER_CLOCK[language] ?? '') : text;
}

/** What people call a zone at a time. */
function zoneName(zone: string, at: Date, locale: Locale): string {
  const parts = formattersOf(locale).date({ timeZoneName: 'short' }, zone).formatToParts(at);
  return parts.find(({ type }) => type === 'timeZoneName')?.value ?? zone;
}

const minutesOf = (offset: string): number => {
  const [, sign, hours = '0', minutes = '0'] = /^([+-])(\d{2}):?(\d{2})$/.exec(offset) ?? [];
  return (sign === '-' ? -1 : 1) * (numberOf(hours) * 60 + numberOf(minutes));
};

/** How far a zone is from UTC at a time, in minutes. */
function offsetIn(zone: string, at: Date): number {
  if (zone === 'UTC') return 0;
  const name = formattersOf('en' as Locale)
    .date({ timeZoneName: 'longOffset' }, zone)
    .formatToParts(at)
    .find(({ type }) => type === 'timeZoneName')?.value;
  return minutesOf(name?.replace('GMT', '') ?? '');
}

/**
 * A limit in words, as far as it goes: a date as a date, a time as a time, an instant with both, in
 * the zone; the zone is named where the value was not given in it.
 * @param value what was given, where it is known
 * @param zone the IANA zone of instants
 */
export function limitWords(
  limit: unknown,
  value: unknown,
  locale: Locale,
  zone: string,
): string | undefined {
  const kind = limitKind(limit);
  if (kind === undefined) return undefined;
  const text = limit instanceof Date ? limit.toISOString() : wordOf(limit);
  if (kind === 'date') return written({ dateStyle: 'long' }, 'UTC', new Date(text), locale);
  const say = (
    style: Intl.DateTimeFormatOptions,
    at: Date,
    where: string,
    isNamed: boolean,
  ): string =>
    written(style, where, at, locale) + (isNamed ? ` ${zoneName(where, at, locale)}` : '');
  if (kind === 'time') {
    const [, clock = '', offset] = CLOCK.exec(text) ?? [];
    const given = typeof value === 'string' ? CLOCK.exec(value)?.[2] : undefined;
    const same = offset === undefined || given?.toUpperCase() === offset.toUpperCase();
    return say(
      clockOf(`T${text}`, undefined),
      new Date(`1970-01-01T${clock}${same ? 'Z' : offset}`),
      'UTC',
      !same,
    );
  }
  const moment = momentOf(limit);
  if (!moment) return undefined;
  const style = clockOf(text, 'long');
  if (moment.zone) return say(style, moment.at, moment.zone, false);
  const given = typeof value === 'string' ? OFFSET.exec(value)?.[1] : undefined;
  const same =
    given !== undefined &&
    minutesOf(given.toUpperCase() === 'Z' ? '+00:00' : given) === offsetIn(zone, moment.at);
  return say(style, moment.at, zone, !same);
}
