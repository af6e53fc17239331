/** The prefixes of "byte", by power of a thousand. */
const PREFIXES = ['', 'kilo', 'mega', 'giga', 'tera'];

/** A size in a unit: how often that was multiplied by itself, and its steps. */
interface Size {
  readonly number: number;
  readonly step: number;
  readonly power: number;
}

/** The unit in which a size has the fewest digits, exactly; of two alike the decimal one. */
function shortest(bytes: number): Size {
  let best: Size = { number: bytes, step: 1000, power: 0 };
  const digits = (number: number): number => String(number).replace('.', '').length;
  for (const step of [1000, 1024])
    for (let power = 1; power < PREFIXES.length; power++) {
      const number = bytes / step ** power;
      if (number < 1 || !Number.isInteger(number * 100)) continue;
      if (digits(number) < digits(best.number)) best = { number, step, power };
    }
  return best;
}

/**
 * A size in bytes as a locale writes it, exactly: `5 MB`, `1.5 MB`, `64 KiB`, `1,234 bytes`.
 * @param bytes a whole number from 0
 * @param word what the language says of a unit, where its catalog does: of a number of bytes
 * (`byte`, with `count`), and in place of symbols (`megabyte`; `KiB`, for which CLDR has no names)
 */
export function sizeText(
  bytes: number,
  locale: string,
  word: (unit: string, args?: Readonly<Record<string, unknown>>) => string | undefined,
): string {
  const { number, step, power } = shortest(bytes);
  const prefix = PREFIXES[power] ?? '';
  const unit = `${prefix}byte`;
  const formatOf = (unitDisplay: 'long' | 'short'): Intl.NumberFormat =>
    new Intl.NumberFormat(locale, { style: 'unit', unit, unitDisplay });
  if (power === 0) return word(unit, { count: number }) ?? formatOf('long').format(number);
  const figures = new Intl.NumberFormat(locale).format(number);
  const symbol = step > 1000 && `${prefix.charAt(0).toUpperCase()}iB`;
  // A symbol is the same for all numbers; CLDR's pattern for one puts it before the number in
  // Hebrew.
  return formatOf('short')
    .formatToParts(5)
    .map(({ type, value }) =>
      type === 'integer'
        ? figures
        : type === 'unit'
          ? (word(symbol || unit) ?? (symbol || value))
          : value,
    )
    .join('');
}
