import { getOrMake } from '../../core/base/get-or-make.js';
import { wordOf } from '../../core/text/outer.js';
import type { Path } from '../../core/path/path.js';
import { parsePointer, PointerSyntaxError } from '../../core/path/pointer.js';
import { PathTree } from '../../core/path/tree.js';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import { memberOf, pathThrough, valueAt } from '../../core/rules/occurrences.js';
import { UNNAMED } from '../../core/rules/unnamed.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import type { Failure } from '../keywords/failure.js';
import {
  declaredUse,
  useOfKeyword,
  ErrorListError,
  nearestPointer,
  MOST_READ,
  unread,
  valueOf,
  type Background,
} from './foreign.js';
import { hasMember, membersWith, quotedWords } from './named-members.js';

/** One keyword that did not hold. */
interface Unit {
  /** The way through the schemas to the keyword, itself last. */
  readonly evaluation: readonly string[];
  readonly instance: Path;
  readonly message: string;
  readonly keys: readonly (string | number)[];
}

const NAMED = new Set(['properties', 'patternProperties', 'dependentSchemas', 'prefixItems']);

const tokens = (pointer: string): string[] => parsePointer(pointer).map(wordOf);
/** Keywords that say nothing of a value themselves, but for what is inside it. */
const APPLICATORS: ReadonlySet<string> = new Set([
  'if',
  'then',
  'else',
  'allOf',
  '$ref',
  '$dynamicRef',
  '$recursiveRef',
  '$defs',
  'definitions',
  'properties',
  'patternProperties',
  'prefixItems',
  'dependentSchemas',
]);

/**
 * Reads the units of JSON Schema's output (2020-12 section 12, and the formats `list` and
 * `hierarchical` that came later).
 */
class UnitReader {
  readonly units: Unit[] = [];
  /** Failures from units that cannot be read. */
  readonly lost: Failure[] = [];
  constructor(private readonly background: Background) {}

  private pointer(
    node: LooseObject,
    names: readonly string[],
    keys: Unit['keys'],
  ): string | undefined {
    const name = names.find((one) => typeof node[one] === 'string');
    if (name === undefined) return undefined;
    const text = wordOf(node[name]);
    const fragment = text.includes('#') ? text.slice(text.indexOf('#')) : text;
    if (fragment === '' || fragment.startsWith('/') || fragment.startsWith('#')) return fragment;
    throw new ErrorListError(`"${name}" is a JSON Pointer such as /targets/2, not "${text}"`, [
      ...keys,
      name,
    ]);
  }

  private instance(pointer: string): Path {
    const { payload, prefix = [] } = this.background;
    return [
      ...prefix,
      ...(payload ? pathThrough(pointer, valueAt(payload.value, prefix)) : parsePointer(pointer)),
    ];
  }

  read(node: Loose, keys: Unit['keys']): void {
    if (!isObject(node)) throw new ErrorListError('an output unit is an object', keys);
    if (node.valid === true) return;
    if (this.units.length >= MOST_READ) {
      this.background.skip?.(1);
      return;
    }
    this.readUnit(node, keys);
    const inner = ['errors', 'details', 'annotations'].flatMap((name) =>
      Array.isArray(node[name]) ? [name] : [],
    );
    for (const name of inner) {
      if (name === 'annotations') continue;
      for (const [at, one] of (node[name] as unknown[]).entries())
        this.read(one, [...keys, name, at]);
    }
  }

  private readUnit(node: LooseObject, keys: Unit['keys']): void {
    let place: string | undefined;
    try {
      place = this.pointer(node, ['instanceLocation'], keys);
      const schema = this.pointer(
        node,
        ['keywordLocation', 'evaluationPath', 'schemaLocation'],
        keys,
      );
      if (schema !== undefined && place !== undefined)
        this.unit(node, tokens(schema), this.instance(place), keys);
    } catch (error) {
      if (!(error instanceof PointerSyntaxError || error instanceof ErrorListError)) throw error;
      unread(this.background, error.message, keys);
      // What cannot be read is wrong somewhere all the same.
      this.lost.push({ path: this.instance(nearestPointer(place ?? '')), rule: UNNAMED });
    }
  }

  private unit(node: LooseObject, evaluation: string[], instance: Path, keys: Unit['keys']): void {
    if (isObject(node.errors)) {
      // `list` and `hierarchical`: a unit is a schema, its errors stand by keyword.
      for (const [keyword, message] of Object.entries(node.errors))
        this.units.push({
          evaluation: [...evaluation, ...(keyword === '' ? [] : [keyword])],
          instance,
          message: wordOf(message),
          keys,
        });
    } else if (evaluation.length > 0 && node.details === undefined) {
      this.units.push({
        evaluation,
        instance,
        message: typeof node.error === 'string' ? node.error : '',
        keys,
      });
    }
  }
}

