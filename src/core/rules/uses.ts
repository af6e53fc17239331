import { parsePath, parsePattern, PathSyntaxError, type Pattern } from '../path/path.js';
import {
  described,
  isObject,
  isTextList,
  type Loose,
  type LooseObject,
  type Reading,
} from '../reading.js';
import { suggestion } from '../text/closest.js';
import { isRuleId } from '../path/identifier.js';
import type { Parameter, RuleDefinition } from './definition.js';
import type { Condition, RuleUse } from './form.js';
import { conditionsTrouble } from './row-conditions.js';
import { FORMAT_NAMES } from './format-names.js';
import { regexTrouble } from './regex-trouble.js';
import { TYPE_NAMES } from './types.js';
import { isTime } from './timeline.js';
import { VOCABULARY } from './vocabulary.js';

const within = (names: readonly string[], value: string): string | undefined =>
  names.includes(value) ? undefined : `one of ${names.join(', ')}${suggestion(value, names)}`;

/** Returns the expected type of a value as words; nothing where the value has it. */
function expectation({ type, options = [] }: Parameter, value: Loose): string | undefined {
  switch (type) {
    case 'flag':
      return typeof value === 'boolean' ? undefined : 'true or false';
    case 'count':
      return Number.isInteger(value) && Number(value) >= 0 ? undefined : 'a whole number from 0';
    case 'number':
      return typeof value === 'number' && Number.isFinite(value) ? undefined : 'a number';
    case 'regex':
      return typeof value === 'string' ? regexProblem(value) : 'a regular expression as text';
    case 'list':
      return Array.isArray(value) && value.length > 0
        ? undefined
        : 'a list with one value at least';
    case 'types': {
      const names = typeof value === 'string' ? [value] : value;
      if (!isTextList(names)) return `one of ${TYPE_NAMES.join(', ')}, or a list of them`;
      return names.map((name) => within(TYPE_NAMES, name)).find((problem) => problem !== undefined);
    }
    case 'format':
      return typeof value === 'string'
        ? within(FORMAT_NAMES, value)
        : `one of ${FORMAT_NAMES.join(', ')}`;
    case 'option':
      return typeof value === 'string' ? within(options, value) : `one of ${options.join(', ')}`;
    case 'date':
      return typeof value === 'string' && (value === 'today' || isTime(value))
        ? undefined
        : 'a date such as 2027-02-01, or today';
    case 'conditions':
      return isObject(value) ? undefined : 'an object of columns and values';
    case 'names':
      return isTextList(value) ? undefined : 'a list of names';
    case 'paths':
      return isTextList(value) && value.length > 1 && value.every(isPath)
        ? undefined
        : 'a list of paths, two at least';
    case 'text':
    case 'field':
    case 'table':
    case 'column':
      return typeof value === 'string' ? undefined : 'a text';
    case 'value':
      return undefined;
  }
}

function isPath(text: string): boolean {
  try {
    return parsePath(text).length > 0;
  } catch (error) {
    if (error instanceof PathSyntaxError) return false;
    throw error;
  }
}

function regexProblem(source: string): string | undefined {
  const trouble = regexTrouble(source);
  return trouble === undefined ? undefined : `a regular expression (${trouble})`;
}

/** The uses that a sheet's entry stands for: one parameter, one object, or a list of objects. */
function entriesOf(definition: RuleDefinition, value: Loose): [Loose, (string | number)[]][] {
  const main = definition.parameters[0];
  const takesList =
    main?.type === 'list' ||
    main?.type === 'types' ||
    main?.type === 'names' ||
    main?.type === 'paths';
  const areUses = (list: Loose[]): boolean =>
    !takesList || (list.length > 0 && list.every((one) => isObject(one) && main.name in one));
  if (!Array.isArray(value) || !areUses(value)) return [[value, []]];
  return value.map((one: Loose, at) => [one, [at]]);
}

class UseReader {
  constructor(
    private readonly reading: Reading,
    private readonly definition: RuleDefinition,
  ) {}

