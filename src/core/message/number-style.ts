import { closest } from '../text/closest.js';
import { HALF_EVEN, STANDARD, rounding, type NumberStyle } from './number-options.js';
import { MessageError } from './syntax-error.js';
import { keyed } from '../base/keyed.js';

/** A setting that a skeleton may have once; ICU refuses a second one. */
type Aspect =
  | 'notation'
  | 'unit'
  | 'per'
  | 'precision'
  | 'rounding'
  | 'grouping'
  | 'integer'
  | 'system'
  | 'width'
  | 'sign'
  | 'decimal'
  | 'scale';

interface Draft {
  options: Intl.NumberFormatOptions;
  scale?: string;
}

const KEYWORDS: Record<string, NumberStyle> = keyed({
  '': STANDARD,
  integer: { options: { ...HALF_EVEN, maximumFractionDigits: 0 } },
  percent: { options: { ...HALF_EVEN, style: 'percent', maximumFractionDigits: 0 } },
  currency: { options: { ...HALF_EVEN, style: 'currency' }, localCurrency: true },
});

const percent: Intl.NumberFormatOptions = { style: 'unit', unit: 'percent' };

/**
 * Stems without options, by ICU's number skeletons; the concise ones (`K`, `+!`, `,_`) beside the
 * long.
 */
const STEMS: Record<
  string,
  {
    readonly says: readonly Aspect[];
    readonly options: Intl.NumberFormatOptions;
    readonly scale?: string;
  }
> = keyed();
const stem = (says: Aspect, names: string, options: Intl.NumberFormatOptions): void => {
  for (const name of names.split(' ')) STEMS[name] = { says: [says], options };
};
stem('unit', 'percent %', percent);
STEMS['%x100'] = { says: ['unit', 'scale'], options: percent, scale: '100' };
stem('unit', 'base-unit', {});
stem('notation', 'compact-short K', { notation: 'compact', compactDisplay: 'short' });
stem('notation', 'compact-long KK', { notation: 'compact', compactDisplay: 'long' });
stem('notation', 'scientific E0', { notation: 'scientific' });
stem('notation', 'engineering EE0', { notation: 'engineering' });
stem('notation', 'notation-simple', { notation: 'standard' });
stem('sign', 'sign-auto', { signDisplay: 'auto' });
stem('sign', 'sign-always +!', { signDisplay: 'always' });
stem('sign', 'sign-never +_', { signDisplay: 'never' });
stem('sign', 'sign-except-zero +?', { signDisplay: 'exceptZero' });
stem('sign', 'sign-negative +-', { signDisplay: 'negative' });
stem('sign', 'sign-accounting ()', { currencySign: 'accounting', signDisplay: 'auto' });
stem('sign', 'sign-accounting-always ()!', { currencySign: 'accounting', signDisplay: 'always' });
stem('sign', 'sign-accounting-except-zero ()?', {
  currencySign: 'accounting',
  signDisplay: 'exceptZero',
});
stem('grouping', 'group-off ,_', { useGrouping: false });
stem('grouping', 'group-auto', { useGrouping: 'auto' } as unknown as Intl.NumberFormatOptions);
stem('grouping', 'group-min2 ,?', { useGrouping: 'min2' } as unknown as Intl.NumberFormatOptions);
stem('grouping', 'group-on-aligned ,!', {
  useGrouping: 'always',
} as unknown as Intl.NumberFormatOptions);
stem('precision', 'precision-integer .', { maximumFractionDigits: 0 });
stem('precision', 'precision-unlimited .+ .*', { maximumFractionDigits: 20 });
stem('width', 'unit-width-narrow', { unitDisplay: 'narrow', currencyDisplay: 'narrowSymbol' });
stem('width', 'unit-width-short', { unitDisplay: 'short', currencyDisplay: 'symbol' });
stem('width', 'unit-width-full-name', { unitDisplay: 'long', currencyDisplay: 'name' });
stem('width', 'unit-width-iso-code', { currencyDisplay: 'code' });
stem('system', 'latin', { numberingSystem: 'latn' });
stem('decimal', 'decimal-auto', {});
for (const [name, mode] of Object.entries({
  ceiling: 'ceil',
  floor: 'floor',
  down: 'trunc',
  up: 'expand',
  'half-even': 'halfEven',
  'half-down': 'halfTrunc',
  'half-up': 'halfExpand',
  'half-ceiling': 'halfCeil',
  'half-floor': 'halfFloor',
}))
  stem('rounding', `rounding-mode-${name}`, rounding(mode));

