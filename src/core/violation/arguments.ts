import { nearestFirst } from './few-choices.js';
import { numberOf, wordOf } from '../text/outer.js';
import type { Phrase } from '../texts/phrase.js';
import type { Path, Pattern } from '../path/path.js';
import { placeIn } from '../path/place.js';
import { enclosingElements } from '../path/places.js';
import type { FormIndex } from '../rules/form-index.js';
import type { RequestPart, RuleUse } from '../rules/form.js';
import { formatKey, formatMeant, formatSaid } from '../rules/format-names.js';
import { sizeText } from '../text/bytes.js';
import { membersNamed } from '../rules/either.js';
import { selectKey } from '../path/identifier.js';
import { cleaned, MASK, measured, valueText } from '../text/value.js';
import type { WordGroup } from '../texts/purpose.js';
import { limitWords, partOf, readLimit, type Limit } from './limit.js';
import type { Violation } from '../rules/violation.js';
import { said, yesOrNo, type Speech, type Wording, type Words } from './words.js';
import { keyed } from '../base/keyed.js';

type Params = Readonly<Record<string, unknown>>;

/** Works one argument out of what is known only when a rule breaks. */
export type Late = (violation: Violation, params: Params, path: Path) => unknown;

/**
 * Everything about one rule at one class of paths that does not change from one violation to the
 * next.
 */
export interface Setting {
  readonly form: FormIndex;
  readonly pattern: Pattern;
  readonly part: RequestPart;
  readonly rule: string;
  readonly use: RuleUse | undefined;
  readonly words: Words;
  readonly speech: Speech;
  /** The field's label in the violation itself. */
  readonly label?: string | undefined;
}

const typesIn = (expected: unknown): readonly string[] =>
  (Array.isArray(expected) ? expected : [expected]).map(wordOf);

/**
 * The type, as a key for `select`. `null` beside another type does not count; alone it does.
 */
function typeKey(expected: unknown): string {
  const names = typesIn(expected);
  const others = names.length > 1 ? names.filter((name) => name !== 'null') : names;
  return others.length === 1 ? selectKey(others[0] ?? '') : 'several';
}

/** A parameter as an argument, by what it is. */
function loosely(
  value: unknown,
  { words, pattern, part: part, speech }: Setting,
  path: Path,
): unknown {
  if (
    typeof value === 'number' ||
    typeof value === 'bigint' ||
    value === undefined ||
    value === null
  )
    return value;
  if (typeof value === 'boolean') return yesOrNo(value);
  if (Array.isArray(value)) return said(words.choices(value, pattern, part, speech, 'bare'), path);
  return valueText(value, speech.shorten);
}

const sameList = (one: readonly unknown[], other: readonly unknown[]): boolean =>
  one === other || (one.length === other.length && one.every((value, at) => value === other[at]));

/**
 * Works something out of a parameter, and keeps what the last one gave: mostly it comes again with
 * every violation.
 */
function keeping<T, R>(
  same: (one: T, other: T) => boolean,
  work: (value: T) => R,
): (value: T) => R {
  let last: { readonly value: T; readonly result: R } | undefined;
  return (value) => {
    if (!last || !same(last.value, value)) last = { value, result: work(value) };
    return last.result;
  };
}

/**
 * Orders the choices of a rule by what was sent. A secret value is compared with nothing, since the
 * answer would show what is near to it.
 */
function inOrderFor({
  form,
  pattern,
  part: part,
}: Setting): (choices: readonly unknown[], sent: unknown) => readonly unknown[] {
  return form.isSecretAt(pattern, part) ? (choices) => choices : nearestFirst;
}

/** Parameters whose lists are what clients may send. */
const LITERAL_LISTS: ReadonlySet<string> = new Set(['choices', 'types']);

/** A parameter of this name. */
function parameter(name: string, setting: Setting): Late {
  const { words, pattern, part: part, speech } = setting;
  const joint = LITERAL_LISTS.has(name) ? 'or' : 'bare';
  const worded = keeping<readonly unknown[], Wording>(sameList, (list) =>
    words.choices(list, pattern, part, speech, joint),
  );
  const ordered = name === 'choices' ? inOrderFor(setting) : undefined;
  return (violation, params, path) => {
    const value = Object.hasOwn(params, name) ? params[name] : undefined;
    if (typeof value === 'number') return value;
    if (!Array.isArray(value)) return loosely(value, setting, path);
    const list: readonly unknown[] = value;
    return said(worded(ordered ? ordered(list, violation.value) : list), path);
  };
}

