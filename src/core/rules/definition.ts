/** What a parameter of a rule is written as, in a sheet and in a violation. */
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
  | 'date'
  | 'field'
  | 'table'
  | 'column'
  | 'conditions'
  | 'names';

export interface Parameter {
  readonly name: string;
  readonly type: ParameterType;
  /** One line for the reference. */
  readonly about: string;
  readonly optional?: true;
}

/** What a message may do with an argument: insert it, count with it, compare it (`select`), list it, write it as a date. */
export type ArgumentKind = 'text' | 'number' | 'key' | 'list' | 'date';

export interface ArgumentDefinition {
  readonly name: string;
  readonly kind: ArgumentKind;
  readonly about: string;
  /** A value that it might have, for samples. */
  readonly sample: string | number | readonly string[];
}

export type Family = 'presence' | 'kind' | 'size' | 'bound' | 'text' | 'choice' | 'relation' | 'schema';

/** One rule of the vocabulary. The first parameter is the one that a sheet may give without a name. */
export interface RuleDefinition {
  readonly id: string;
  readonly family: Family;
  readonly about: string;
  /** What the rule looks at; other values pass it. */
  readonly appliesTo: 'any' | 'text' | 'number' | 'array' | 'object' | 'date';
  readonly parameters: readonly Parameter[];
  readonly arguments: readonly ArgumentDefinition[];
  /** Whether another field can stand for the parameter: `{ field: other }`, told to messages as `counterpart`. */
  readonly bySibling?: true;
}

export const flag: Parameter = { name: 'holds', type: 'flag', about: 'true' };

export const argument = (
  name: string,
  kind: ArgumentKind,
  sample: ArgumentDefinition['sample'],
  about: string,
): ArgumentDefinition => ({ name, kind, sample, about });

export const actual = (of: string, sample: number): ArgumentDefinition =>
  argument('actual', 'number', sample, `the number of ${of} given`);

/** Told with every bound that another field can give. */
export const boundArguments: readonly ArgumentDefinition[] = [
  argument('bound', 'key', 'value', '`field` where another field gives the bound, `today` where the day does, else `value`'),
  argument('counterpart', 'text', 'other field', 'the label of the other field'),
];