type Refuse = (reason: string) => never;

/**
 * The units that ECMA-402 can write (table 2, "Sanctioned single units"), by CLDR's type, which
 * `measure-unit/` names first.
 */
const UNIT_TYPES: Readonly<Record<string, string>> = keyed({
  angle: 'degree',
  area: 'acre hectare',
  concentr: 'percent',
  digital: 'bit byte gigabit gigabyte kilobit kilobyte megabit megabyte petabyte terabit terabyte',
  duration: 'day hour microsecond millisecond minute month nanosecond second week year',
  length: 'centimeter foot inch kilometer meter mile mile-scandinavian millimeter yard',
  mass: 'gram kilogram ounce pound stone',
  temperature: 'celsius fahrenheit',
  volume: 'fluid-ounce gallon liter milliliter',
});

/**
 * The unit of `length-meter`; the type is CLDR's, or this is another unit, whose first word must
 * not be lost.
 */
function withoutType(option: string, refuse: Refuse): string {
  const at = option.indexOf('-');
  const [type, unit] = [option.slice(0, at), option.slice(at + 1)];
  if (Object.hasOwn(UNIT_TYPES, type) && UNIT_TYPES[type]?.split(' ').includes(unit)) return unit;
  return refuse(
    `"${option}" is not a unit with its type, as in "measure-unit/length-meter"; write "unit/meter" without it`,
  );
}

function setUnit(draft: Draft, unit: string, refuse: Refuse, stem: string): void {
  const near = closest(unit, Intl.supportedValuesOf('unit'));
  if (!isUnit(unit))
    refuse(
      `"${unit}" is not a unit that Intl can write` +
        (near ? `, did you mean "${stem}${near}"?` : ''),
    );
  Object.assign(draft.options, { style: 'unit', unit });
}

/** Stems with one option behind a slash. */
const STEMS_WITH_OPTION: Record<string, (draft: Draft, option: string, refuse: Refuse) => void> =
  keyed({
    scale(draft, option, refuse) {
      if (!/^-?(\d+\.?\d*|\.\d+)$/.test(option))
        refuse('a scale is a decimal number, as in "scale/100"');
      draft.scale = option;
    },
    currency(draft, option, refuse) {
      if (!/^[A-Za-z]{3}$/.test(option))
        refuse('a currency has three letters (ISO 4217), as in "currency/EUR"');
      Object.assign(draft.options, { style: 'currency', currency: option.toUpperCase() });
    },
    unit(draft, option, refuse) {
      setUnit(draft, option, refuse, 'unit/');
    },
    'measure-unit'(draft, option, refuse) {
      setUnit(draft, withoutType(option, refuse), refuse, 'unit/');
    },
    'per-measure-unit'(draft, option, refuse) {
      const unit = `${draft.options.unit ?? ''}-per-${withoutType(option, refuse)}`;
      if (!isUnit(unit)) refuse(`"${unit}" is not a unit that Intl can write`);
      draft.options.unit = unit;
    },
    'numbering-system'(draft, option, refuse) {
      if (!Intl.supportedValuesOf('numberingSystem').includes(option))
        refuse(`"${option}" is not a numbering system`);
      draft.options.numberingSystem = option;
    },
    'integer-width'(draft, option, refuse) {
      // Without the sign in front, ICU cuts off what is before these digits: 1234 becomes 34.
      const digits =
        /^[+*](0+)$/.exec(option)?.[1] ??
        refuse('an integer width is written as in "integer-width/+000"');
      draft.options.minimumIntegerDigits = digits.length;
    },
    'precision-increment'(draft, option, refuse) {
      const fraction = /^\d+(?:\.(\d+))?$/.exec(option);
      const increment = Number(option.replace('.', ''));
      if (!fraction || !INCREMENTS.has(increment))
        refuse(
          'an increment is 1, 2, 5, 10, 20, 25 or 50 (or these with decimals), as in "precision-increment/0.05"',
        );
      const digits = fraction?.[1]?.length ?? 0;
      Object.assign(draft.options, {
        roundingIncrement: increment,
        minimumFractionDigits: digits,
        maximumFractionDigits: digits,
      });
    },
  });

const SAID_BY: Readonly<Record<string, readonly Aspect[]>> = keyed({
  scale: ['scale'],
  currency: ['unit'],
  // A whole unit, with what it is divided by.
  unit: ['unit', 'per'],
  'measure-unit': ['unit'],
  'per-measure-unit': ['per'],
  'numbering-system': ['system'],
  'integer-width': ['integer'],
  'precision-increment': ['precision'],
});