function counterpartOf(params: Params, use: RuleUse | undefined): Pattern | undefined {
  const named = params.counterpart ?? params.field;
  return (typeof named === 'string' ? placeIn(named) : undefined) ?? use?.counterpart;
}

/** Returns the label of the other field in an inflection, or whether it has the inflection. */
function counterpartWord(setting: Setting, form: string, asksWhether: boolean): Late {
  const { words, pattern, part: part, speech, use } = setting;
  const wordingOf = (other: Pattern): Wording =>
    asksWhether
      ? words.counterpartHas(other, pattern, part, form, speech)
      : words.counterpart(other, pattern, part, form, speech);
  const declared = use?.counterpart && wordingOf(use.counterpart);
  return (_, params, path) => {
    const other = counterpartOf(params, use);
    return other && said(other === use?.counterpart ? (declared ?? '') : wordingOf(other), path);
  };
}

const formatExample = (params: Params): string | undefined =>
  typeof params.format === 'string' ? formatSaid(formatKey(params))?.example : undefined;

/** Returns the name of a format without a word. */
function formatName(params: Params): string {
  const key = formatKey(params);
  return formatSaid(key)?.name ?? cleaned(key);
}

const sameFormat = (one: Params, other: Params): boolean => formatKey(one) === formatKey(other);

/** Rules of which `expected` is a value, and not a type. */
const OF_VALUES: ReadonlySet<string> = new Set(['const', 'contains', 'minContains', 'maxContains']);

/** A list of values by their names, joined in another way than `choices`. */
const listed =
  (wordingOf: (choices: readonly unknown[], setting: Setting) => Wording) =>
  (setting: Setting): Late => {
    const worded = keeping<readonly unknown[], Wording>(sameList, (choices) =>
      wordingOf(choices, setting),
    );
    const ordered = inOrderFor(setting);
    return ({ value }, { choices }, path) =>
      Array.isArray(choices) ? said(worded(ordered(choices, value)), path) : undefined;
  };

/** The word for a boolean where it spells out what is to be sent. */
const BOTH = /^(\u2068?true(?![a-z])\u2069?).*?((?:\u2068|(?<![a-z\u2068]))false\u2069?)$/u;

/** Returns the word for a value of a parameter, in the inflection behind `_words_`. */
function wordsFor(group: WordGroup, form: string, { words, speech }: Setting): Late {
  if (group === 'type') {
    const worded = keeping<readonly string[], string>(sameList, (expected) => {
      const said = expected.map(
        (name) => words.word('type', name, form, {}, speech) ?? cleaned(name),
      );
      // "true or false" among others is two more of them, and not a list in the list.
      const several =
        said.length > 1 ? said.flatMap((word) => BOTH.exec(word)?.slice(1) ?? [word]) : said;
      return words.joined(several, 'or', speech);
    });
    return (_, { expected }) => (expected === undefined ? undefined : worded(typesIn(expected)));
  }
  const literal = words.literals(speech);
  const worded = keeping<Params, string>(sameFormat, (params) => {
    const example = formatExample(params);
    const args = {
      format_name: formatName(params),
      hint: yesOrNo(example !== undefined),
      ...(example === undefined ? {} : { example: literal(example) }),
    };
    return (
      words.word('format', formatMeant(wordOf(params.format)), form, args, speech) ??
      words.word('format', 'other', form, args, speech) ??
      args.format_name
    );
  });
  return (_, params) => (typeof params.format === 'string' ? worded(params) : undefined);
}

/** Returns an argument made from a limit in time. */
const ofLimit =
  ({ zone }: Speech, tell: (limit: Limit) => string | number): Late =>
  ({ value }, { limit }) => {
    const read = readLimit(limit, value, zone);
    return read && tell(read);
  };