  read(value: Loose, keys: (string | number)[]): RuleUse | undefined {
    const { parameters, id } = this.definition;
    const main = parameters[0];
    const named = isObject(value) && (main?.type !== 'value' || main.name in value);
    if (main?.type === 'flag' && value === !(main.on ?? true)) return undefined;
    const given: LooseObject = named ? value : { [main?.name ?? '']: value };
    const counterpart =
      this.definition.bySibling && given.field !== undefined
        ? this.pattern(given.field, [...keys, 'field'])
        : undefined;
    if (given.field !== undefined && this.definition.bySibling && !counterpart) return undefined;
    const params = this.params(given, counterpart !== undefined, named, keys);
    if (!params) return undefined;
    return {
      rule: id,
      external: false,
      ...this.own(given, keys),
      params,
      ...(counterpart ? { counterpart } : {}),
      origin: this.reading.origin(keys),
    };
  }

  private params(
    given: LooseObject,
    bySibling: boolean,
    named: boolean,
    keys: (string | number)[],
  ): Record<string, unknown> | undefined {
    const { parameters, id } = this.definition;
    const params = new Map<string, unknown>();
    for (const parameter of parameters) {
      const value = given[parameter.name];
      if (parameter.type === 'field') {
        if (!bySibling) {
          this.refuse(keys, `"${id}" names a field's path.`);
          return;
        }
      } else if (value !== undefined) {
        const trouble =
          parameter.type === 'conditions' && isObject(value) ? conditionsTrouble(value) : undefined;
        if (trouble !== undefined) {
          this.refuse([...keys, parameter.name], `"${parameter.name}" of "${id}": ${trouble}.`);
          return;
        }
        const wanted = expectation(parameter, value);
        if (wanted) {
          this.refuse(
            named ? [...keys, parameter.name] : keys,
            `"${parameter.name}" of "${id}" is ${wanted}, not ${described(value)}.`,
          );
          return;
        }
        if (!(parameter.type === 'flag' && parameter === parameters[0]))
          params.set(parameter.name, value);
      } else if (!parameter.optional && !bySibling && parameter.type !== 'flag') {
        this.refuse(keys, `"${id}" needs "${parameter.name}": ${parameter.about}.`);
        return;
      }
    }
    const allowed = [
      ...parameters.map((one) => one.name),
      'as',
      'onlyIf',
      'problem',
      ...(this.definition.bySibling ? ['field'] : []),
    ];
    for (const key of Object.keys(given)) {
      if (!allowed.includes(key))
        this.reading.wrongStructure(
          [...keys, key],
          'key',
          `"${id}" has no parameter "${key}"${suggestion(key, allowed)}.`,
        );
    }
    return Object.fromEntries(params);
  }

  private own(
    given: LooseObject,
    keys: (string | number)[],
  ): Pick<RuleUse, 'as' | 'onlyIf' | 'problem'> {
    const { as, onlyIf } = given;
    const clash =
      typeof as === 'string'
        ? idProblem(as)
        : as === undefined
          ? undefined
          : '"as" is a text, the message key of this use.';
    if (clash) this.reading.wrongStructure([...keys, 'as'], 'value', clash);
    const conditions = onlyIf === undefined ? [] : this.conditions(onlyIf, [...keys, 'onlyIf']);
    return {
      ...(typeof as === 'string' && !clash ? { as } : {}),
      ...(conditions.length > 0 ? { onlyIf: conditions } : {}),
      ...problemIn(this.reading, given, keys),
    };
  }

  private conditions(value: Loose, keys: (string | number)[]): Condition[] {
    if (!isObject(value)) {
      this.reading.wrongStructure(keys, 'value', '"onlyIf" is an object of paths and values.');
      return [];
    }
    return Object.entries(value).flatMap(([path, wanted]): Condition[] => {
      const field = this.pattern(path, [...keys, path], 'key');
      if (!field) return [];
      if (!isObject(wanted))
        return [{ field, values: Array.isArray(wanted) ? (wanted as unknown[]) : [wanted] }];
      if (typeof wanted.absent === 'boolean' && Object.keys(wanted).length === 1)
        return [{ field, absent: wanted.absent }];
      this.reading.wrongStructure(
        [...keys, path],
        'value',
        'A condition is a value, a list of values, or { absent: true }.',
      );
      return [];
    });
  }

