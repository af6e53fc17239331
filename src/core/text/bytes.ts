const DECIMAL = ['byte', 'kilobyte', 'megabyte', 'gigabyte', 'terabyte'] as const;
/** IEC 80000-13; CLDR has no names for these. */
const BINARY = ['', 'KiB', 'MiB', 'GiB', 'TiB'] as const;

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
    for (let power = 1; power < BINARY.length; power++) {
      const number = bytes / step ** power;
      if (number < 1 || !Number.isInteger(number * 100)) continue;
      if (digits(number) < digits(best.number)) best = { number, step, power };
    }
  return best;
}

/**
 * A size in bytes as a locale writes it, exactly: `5 MB`, `1.5 MB`, `64 KiB`, `1,234 bytes`.
 * @param bytes a whole number from 0
 */
export function sizeText(bytes: number, locale: string): string {
  const { number, step, power } = shortest(bytes);
  const unit = DECIMAL[power] ?? 'byte';
  const style = 'unit';
  if (power === 0)
    return new Intl.NumberFormat(locale, { style, unit, unitDisplay: 'long' }).format(number);
  // A symbol is the same for all numbers; CLDR's pattern for one puts it before the number in
  // Hebrew.
  const parts = new Intl.NumberFormat(locale, { style, unit, unitDisplay: 'short' });
  const figures = new Intl.NumberFormat(locale, { maximumFractionDigits: 2 }).format(number);
  const symbol = step === 1024 ? BINARY[power] : undefined;
  return parts
    .formatToParts(5)
    .map(({ type, value }) =>
      type === 'integer' ? figures : type === 'unit' ? (symbol ?? value) : value,
    )
    .join('');
}