const INCREMENTS = new Set([1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000, 2500, 5000]);

function isUnit(unit: string): boolean {
  try {
    new Intl.NumberFormat('en', { style: 'unit', unit });
    return true;
  } catch {
    return false;
  }
}

/**
 * `.00`, `.##`, `.0#`, `.00*`: digits of the fraction; `@@#`: significant digits; `000`: digits of
 * the integer part.
 */
function digits(draft: Draft, token: string): Aspect | undefined {
  const fraction = /^\.(0+)([*+])$|^\.(0*)(#*)$/.exec(token);
  if (fraction) {
    const [, atLeast, open, zeros = '', more = ''] = fraction;
    const least = atLeast ?? zeros;
    draft.options.minimumFractionDigits = least.length;
    draft.options.maximumFractionDigits = open ? 20 : least.length + more.length;
    return 'precision';
  }
  const significant = /^(@+)(?:([*+])|(#*))$/.exec(token);
  if (significant) {
    const [, least = '', open, more = ''] = significant;
    draft.options.minimumSignificantDigits = least.length;
    draft.options.maximumSignificantDigits = open ? 21 : least.length + more.length;
    return 'precision';
  }
  if (!/^0+$/.test(token)) return undefined;
  draft.options.minimumIntegerDigits = token.length;
  return 'integer';
}

/** Parses one token of a skeleton, and returns its setting. */
function take(draft: Draft, token: string, refuse: Refuse): readonly Aspect[] {
  const simple = Object.hasOwn(STEMS, token) ? STEMS[token] : undefined;
  if (simple) {
    Object.assign(draft.options, simple.options);
    if (simple.scale !== undefined) draft.scale = simple.scale;
    return simple.says;
  }
  const [name = '', option] = token.split(/\/(.*)/s);
  const optioned = Object.hasOwn(STEMS_WITH_OPTION, name) ? STEMS_WITH_OPTION[name] : undefined;
  if (optioned) {
    optioned(draft, option ?? '', refuse);
    return SAID_BY[name] ?? [];
  }
  const says = digits(draft, token);
  if (says) return [says];
  const near = closest(token, [
    ...Object.keys(STEMS),
    ...Object.keys(STEMS_WITH_OPTION).map((one) => `${one}/…`),
  ]);
  return refuse(
    near
      ? `did you mean "${near}"?`
      : 'write stems such as ".00", "percent", "scale/100", "currency/EUR", "compact-short"',
  );
}

function parseSkeleton(skeleton: string, offset: number): NumberStyle {
  const draft: Draft = { options: { ...HALF_EVEN } };
  const said = new Map<Aspect, string>();
  for (const found of skeleton.matchAll(/\S+/g)) {
    const token = found[0];
    const refuse: Refuse = (reason) => {
      throw new MessageError(
        `"${token}" is not understood in a number skeleton`,
        offset + found.index,
        reason,
      );
    };
    for (const aspect of take(draft, token, refuse)) {
      const before = said.get(aspect);
      if (before !== undefined)
        throw new MessageError(
          `"${before}" and "${token}" say the same thing of a number`,
          offset + found.index,
          'keep one of the two',
        );
      said.set(aspect, token);
    }
  }
  const { options } = draft;
  const rounded =
    options.maximumFractionDigits !== undefined || options.maximumSignificantDigits !== undefined;
  // ICU's skeletons stop at six decimals where nothing is said; a currency and the compact forms
  // have rules of their own.
  if (!rounded && options.style !== 'currency' && options.notation !== 'compact')
    options.maximumFractionDigits = 6;
  return draft;
}

/**
 * Reads the style of `{n, number, …}`: a keyword, or a skeleton behind `::`.
 * @param offset where the style starts in the message, for errors
 * @throws {MessageError}
 */
export function parseNumberStyle(text: string | undefined, offset: number): NumberStyle {
  const style = text?.trim() ?? '';
  if (style.startsWith('::'))
    return parseSkeleton(style.slice(2), offset + (text ?? '').indexOf('::') + 2);
  const keyword = Object.hasOwn(KEYWORDS, style) ? KEYWORDS[style] : undefined;
  if (keyword) return keyword;
  const digitsOnly = /[#0]/.test(style);
  throw new MessageError(
    `"${style}" is not a number style`,
    offset,
    digitsOnly
      ? 'old patterns are not supported, write a skeleton such as "::.00"'
      : 'write integer, percent, currency or a skeleton such as "::.00"',
  );
}
