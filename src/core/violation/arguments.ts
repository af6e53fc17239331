import { parsePattern, PathSyntaxError, type Path, type Pattern } from '../path/path.js';
import type { FormIndex } from '../rules/form-index.js';
import type { FieldPlace, RuleUse } from '../rules/form.js';
import { VOCABULARY } from '../rules/vocabulary.js';
import { selectKey } from '../text/identifier.js';
import { MASK, measured, valueText } from '../text/value.js';
import type { Violation } from './violation.js';
import type { Speech, Words } from './words.js';

type Params = Readonly<Record<string, unknown>>;

/** Works one argument out of what is known only when a rule breaks. */
export type Late = (violation: Violation, params: Params) => unknown;

/** Everything about one rule at one place that does not change from one violation to the next. */
export interface Setting {
  readonly form: FormIndex;
  readonly path: Path;
  readonly place: FieldPlace;
  readonly rule: string;
  readonly use: RuleUse | undefined;
  readonly words: Words;
  readonly speech: Speech;
}

/** Written where a value is asked for and none was told. */
const NOTHING = '–';

function typeKey(expected: unknown): string {
  const names = (Array.isArray(expected) ? (expected as unknown[]) : [expected]).filter((name) => name !== 'null');
  return names.length === 1 ? selectKey(String(names[0])) : 'several';
}

/** A parameter as an argument, by what it is. */
function loosely(value: unknown, setting: Setting): unknown {
  if (typeof value === 'number' || typeof value === 'bigint' || value === undefined || value === null) return value;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return setting.words.choices(value, setting.path, setting.place, setting.speech);
  return valueText(value, setting.speech.limit);
}

/** A parameter of this name. A form's own lists come again with every violation, so what the last one says is kept. */
function parameter(name: string, setting: Setting): Late {
  let list: unknown;
  let text: unknown;
  return (_, params) => {
    const value = Object.hasOwn(params, name) ? params[name] : undefined;
    if (!Array.isArray(value)) return loosely(value, setting);
    if (value !== list) [list, text] = [value, loosely(value, setting)];
    return text;
  };
}

function counterpartOf(params: Params, use: RuleUse | undefined): Pattern | undefined {
  const named = params.counterpart ?? params.field;
  if (typeof named !== 'string') return use?.counterpart;
  try {
    return parsePattern(named);
  } catch (error) {
    if (error instanceof PathSyntaxError) return use?.counterpart;
    throw error;
  }
}

function counterpartForm(setting: Setting, form: string): Late {
  const { words, path, place, speech, use } = setting;
  return (_, params) => {
    const other = counterpartOf(params, use);
    return other && words.label(words.counterpart(other, path), place, form, speech);
  };
}

/** The arguments of the vocabulary that are not simply a parameter. */
const DERIVED: Record<string, (setting: Setting) => Late> = {
  value:
    ({ form, path, place, speech }) =>
    ({ value }) => {
      if (form.isSecretAt(path, place)) return MASK;
      const isSecret = (at: Path): boolean => form.isSecretAt(at, place);
      return value === undefined ? NOTHING : valueText(value, speech.limit, path, isSecret);
    },
  actual:
    () =>
    ({ value }, params) =>
      params.actual ?? measured(value),
  // What a client calls a member of something secret is as secret as what is in it.
  name: (setting) => (_, params) => (setting.form.isSecretAt(setting.path, setting.place) ? MASK : loosely(params.name, setting)),
  expected: (setting) => (_, params) => (setting.rule === 'type' ? typeKey(params.expected) : loosely(params.expected, setting)),
  format: (setting) => (_, params) =>
    setting.rule === 'format' ? selectKey(String(params.format)) : loosely(params.format, setting),
  hint: (setting) => (_, params) =>
    setting.rule !== 'pattern' ? loosely(params.hint, setting) : params.example === undefined ? 'no' : 'yes',
  exclusive: () => (_, params) => (params.exclusive === true || params.exclusive === 'yes' ? 'yes' : 'no'),
  bound: (setting) => (_, params) => {
    if (typeof params.bound === 'string') return params.bound;
    if (counterpartOf(params, setting.use)) return 'field';
    return params.limit === 'today' ? 'today' : 'value';
  },
};

/** What is known beforehand about an argument of this name: labels, places; nothing where only the violation can tell. */
function known(name: string, { words, path, place, speech }: Setting): string | undefined {
  const label = /^label(?:_(\w.*))?$/u.exec(name);
  if (label) return words.label(path, place, label[1] ?? 'base', speech);
  if (name === 'place' || name === 'place_start') {
    const trail = words.trail(path, place, speech);
    return name === 'place' ? trail : words.start(trail, speech);
  }
  return name === 'nested' ? (words.trail(path, place, speech) === '' ? 'no' : 'yes') : undefined;
}

/** Whether the rule at hand has an argument of this name as a parameter of its own, which wins over a place's. */
function isParameter(name: string, { rule, use }: Setting): boolean {
  const definition = VOCABULARY.get(rule);
  return definition?.arguments.some((one) => one.name === name) ?? (use !== undefined && Object.hasOwn(use.params, name));
}

/**
 * Works out the arguments that a message asks for: what can be said beforehand once, the rest as functions of the violation.
 * @param names the arguments that the message uses
 */
export function prepareArguments(
  names: Iterable<string>,
  setting: Setting,
): { early: Record<string, unknown>; late: [string, Late][] } {
  const early: Record<string, unknown> = {};
  const late: [string, Late][] = [];
  const places = setting.words.places(setting.path, setting.place);
  for (const name of names) {
    const counterpart = /^counterpart(?:_(\w.*))?$/u.exec(name);
    const word = known(name, setting);
    if (word !== undefined) early[name] = word;
    else if (counterpart) late.push([name, counterpartForm(setting, counterpart[1] ?? 'base')]);
    else if (Object.hasOwn(DERIVED, name)) late.push([name, DERIVED[name]?.(setting) ?? (() => undefined)]);
    else if (Object.hasOwn(places, name) && !isParameter(name, setting)) early[name] = places[name];
    else late.push([name, parameter(name, setting)]);
  }
  return { early, late };
}
