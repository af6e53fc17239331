import type { Found } from './table.js';
/** The type of a rule's parameter, in a sheet and in a violation. */
export type ParameterType =
  | 'flag'
  | 'count'
  | 'number'
  | 'text'
  | 'regex'
  | 'value'
  | 'list'
  | 'types'
  | 'format'
  | 'option'
  | 'date'
  | 'field'
  | 'table'
  | 'column'
  | 'conditions'
  | 'names'
  | 'paths';

export interface Parameter {
  readonly name: string;
  readonly type: ParameterType;
  /** One line for the reference. */
  readonly about: string;
  /** The unit that it counts or measures, where it is a number. */
  readonly unit?: string;
  readonly optional?: true;
  /** Of an option: what there is to choose from. */
  readonly options?: readonly string[];
  /** Of a flag: the value that switches the rule on; true where absent. */
  readonly on?: false;
}

/**
 * The uses of an argument in a message: insert it, count with it, compare it (`select`), list it,
 * format it as a date.
 */
export type ArgumentKind = 'text' | 'number' | 'key' | 'list' | 'date';

export interface ArgumentDefinition {
  readonly name: string;
  readonly kind: ArgumentKind;
  readonly about: string;
  /** A value that it might have, for samples. */
  readonly sample: string | number | readonly string[];
}

export type Family =
  'presence' | 'kind' | 'size' | 'bound' | 'text' | 'choice' | 'relation' | 'schema';

export type Params = Readonly<Record<string, unknown>>;

/**
 * The surroundings that a test may use besides the value. The caller passes them, so the core needs
 * no clock and no file.
 */
export interface Probe {
  /** Returns the value of the other field that the use names; undefined where it was not given. */
  readonly other: () => unknown;
  /**
   * Returns the value of another field, by its path from the root; its open places are those of the
   * current field.
   */
  readonly field: (path: string) => unknown;
  /** Today's date in the zone, such as 2027-02-01. */
  readonly today: () => string;
  /** The IANA zone in which an instant belongs to a day. */
  readonly zone: string;
  /** Whether a text matches a regular expression; undefined where that took too long. */
  readonly matches: (regex: string, text: string) => boolean | undefined;
  readonly hasFormat: (format: string, text: string) => boolean;
  /** Finds the value in the table's column; undefined where there is no such column. */
  readonly looksUp: (params: Params, value: unknown) => Found | undefined;
  /** Whether the field asks, by another use of the rule, for no more than that a row is there. */
  readonly asksPlainly: () => boolean;
  /** Whether the form declares a member of the object in hand. */
  readonly declares: (member: string) => boolean;
}

/** True for a valid value; else the parameters of each violation besides the declared ones. */
export type Verdict = true | Params | readonly Params[];

export type Test = (value: unknown, params: Params, probe: Probe) => Verdict;

/**
 * One rule of the vocabulary. The first parameter is the one that a sheet may give without a name.
 */
export interface RuleDefinition {
  readonly id: string;
  readonly family: Family;
  readonly about: string;
  /** The type that the rule checks; other values pass. */
  readonly appliesTo: 'any' | 'text' | 'number' | 'array' | 'object' | 'date';
  readonly parameters: readonly Parameter[];
  readonly arguments: readonly ArgumentDefinition[];
  /**
   * Whether another field can stand for the parameter: `{ field: other }`, which messages get as
   * `counterpart`.
   */
  readonly bySibling?: true;
  /** Whether the rule looks at fields that were not given; all others pass those. */
  readonly looksAtAbsent?: true;
  /** The rule itself. Absent for rules that only a schema can state. */
  readonly test?: Test;
}

/** Turns a condition into a verdict without parameters of its own. */
export const holds = (fine: boolean): Verdict => fine || {};

export const flag: Parameter = { name: 'holds', type: 'flag', about: 'true' };

export const argument = (
  name: string,
  kind: ArgumentKind,
  sample: ArgumentDefinition['sample'],
  about: string,
): ArgumentDefinition => ({ name, kind, sample, about });

export const actual = (of: string, sample: number): ArgumentDefinition =>
  argument('actual', 'number', sample, `the number of ${of} given`);

/** The arguments of every bound that another field can give. */
export const boundArguments: readonly ArgumentDefinition[] = [
  argument(
    'bound',
    'key',
    'value',
    '`field` where another field gives the bound, `today` where the day does, else `value`',
  ),
  argument('counterpart', 'text', 'other field', 'the label of the other field'),
];
