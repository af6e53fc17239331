const DECIMAL = ['byte', 'kilobyte', 'megabyte', 'gigabyte', 'terabyte'] as const;
/** IEC 80000-13; CLDR has no names for these. */
const BINARY = ['', 'KiB', 'MiB', 'GiB', 'TiB'] as const;

/**
 * How often a number can be divided by a step without a remainder, at most as often as there are
 * units.
 */
function power(bytes: number, step: number): number {
  let times = 0;
  for (let left = bytes; left > 0 && left % step === 0 && times < DECIMAL.length - 1; left /= step)
    times += 1;
  return times;
}

/**
 * A size in bytes as a locale writes it, exactly: `5 MB`, `64 KiB`, `1,500 bytes`.
 * @param bytes a whole number from 0
 */
export function sizeText(bytes: number, locale: string): string {
  const binary = power(bytes, 1024);
  if (binary > 0)
    return `${new Intl.NumberFormat(locale).format(bytes / 1024 ** binary)}\u00a0${BINARY[binary] ?? ''}`;
  const decimal = power(bytes, 1000);
  const number = bytes / 1000 ** decimal;
  const unit = DECIMAL[decimal] ?? 'byte';
  if (decimal === 0)
    return new Intl.NumberFormat(locale, { style: 'unit', unit, unitDisplay: 'long' }).format(
      number,
    );
  // A symbol is the same for all numbers; CLDR's pattern for one puts it before the number in
  // Hebrew.
  const parts = new Intl.NumberFormat(locale, {
    style: 'unit',
    unit,
    unitDisplay: 'short',
  }).formatToParts(5);
  const figures = new Intl.NumberFormat(locale, { maximumFractionDigits: 20 }).format(number);
  return parts.map(({ type, value }) => (type === 'integer' ? figures : value)).join('');
}
