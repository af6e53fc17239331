import { Memo } from '../base/memo.js';
import { momentOf, type Moment } from '../message/moment.js';

const CLOCK = /^\d{2}:\d{2}/;
const ZONED_CLOCK = /^\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:\d{2})$/i;
const DAY = /^([+-]\d{6}|\d{4})-\d{2}-\d{2}$/;

function read(value: unknown): Moment | undefined {
  // A time with an offset (RFC 3339 full-time) is compared as on one and the same day.
  if (typeof value === 'string' && ZONED_CLOCK.test(value)) return momentOf(`1970-01-01T${value}`);
  return momentOf(value);
}

const PARTS = { year: 'numeric', month: '2-digit', day: '2-digit' } as const;
const zones = new Memo<Intl.DateTimeFormat>();

/** The day on which a moment falls in a zone, as YYYY-MM-DD. */
export function dayOf({ at, zone: own }: Moment, zone: string): string {
  const named = own ?? zone;
  if (named === 'UTC') return at.toISOString().slice(0, 10);
  const make = (): Intl.DateTimeFormat =>
    new Intl.DateTimeFormat('en-CA-u-ca-iso8601', { timeZone: named, ...PARTS });
  return zones.getOrMake(named, make).format(at);
}

/**
 * Compares two dates or times: -1, 0 or 1, or undefined where one of them is none or the two have
 * nothing in common. Where one of them is a day, days are compared, an instant's by the zone.
 */
export function compareTimes(one: unknown, other: unknown, zone: string): -1 | 0 | 1 | undefined {
  const [first, second] = [read(one), read(other)];
  if (!first || !second) return undefined;
  const isClock = (value: unknown): boolean => typeof value === 'string' && CLOCK.test(value);
  if (isClock(one) !== isClock(other)) return undefined;
  const isDay = (value: unknown): boolean => typeof value === 'string' && DAY.test(value);
  const [a, b] =
    isDay(one) || isDay(other)
      ? [dayOf(first, zone), dayOf(second, zone)]
      : [first.at.getTime(), second.at.getTime()];
  return a < b ? -1 : a > b ? 1 : 0;
}

/** Whether a value is a date or a time that others can be held against. */
export const isTime = (value: unknown): boolean => read(value) !== undefined;
