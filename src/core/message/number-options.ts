/**
 * How a number is written: what `Intl.NumberFormat` is asked for, after multiplying by `scale`, a
 * decimal number.
 */
export interface NumberStyle {
  readonly options: Intl.NumberFormatOptions;
  readonly scale?: string;
  /** Whether the currency is the one of the locale's region. */
  readonly localCurrency?: boolean;
}

// ICU rounds half to even; Intl's own default is half away from zero. TypeScript's library lags
// behind in this option.
export const rounding = (roundingMode: string): Intl.NumberFormatOptions =>
  ({ roundingMode }) as Intl.NumberFormatOptions;
export const HALF_EVEN = rounding('halfEven');

/** How a number is written where nothing is said: `#`, and `{n, number}`. */
export const STANDARD: NumberStyle = { options: { ...HALF_EVEN, maximumFractionDigits: 3 } };
/** A bound or a value with all its digits. */
export const EXACT: NumberStyle = { options: { ...HALF_EVEN, maximumFractionDigits: 20 } };
