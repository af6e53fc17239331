import { parsePattern, PathSyntaxError, type Path, type Pattern } from '../path/path.js';
import { enclosingElements } from '../path/places.js';
import { parsePointer, PointerSyntaxError } from '../path/pointer.js';
import type { FormIndex } from '../rules/form-index.js';
import type { FieldPlace, RuleUse } from '../rules/form.js';
import { formatSaid } from '../rules/format-names.js';
import { sizeText } from '../text/bytes.js';
import { selectKey } from '../text/identifier.js';
import { cleaned, MASK, measured, valueText } from '../text/value.js';
import type { Violation } from './violation.js';
import { said, type Speech, type Wording, type Words } from './words.js';

type Params = Readonly<Record<string, unknown>>;

/** Works one argument out of what is known only when a rule breaks. */
export type Late = (violation: Violation, params: Params, path: Path) => unknown;

/** Everything about one rule at one class of paths that does not change from one violation to the next. */
export interface Setting {
  readonly form: FormIndex;
  readonly pattern: Pattern;
  readonly place: FieldPlace;
  readonly rule: string;
  readonly use: RuleUse | undefined;
  readonly words: Words;
  readonly speech: Speech;
}

function typeKey(expected: unknown): string {
  const names = (Array.isArray(expected) ? (expected as unknown[]) : [expected]).filter((name) => name !== 'null');
  return names.length === 1 ? selectKey(String(names[0])) : 'several';
}

/** A parameter as an argument, by what it is. */
function loosely(value: unknown, { words, pattern, place, speech }: Setting, path: Path): unknown {
  if (typeof value === 'number' || typeof value === 'bigint' || value === undefined || value === null) return value;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return said(words.choices(value, pattern, place, speech), path);
  return valueText(value, speech.limit);
}

const sameList = (one: readonly unknown[], other: readonly unknown[]): boolean =>
  one === other || (one.length === other.length && one.every((value, at) => value === other[at]));

/** A parameter of this name. Lists come again with every violation, so what the last one says is kept. */
function parameter(name: string, setting: Setting): Late {
  const { words, pattern, place, speech } = setting;
  let list: readonly unknown[] | undefined;
  let wording: Wording = '';
  return (_, params, path) => {
    const value = Object.hasOwn(params, name) ? params[name] : undefined;
    if (typeof value === 'number') return value;
    if (!Array.isArray(value)) return loosely(value, setting, path);
    if (!list || !sameList(list, value)) [list, wording] = [value as unknown[], words.choices(value, pattern, place, speech)];
    return said(wording, path);
  };
}

function counterpartOf(params: Params, use: RuleUse | undefined): Pattern | undefined {
  const named = params.counterpart ?? params.field;
  if (typeof named !== 'string') return use?.counterpart;
  try {
    return /^#?\//.test(named) ? parsePointer(named) : parsePattern(named);
  } catch (error) {
    if (error instanceof PathSyntaxError || error instanceof PointerSyntaxError) return use?.counterpart;
    throw error;
  }
}

function counterpartForm(setting: Setting, form: string): Late {
  const { words, pattern, place, speech, use } = setting;
  const wordingOf = (other: Pattern): Wording => words.counterpart(other, pattern, place, form, speech);
  const declared = use?.counterpart && wordingOf(use.counterpart);
  return (_, params, path) => {
    const other = counterpartOf(params, use);
    return other && said(other === use?.counterpart ? (declared ?? '') : wordingOf(other), path);
  };
}

const formatExample = ({ format }: Params): string | undefined =>
  typeof format === 'string' ? formatSaid(format)?.example : undefined;