/** The arguments of the vocabulary that are not simply a parameter. */
const DERIVED: Record<string, (setting: Setting) => Late> = keyed({
  value: ({ form, pattern, part: part, speech }) => {
    const isSecret = form.isSecretAt(pattern, part);
    return ({ value }, _, path) => {
      if (value === undefined) return undefined;
      return isSecret ? MASK : valueText(value, speech.shorten, path, form.gate(path, part));
    };
  },
  actual:
    (setting) =>
    ({ value }, params, path) =>
      loosely(params.actual, setting, path) ?? measured(value),
  // What a client calls a member of something secret is as secret as what is in it.
  name: (setting) => {
    const isSecret = setting.form.isSecretAt(setting.pattern, setting.part);
    return (_, { name }, path) =>
      isSecret && name !== undefined ? MASK : loosely(name, setting, path);
  },
  expected: (setting) => {
    if (setting.rule === 'type') return (_, { expected }) => typeKey(expected);
    if (!OF_VALUES.has(setting.rule)) return parameter('expected', setting);
    const literal = setting.words.literals(setting.speech);
    return (_, { expected }) => (expected === undefined ? undefined : literal(expected));
  },
  format: (setting) =>
    setting.rule === 'format'
      ? (_, { format }) => (typeof format === 'string' ? selectKey(format) : undefined)
      : parameter('format', setting),
  format_name: (setting) =>
    setting.rule === 'format'
      ? (_, params) => (typeof params.format === 'string' ? formatName(params) : undefined)
      : parameter('format_name', setting),
  example: (setting) => {
    const { rule, words, speech } = setting;
    if (rule !== 'format' && rule !== 'pattern') return parameter('example', setting);
    const literal = words.literals(speech);
    return (_, params) => {
      const example = rule === 'format' ? formatExample(params) : params.example;
      return example === undefined ? undefined : literal(example);
    };
  },
  hint: (setting) => {
    const { rule } = setting;
    if (rule === 'format') return (_, params) => yesOrNo(formatExample(params) !== undefined);
    if (rule === 'pattern') return (_, { example }) => yesOrNo(example !== undefined);
    return OF_VALUES.has(rule)
      ? (_, { expected }) => yesOrNo(expected !== undefined)
      : parameter('hint', setting);
  },
  choices_literal: listed((choices, { words, speech }) => words.literalChoices(choices, speech)),
  choices_listed: listed((choices, { words, pattern, part: part, speech }) =>
    words.choices(choices, pattern, part, speech, 'marks'),
  ),
  choices_several: listed((choices) => yesOrNo(choices.length > 1)),
  inside:
    ({ pattern }) =>
    () =>
      yesOrNo(pattern.length > 0),
  members: (setting) => (_, params, path) => {
    const { words, pattern, part, speech, rule } = setting;
    const named = membersNamed(rule, params);
    return named.length === 0
      ? parameter('members', setting)(_, params, path)
      : said(words.labels(named, pattern, part, speech), path);
  },
  limit_kind: (setting) => (_, params) =>
    counterpartOf(params, setting.use)
      ? 'field'
      : params.limit === 'today'
        ? 'today'
        : readLimit(params.limit, '', 'UTC')?.kind,
  limit_words: ({ words, speech }) => {
    const said = ofLimit(speech, (limit) =>
      limitWords(limit, speech.sentence, (frame, parts) => words.joiner(frame, speech)(parts)),
    );
    return (violation, params, path) => said(violation, params, path) ?? params.limit;
  },
  limit_hour: ({ speech }) => ofLimit(speech, (limit) => partOf(limit, 'hour')),
  limit_day: ({ speech }) => ofLimit(speech, (limit) => partOf(limit, 'day')),
  size: (setting) => {
    if (setting.rule !== 'minBytes' && setting.rule !== 'maxBytes')
      return parameter('size', setting);
    return (_, { min, max }) => {
      const bytes = numberOf(min ?? max);
      const { words, speech } = setting;
      return Number.isFinite(bytes)
        ? sizeText(bytes, speech.sentence, (unit, args = {}) =>
            words.word('unit', unit, 'base', args, speech),
          )
        : undefined;
    };
  },
  exclusive: () => (_, params) => yesOrNo(params.exclusive === true || params.exclusive === 'yes'),
  bound: (setting) => (_, params) => {
    if (typeof params.bound === 'string') return params.bound;
    if (counterpartOf(params, setting.use)) return 'field';
    return params.limit === 'today' ? 'today' : 'value';
  },
});