/**
 * The first choice between schemas on the way to a keyword: where it stands, and which schema was
 * taken.
 */
function choiceIn(
  evaluation: readonly string[],
  from: number,
): { at: number; branch: string } | undefined {
  for (let at = from; at + 1 < evaluation.length; at++) {
    const [word, next] = [evaluation[at], evaluation[at + 1]];
    const isKeyword = !NAMED.has(evaluation[at - 1] ?? '') || at === 0;
    if (
      isKeyword &&
      (word === 'anyOf' || word === 'oneOf') &&
      next !== undefined &&
      /^\d+$/.test(next)
    )
      return { at, branch: next };
  }
  return undefined;
}

/** A choice between schemas, and the units that are of it. */
interface Choice {
  readonly way: readonly string[];
  /** The value that it is about, where a unit says it. */
  readonly own: Path | undefined;
  readonly within: Unit[];
}

class FailureBuilder {
  constructor(private readonly background: Background) {}

  /** @param from how much of the way has been dealt with already */
  build(units: readonly Unit[], from = 0): Failure[] {
    const failures: Failure[] = [];
    const ways = new PathTree<true>();
    for (const { evaluation } of units) ways.set(evaluation, true);
    const choices = this.choices(units, from);
    const done = new Set<Choice>();
    for (const unit of units) {
      const choice = choices.get(unit);
      if (!choice) {
        if (!this.isOutshone(unit, ways)) failures.push(...this.one(unit));
        continue;
      }
      if (done.has(choice)) continue;
      done.add(choice);
      const { way, own, within } = choice;
      const path = own ?? shortest(within);
      const branches = new Map<string, Unit[]>();
      for (const one of within) {
        const branch = one.evaluation[way.length];
        if (branch === undefined) continue;
        getOrMake(branches, branch, () => []).push(one);
      }
      failures.push({
        path,
        rule: way.at(-1) === 'oneOf' ? 'oneOf' : 'anyOf',
        ...valueOf(this.background, path),
        branches: [...branches.values()].map((branch) => this.build(branch, way.length + 1)),
      });
    }
    return failures;
  }

  /**
   * The choice that each unit belongs to: by the way to it, and by the value whose choice it is,
   * where a unit has that.
   */
  private choices(units: readonly Unit[], from: number): Map<Unit, Choice> {
    const ways = new Map<Unit, readonly string[]>();
    const owns = new PathTree<PathTree<Path>>();
    for (const unit of units) {
      const choice = choiceIn(unit.evaluation, from) ?? this.isChoice(unit);
      if (!choice) continue;
      const way = unit.evaluation.slice(0, choice.at + 1);
      ways.set(unit, way);
      if (unit.evaluation.length !== way.length) continue;
      const known = owns.get(way) ?? new PathTree<Path>();
      owns.set(way, known);
      known.set(unit.instance, unit.instance);
    }
    const found = new Map<Unit, Choice>();
    const shared = new PathTree<PathTree<Choice>>();
    for (const [unit, way] of ways) {
      const own = owns.get(way)?.first(unit.instance);
      const byInstance = shared.get(way) ?? new PathTree<Choice>();
      shared.set(way, byInstance);
      // Where no unit is of the choice itself, all of its way are of one.
      const choice = getOrMake(byInstance, own ?? [], () => ({ way, own, within: [] }));
      choice.within.push(unit);
      found.set(unit, choice);
    }
    return found;
  }

  private isChoice({ evaluation }: Unit): { at: number } | undefined {
    const last = evaluation.length - 1;
    const named = NAMED.has(evaluation[last - 1] ?? '');
    return !named && (evaluation[last] === 'anyOf' || evaluation[last] === 'oneOf')
      ? { at: last }
      : undefined;
  }

  /**
   * An applicator's own line says only that something inside it failed; inside `contains` and `not`
   * it is the other way round.
   */
  private isOutshone(unit: Unit, ways: PathTree<true>): boolean {
    const opaque = (way: readonly string[]): boolean =>
      way.some(
        (word, at) => (word === 'contains' || word === 'not') && !NAMED.has(way[at - 1] ?? ''),
      );
    if (opaque(unit.evaluation.slice(0, -1))) return true;
    if (opaque(unit.evaluation)) return false;
    return ways.hasBelow(unit.evaluation);
  }

  private rule(path: Path, rule: string, params?: LooseObject): Failure {
    return {
      path,
      rule,
      ...(params ? { params } : {}),
      ...valueOf(this.background, path),
    };
  }

