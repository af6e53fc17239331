import { keyed } from '../../core/base/keyed.js';

/** The formats of whole numbers (OpenAPI Format Registry), as the keywords that say the same. */
export const WHOLE_NUMBERS: Readonly<
  Record<string, readonly [min: number, max: number] | undefined>
> = keyed({
  int32: [-(2 ** 31), 2 ** 31 - 1],
  int64: [-(2 ** 63), 2 ** 63],
});

/** Puts the format of a whole number into the keywords that say the same. */
export function boundedWhole(schema: Record<string, unknown>): void {
  const bounds = typeof schema.format === 'string' ? WHOLE_NUMBERS[schema.format] : undefined;
  const types: unknown[] = Array.isArray(schema.type) ? schema.type : [schema.type];
  if (!bounds || !types.some((type) => type === 'integer' || type === 'number')) return;
  const whole = [...new Set(types.map((type) => (type === 'number' ? 'integer' : type)))];
  schema.type = whole.length === 1 ? whole[0] : whole;
  delete schema.format;
  if (schema.minimum === undefined && schema.exclusiveMinimum === undefined)
    schema.minimum = bounds[0];
  if (schema.maximum === undefined && schema.exclusiveMaximum === undefined)
    schema.maximum = bounds[1];
}
