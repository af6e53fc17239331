const DECIMAL = /^([+-]?)(\d*)(?:\.(\d*))?(?:e([+-]?\d+))?$/i;

/**
 * A decimal number as `Intl` and `BigInt` take it: an integer, and how often it is to be multiplied
 * by ten.
 */
interface Decimal {
  readonly integer: bigint;
  readonly exponent: number;
}

function decimalOf(text: string): Decimal | undefined {
  const [, sign = '', whole = '', fraction = '', exponent = '0'] = DECIMAL.exec(text) ?? [];
  if (whole + fraction === '') return undefined;
  const integer = BigInt(whole + fraction);
  return {
    integer: sign === '-' ? -integer : integer,
    exponent: Number(exponent) - fraction.length,
  };
}

/**
 * Two numbers multiplied as one does on paper: 0.575 times 100 is 57.5, not 57.49999999999999.
 * @returns the product in digits and an exponent, such as `5750e-1`; of what is not finite or
 * nothing, the product of floats
 */
export function product(value: number | bigint, factor: string): string {
  const [one, other] = [value === 0 ? undefined : decimalOf(String(value)), decimalOf(factor)];
  if (!one || !other) return String(Number(value) * Number(factor));
  return `${one.integer * other.integer}e${one.exponent + other.exponent}`;
}