  private one({ evaluation, instance, message, keys }: Unit): Failure[] {
    const keyword = evaluation.at(-1) ?? '';
    const before = evaluation.at(-2) ?? '';
    // A way that ends in a schema, not in a keyword, leads to the schema `false`.
    if (NAMED.has(before) || /^\d+$/.test(keyword)) return [this.rule(instance, 'false')];
    switch (keyword) {
      case 'required':
        return this.missing(instance, message, keys);
      case 'dependentRequired':
      case 'dependencies':
        return this.dependent(instance, message);
      case 'additionalProperties':
      case 'unevaluatedProperties':
        return this.surplus(instance, keyword, message);
      case 'propertyNames':
        return [
          this.rule(instance, keyword, {
            name: quotedWords(message).find((word) => hasMember(this.background, instance, word)),
          }),
        ];
      case 'items':
      case 'additionalItems':
      case 'unevaluatedItems':
        return [
          this.rule(
            typeof instance.at(-1) === 'number' ? instance.slice(0, -1) : instance,
            'maxItems',
          ),
        ];
      case 'type':
        return [
          this.rule(instance, keyword, declaredUse(this.background, instance, keyword)?.params),
        ];
      case 'not':
      case 'pattern': {
        const use = useOfKeyword(this.background, instance, keyword);
        return [this.rule(instance, use?.rule ?? keyword, use?.params)];
      }
      default:
        if (VOCABULARY.has(keyword) || declaredUse(this.background, instance, keyword))
          return [this.rule(instance, keyword)];
        if (APPLICATORS.has(keyword)) return [];
        unread(this.background, `there is no rule for the keyword "${keyword}"`, keys);
        return [this.rule(instance, UNNAMED)];
    }
  }

  /**
   * Finds the missing members, which no output format has: from the payload, else from the
   * sentence, else from the form if only one can be missing.
   */
  private missing(instance: Path, message: string, keys: Unit['keys']): Failure[] {
    const { payload } = this.background;
    const wanted = membersWith(this.background, instance, 'required').map(({ name }) => name);
    const named = quotedWords(message);
    let missing = payload
      ? wanted.filter((name) => memberAbsent(payload.value, instance, name))
      : wanted.filter((name) => named.includes(name));
    if (missing.length === 0 && !payload)
      missing = wanted.length === 1 ? wanted : named.slice(0, 1);
    if (missing.length === 0) {
      unread(
        this.background,
        'this output does not say which member is missing; give the payload too',
        keys,
      );
      return [this.rule(instance, UNNAMED)];
    }
    return missing.map((name) => ({ path: [...instance, name], rule: 'required' }));
  }

  private dependent(instance: Path, message: string): Failure[] {
    const named = quotedWords(message);
    return membersWith(this.background, instance, 'dependentRequired')
      .filter(({ name, use }) => {
        const other = use.counterpart?.at(-1);
        const given = typeof other === 'string' && hasMember(this.background, instance, other);
        return this.background.payload
          ? given && !hasMember(this.background, instance, name)
          : named.includes(name);
      })
      .map(({ name }) => ({ path: [...instance, name], rule: 'dependentRequired' }));
  }

  /** Some validators name the object here, some the member that is too much. */
  private surplus(instance: Path, keyword: string, message: string): Failure[] {
    const last = instance.at(-1);
    const around = instance.slice(0, -1);
    if (
      typeof last === 'string' &&
      declaredUse(this.background, around, keyword) &&
      !declaredUse(this.background, instance, keyword)
    )
      return [this.rule(around, keyword, { name: last })];
    return quotedWords(message).map((name) => this.rule(instance, keyword, { name }));
  }
}

const memberAbsent = (root: unknown, path: Path, name: string): boolean =>
  memberOf(path.reduce<unknown>(memberOf, root), name) === undefined;

const shortest = (units: readonly Unit[]): Path =>
  units.reduce<Path | undefined>(
    (best, { instance }) => (!best || instance.length < best.length ? instance : best),
    undefined,
  ) ?? [];

/**
 * Reads a JSON Schema validator's result in one of the standard's output formats.
 * @throws {ErrorListError} for `flag`, which has no errors; with `strict`, for invalid pointers
 */
export function fromSchemaOutput(output: Loose, background: Background): Failure[] {
  if (!isObject(output) || typeof output.valid !== 'boolean')
    throw new ErrorListError('the output of a JSON Schema validator is an object with "valid"', []);
  if (output.valid) return [];
  const reader = new UnitReader(background);
  reader.read(output, []);
  const { units, lost } = reader;
  if (units.length + lost.length === 0)
    throw new ErrorListError(
      'this output says only that the payload is not valid; ask the validator for "basic" or "list"',
      [],
    );
  return [...new FailureBuilder(background).build(units), ...lost];
}
