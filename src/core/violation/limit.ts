import { numberOf, wordOf } from '../text/outer.js';
import type { Locale } from '../locale/tag.js';
import { formattersOf } from '../message/formatters.js';
import { momentOf } from '../message/moment.js';

/** The parts of a limit: a date, a time, or both. */
export type LimitKind = 'date' | 'time' | 'instant';

const CLOCK = /^(\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)(Z|[+-]\d{2}:\d{2})?$/i;
const DATE = /^(?:[+-]\d{6}|\d{4})-\d{2}-\d{2}$/;
const OFFSET = /T.*?(Z|[+-]\d{2}:?\d{2})$/i;

/** Returns the options of a clock: without seconds where there are none. */
function clockOf(text: string): Intl.DateTimeFormatOptions {
  const [, seconds = '00', fraction = ''] = /\d:\d{2}:(\d{2})(?:\.(\d+))?/.exec(text) ?? [];
  const digits = Math.min(fraction.replace(/0+$/, '').length, 3);
  return digits > 0
    ? {
        hour: 'numeric',
        minute: '2-digit',
        second: '2-digit',
        fractionalSecondDigits: digits as 1 | 2 | 3,
      }
    : { timeStyle: numberOf(seconds) > 0 ? 'medium' : 'short' };
}

const DATE_ALONE = { year: 'numeric', month: 'long', day: 'numeric' } as const;

/**
 * How a language's dates and times are written in sentences. CLDR's half of a day is Latin for
 * some, which no sentence of theirs has, and in Greek an abbreviation whose point would stand
 * before a sentence's own. In Thai years are counted otherwise, and what is sent has those of the
 * Gregorian calendar.
 */
const ownStyle = (locale: Locale): Intl.DateTimeFormatOptions => ({
  ...(/^(?:ko|el|hi|ar|zh)\b/.test(locale) ? { hourCycle: 'h23' } : {}),
  ...(/^th\b/.test(locale) ? { calendar: 'gregory' } : {}),
});

/** Returns the name of a zone at a time. */
const zoneName = (
  zone: string,
  at: Date,
  locale: Locale,
  timeZoneName: 'short' | 'longOffset',
): string =>
  formattersOf(locale)
    .date({ timeZoneName }, zone)
    .formatToParts(at)
    .find(({ type }) => type === 'timeZoneName')?.value ?? zone;

/** An offset in minutes: `+05:30`, `GMT+05:30`; 0 of what names none. */
function minutesOf(offset: string): number {
  const [, sign = '', hours, minutes] = /([+-])(\d{2}):?(\d{2})$/.exec(offset) ?? [];
  return (sign && numberOf(`${sign}1`) * (numberOf(hours) * 60 + numberOf(minutes))) || 0;
}

/** A parsed limit: its parts, and its zone. */
export interface Limit {
  readonly kind: LimitKind;
  readonly at: Date;
  readonly zone: string;
  /** Whether the zone is named, since the value was not given in it. */
  readonly isNamed: boolean;
  /** How its clock is written. */
  readonly clock: Intl.DateTimeFormatOptions;
}

/**
 * Reads a limit: a date as a date, a time as a time, an instant with both, in the zone. Nothing of
 * what is neither date nor time.
 * @param value what was given, where it is known
 * @param zone the IANA zone of instants
 */
export function readLimit(limit: unknown, value: unknown, zone: string): Limit | undefined {
  const text = limit instanceof Date ? limit.toISOString() : wordOf(limit);
  const given = typeof value === 'string' ? value : '';
  const [, time, offset] = CLOCK.exec(text) ?? [];
  if (time !== undefined) {
    const isNamed =
      offset !== undefined && CLOCK.exec(given)?.[2]?.toUpperCase() !== offset.toUpperCase();
    const at = new Date(`1970-01-01T${time}${isNamed ? offset : 'Z'}`);
    return { kind: 'time', at, zone: 'UTC', isNamed, clock: clockOf(text) };
  }
  const moment = momentOf(limit);
  if (!moment) return undefined;
  const { at, zone: fixed } = moment;
  const sent = OFFSET.exec(given)?.[1];
  const isNamed =
    !fixed &&
    (sent === undefined ||
      minutesOf(sent) !== minutesOf(zoneName(zone, at, 'en' as Locale, 'longOffset')));
  const kind = DATE.test(text) ? 'date' : 'instant';
  return { kind, at, zone: fixed ?? zone, isNamed, clock: clockOf(text) };
}

/** The hour of a limit, from 0, or its day of the month. */
export const partOf = ({ at, zone }: Limit, part: 'hour' | 'day'): number =>
  numberOf(
    formattersOf('en' as Locale)
      .date({ [part]: 'numeric', hourCycle: 'h23' }, zone)
      .format(at),
  );

/** Joins parts as a frame of the language says, where it says anything. */
export type JoinParts = (
  frame: 'date' | 'clock' | 'moment',
  parts: Readonly<Record<string, string | number>>,
) => string | undefined;

/** A limit in words. Where no frame says how, CLDR writes the date, and joins it and the time. */
export function limitWords(limit: Limit, locale: Locale, join: JoinParts): string {
  const { kind, at, zone, isNamed, clock } = limit;
  const partsIn = (style: Intl.DateTimeFormatOptions): Intl.DateTimeFormatPart[] =>
    formattersOf(locale)
      .date({ ...style, ...ownStyle(locale) }, zone)
      .formatToParts(at);
  // Engines put a plain space into a whole text where CLDR has one that does not break.
  const write = (style: Intl.DateTimeFormatOptions): string =>
    partsIn(style)
      .map(({ value }) => value)
      .join('');
  const inZone = (text: string): string =>
    text + (isNamed ? ` ${zoneName(zone, at, locale, 'short')}` : '');
  const dateText = (): string => {
    const parts = partsIn(DATE_ALONE).map(({ type, value }) => [
      type,
      type === 'day' ? numberOf(value) : value,
    ]);
    return join('date', Object.fromEntries(parts) as Record<string, string>) ?? write(DATE_ALONE);
  };
  const timeText = (): string => {
    const time = write(clock);
    return inZone(join('clock', { time }) ?? time);
  };
  if (kind !== 'instant') return kind === 'date' ? dateText() : timeText();
  const parts = { date: dateText(), time: timeText(), hour: partOf(limit, 'hour') };
  const whole = clock.timeStyle ? { dateStyle: 'long' as const } : DATE_ALONE;
  return join('moment', parts) ?? inZone(write({ ...whole, ...clock }));
}