  private pattern(
    value: Loose,
    keys: (string | number)[],
    at: 'key' | 'value' = 'value',
  ): Pattern | undefined {
    try {
      if (typeof value === 'string') return parsePattern(value);
      this.reading.wrongStructure(keys, at, 'A field is named by its path, as a text.');
    } catch (error) {
      if (!(error instanceof PathSyntaxError)) throw error;
      this.reading.wrongStructure(keys, at, `${error.message}.`);
    }
    return undefined;
  }

  private refuse(keys: (string | number)[], message: string): undefined {
    this.reading.wrongStructure(keys, 'value', message);
    return undefined;
  }
}

/** The problem that a use is when it is broken, where it names one. */
function problemIn(
  reading: Reading,
  { problem }: LooseObject,
  keys: readonly (string | number)[],
): Pick<RuleUse, 'problem'> {
  if (problem === undefined) return {};
  if (typeof problem === 'string' && problem !== '') return { problem };
  reading.wrongStructure(
    [...keys, 'problem'],
    'value',
    '"problem" is the name of a problem, such as not-found or conflict.',
  );
  return {};
}

/** Why a text can be no id of an `as` or an external rule. */
function idProblem(id: string): string | undefined {
  if (VOCABULARY.has(id)) return `"${id}" is a rule of the vocabulary: choose another name.`;
  return isRuleId(id) ? undefined : `"${id}" is not an id: write letters, digits and - _ . : only.`;
}

/** Reads the uses of a rule of the vocabulary on a field. */
export function readUses(
  reading: Reading,
  definition: RuleDefinition,
  value: Loose,
  keys: readonly string[],
): RuleUse[] {
  // A relation names its field without more words: { repeats: passphrase }.
  const reader = new UseReader(reading, definition);
  const direct =
    definition.parameters[0]?.type === 'field' && typeof value === 'string'
      ? { field: value }
      : value;
  return entriesOf(definition, direct).flatMap(
    ([one, at]) => reader.read(one, [...keys, ...at]) ?? [],
  );
}

/**
 * Reads the parameters of an external rule: samples (`6.5`, `{ sample: 6.5 }`), or constants of
 * every violation (`{ constant: 6.5 }`).
 */
function parametersOf(given: LooseObject): Pick<RuleUse, 'params' | 'constants'> {
  const params = new Map<string, unknown>();
  const constants = new Map<string, unknown>();
  for (const [name, value] of Object.entries(given)) {
    if (name === 'problem' && typeof value === 'string') continue;
    const [key, ...more] = isObject(value) ? Object.keys(value) : [];
    const says =
      more.length === 0 && isObject(value) && (key === 'sample' || key === 'constant')
        ? key
        : undefined;
    const said = says && isObject(value) ? value[says] : value;
    params.set(name, said);
    if (says === 'constant') constants.set(name, said);
  }
  return {
    params: Object.fromEntries(params),
    ...(constants.size > 0 ? { constants: Object.fromEntries(constants) } : {}),
  };
}

/**
 * Reads the rules that only the backend checks: their ids, each with its parameters (or nothing).
 */
export function readExternal(reading: Reading, value: Loose, keys: readonly string[]): RuleUse[] {
  return reading.members(value, keys, '"external"').flatMap(([id, params]): RuleUse[] => {
    const at = [...keys, id];
    const problem = idProblem(id);
    if (problem) {
      reading.wrongStructure(at, 'key', problem);
      return [];
    }
    if (!isObject(params) && params !== true && params !== null) {
      reading.wrongStructure(
        at,
        'value',
        `"${id}" has sample parameters by name, such as { hours: 6.5 }, or is true.`,
      );
      return [];
    }
    const given = isObject(params) ? params : {};
    const attached = typeof given.problem === 'string' ? problemIn(reading, given, at) : {};
    return [
      { rule: id, external: true, ...parametersOf(given), ...attached, origin: reading.origin(at) },
    ];
  });
}
