/** A point in time to be written, and the zone to write it in where the value itself fixes it. */
export interface Moment {
  readonly at: Date;
  /** `UTC` for what names a day or a time on the wall: it must read the same everywhere. */
  readonly zone?: 'UTC';
}

const DATE = /^([+-]\d{6}|\d{4})-(\d{2})-(\d{2})$/;
const CLOCK = /^\d{2}:\d{2}(:\d{2}(\.\d+)?)?$/;
const INSTANT = /T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:?\d{2})$/i;
const LOCAL = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d+)?)?$/i;

const valid = (moment: Moment): Moment | undefined =>
  Number.isNaN(moment.at.getTime()) ? undefined : moment;

/**
 * Reads a value as a date or time: a `Date`, milliseconds since 1970, or a text by ISO 8601 (RFC
 * 3339). A date alone, a time alone and a date-time without an offset are taken as they stand; an
 * instant is left to the zone of whoever writes it.
 */
export function momentOf(value: unknown): Moment | undefined {
  if (value instanceof Date) return valid({ at: value });
  if (typeof value === 'number') return valid({ at: new Date(value) });
  if (typeof value !== 'string') return undefined;
  const date = DATE.exec(value);
  if (date) {
    const moment = valid({ at: new Date(value), zone: 'UTC' });
    // Engines roll 31 February over into March; a day that does not exist is not a date.
    return moment?.at.getUTCDate() === Number(date[3]) ? moment : undefined;
  }
  if (CLOCK.test(value)) return valid({ at: new Date(`1970-01-01T${value}Z`), zone: 'UTC' });
  if (LOCAL.test(value)) return valid({ at: new Date(`${value}Z`), zone: 'UTC' });
  return INSTANT.test(value) ? valid({ at: new Date(value) }) : undefined;
}