/** The arguments of the vocabulary that are not simply a parameter. */
const DERIVED: Record<string, (setting: Setting) => Late> = {
  value: ({ form, pattern, place, speech }) => {
    if (form.isSecretAt(pattern, place)) return () => MASK;
    const isSecret = form.anySecret ? (at: Path): boolean => form.isSecretAt(at, place) : undefined;
    return ({ value }, _, path) => (value === undefined ? undefined : valueText(value, speech.limit, path, isSecret));
  },
  actual:
    () =>
    ({ value }, params) =>
      params.actual ?? measured(value),
  // What a client calls a member of something secret is as secret as what is in it.
  name: (setting) =>
    setting.form.isSecretAt(setting.pattern, setting.place) ? () => MASK : (_, { name }, path) => loosely(name, setting, path),
  expected: (setting) => (setting.rule === 'type' ? (_, { expected }) => typeKey(expected) : parameter('expected', setting)),
  format: (setting) =>
    setting.rule === 'format'
      ? (_, { format }) => (typeof format === 'string' ? selectKey(format) : undefined)
      : parameter('format', setting),
  format_name: (setting) =>
    setting.rule === 'format'
      ? (_, { format }) => (typeof format === 'string' ? (formatSaid(format)?.name ?? cleaned(format)) : undefined)
      : parameter('format_name', setting),
  example: (setting) => (setting.rule === 'format' ? (_, params) => formatExample(params) : parameter('example', setting)),
  hint: (setting) => {
    if (setting.rule === 'format') return (_, params) => (formatExample(params) === undefined ? 'no' : 'yes');
    return setting.rule === 'pattern' ? (_, { example }) => (example === undefined ? 'no' : 'yes') : parameter('hint', setting);
  },
  size: (setting) => {
    if (setting.rule !== 'minBytes' && setting.rule !== 'maxBytes') return parameter('size', setting);
    return (_, { min, max }) => {
      const bytes = Number(min ?? max);
      return Number.isFinite(bytes) ? sizeText(bytes, setting.speech.sentence) : undefined;
    };
  },
  exclusive: () => (_, params) => (params.exclusive === true || params.exclusive === 'yes' ? 'yes' : 'no'),
  bound: (setting) => (_, params) => {
    if (typeof params.bound === 'string') return params.bound;
    if (counterpartOf(params, setting.use)) return 'field';
    return params.limit === 'today' ? 'today' : 'value';
  },
};

/** What is known beforehand about an argument of this name: labels, places; nothing where only the violation can tell. */
function known(name: string, { words, pattern, place, speech }: Setting, spoken: ReadonlySet<string>): Wording | undefined {
  const label = /^label(?:_(\w.*))?$/u.exec(name);
  if (label) return words.label(pattern, place, label[1] ?? 'base', speech, spoken);
  if (name === 'place' || name === 'place_start') {
    const trail = words.trail(pattern, place, speech, spoken);
    return name === 'place' ? trail : words.start(trail, speech);
  }
  return name === 'nested' ? (enclosingElements(pattern).length > 0 ? 'yes' : 'no') : undefined;
}

/** Whether the rule at hand has a parameter of this name, which wins over a place's. The vocabulary has none that a place could have. */
const isParameter = (name: string, { use }: Setting): boolean => use !== undefined && Object.hasOwn(use.params, name);

/** What the arguments of a message say, by what has to be known for it. */
export interface Prepared {
  /** The same at all paths of the class. */
  readonly early: Record<string, unknown>;
  /** By the path. */
  readonly placed: [string, (path: Path) => string | number][];
  /** Only the violation tells. */
  readonly late: [string, Late][];
}

/**
 * Works out the arguments that a message asks for: what can be said beforehand once, the rest as functions of the path or of
 * the violation.
 * @param names the arguments that the message uses
 */
export function prepareArguments(names: Iterable<string>, setting: Setting): Prepared {
  const early: Record<string, unknown> = {};
  const placed: Prepared['placed'] = [];
  const late: [string, Late][] = [];
  const places = setting.words.places(setting.pattern, setting.place);
  const spoken = new Set(names);
  for (const name of spoken) {
    const counterpart = /^counterpart(?:_(\w.*))?$/u.exec(name);
    const wording = known(name, setting, spoken);
    const place = places.get(name);
    if (typeof wording === 'string') early[name] = wording;
    else if (wording) placed.push([name, wording]);
    else if (counterpart) late.push([name, counterpartForm(setting, counterpart[1] ?? 'base')]);
    else if (Object.hasOwn(DERIVED, name)) late.push([name, DERIVED[name]?.(setting) ?? (() => undefined)]);
    else if (place && !isParameter(name, setting)) placed.push([name, place]);
    else late.push([name, parameter(name, setting)]);
  }
  return { early, placed, late };
}
