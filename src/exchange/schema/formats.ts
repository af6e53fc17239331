import { fullFormats } from 'ajv-formats/dist/formats.js';
import type { Format } from 'ajv';

/** Longer texts have none of the formats; a regular expression is not even tried on them. */
const LONGEST = 65_536;

function test(format: Format, text: string): boolean {
  if (format instanceof RegExp) return format.test(text);
  if (typeof format === 'function') return format(text);
  if (typeof format === 'string') return new RegExp(format, 'u').test(text);
  if (typeof format === 'boolean') return format;
  const { validate } = format;
  // Formats of numbers and asynchronous ones are none that a text can break.
  if (typeof validate === 'string') return new RegExp(validate, 'u').test(text);
  if (validate instanceof RegExp) return validate.test(text);
  return typeof validate !== 'function' || (validate as (value: string) => unknown)(text) === true;
}

const known: ReadonlyMap<string, Format> = new Map(Object.entries(fullFormats));

/** Whether a text has a format; one that nobody knows is not asserted (JSON Schema Validation section 7.2.3). */
export function hasFormat(name: string, text: string): boolean {
  const format = known.get(name);
  if (format === undefined) return true;
  if (typeof format === 'object' && !(format instanceof RegExp) && format.type === 'number') return true;
  return text.length <= LONGEST && test(format, text);
}

/** The formats of texts by name, each bounded, for a validator. */
export const FORMATS: readonly string[] = [...known].flatMap(([name, format]) =>
  typeof format === 'object' && !(format instanceof RegExp) && format.type === 'number' ? [] : [name],
);

export const NUMBER_FORMATS: readonly (readonly [string, Format])[] = [...known].filter(([name]) => !FORMATS.includes(name));