/**
 * Returns an argument that is known beforehand: labels and places; nothing where only the violation
 * has it.
 */
function known(
  name: string,
  { words, pattern, part: part, speech, label }: Setting,
  spoken: ReadonlySet<string>,
): Wording | undefined {
  const [, has, word, form = 'base'] = /^(has_)?(label|subject)(?:_(\w.*))?$/u.exec(name) ?? [];
  if (word && label) return has ? 'no' : words.inflected(label, form, speech);
  if (has !== undefined) return word === 'label' ? words.hasForm(pattern, form, speech) : undefined;
  if (word === 'label') return words.label(pattern, part, form, speech, spoken);
  if (word === 'subject') return words.subject(pattern, part, form, speech, spoken);
  if (name === 'place' || name === 'place_start') {
    const trail = words.trail(pattern, part, speech, spoken);
    return name === 'place' ? trail : words.start(trail, speech);
  }
  return name === 'nested' ? yesOrNo(enclosingElements(pattern).length > 0) : undefined;
}

const QUOTED = '_quoted';

/** Returns an argument that only the violation has. */
function lateArgument(
  name: string,
  setting: Setting,
  places: ReadonlyMap<string, (path: Path) => string | number>,
): Late {
  const other = /^(has_)?counterpart(?:_(\w.*))?$/u.exec(name);
  if (other) return counterpartWord(setting, other[2] ?? 'base', other[1] !== undefined);
  const [, group, inflection = 'base'] = /^(expected|format)_words(?:_(\w.*))?$/u.exec(name) ?? [];
  if (group !== undefined && setting.rule === (group === 'expected' ? 'type' : 'format'))
    return wordsFor(group === 'expected' ? 'type' : 'format', inflection, setting);
  if (Object.hasOwn(DERIVED, name)) return DERIVED[name]?.(setting) ?? (() => undefined);
  if (name.endsWith(QUOTED) && !isParameter(name, setting)) {
    const base = name.slice(0, -QUOTED.length);
    const place = places.get(base);
    const inner: Late =
      place && !isParameter(base, setting)
        ? (_, __, path) => place(path)
        : lateArgument(base, setting, places);
    const { words, speech } = setting;
    return (violation, params, path) => {
      const text = inner(violation, params, path);
      return text === undefined || text === null
        ? undefined
        : said(words.quoted(valueText(text, speech.shorten), speech), path);
    };
  }
  return parameter(name, setting);
}

/**
 * Whether the rule at hand has a parameter of this name, which wins over a place's. The vocabulary
 * has none that a place could have.
 */
const isParameter = (name: string, { use }: Setting): boolean =>
  use !== undefined && Object.hasOwn(use.params, name);

/** The arguments of a message, by what each depends on. */
export interface Prepared {
  /** Arguments that are the same at all paths of the class. */
  readonly early: Record<string, unknown>;
  /** By the path. */
  readonly placed: [string, (path: Path) => string | number][];
  /** Only the violation has the value. */
  readonly late: [string, Late][];
}

/**
 * Works out the arguments that a message asks for: what can be said beforehand once, the rest as
 * functions of the path or of the violation.
 * @param names the arguments that the message uses
 * @param text the message, which may be said of definitions alone
 */
export function prepareArguments(
  names: Iterable<string>,
  setting: Setting,
  text?: Phrase,
): Prepared {
  const early = new Map<string, unknown>();
  const placed: Prepared['placed'] = [];
  const late: [string, Late][] = [];
  const places = setting.words.places(text, setting.pattern, setting.part, setting.speech);
  const spoken = new Set(names);
  for (const name of spoken) {
    const wording = known(name, setting, spoken);
    const place = places.get(name);
    if (typeof wording === 'string') early.set(name, wording);
    else if (wording) placed.push([name, wording]);
    else if (place && !isParameter(name, setting) && !Object.hasOwn(DERIVED, name))
      placed.push([name, place]);
    else late.push([name, lateArgument(name, setting, places)]);
  }
  return { early: Object.fromEntries(early), placed, late };
}
