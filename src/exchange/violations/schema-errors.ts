import { getOrMake } from '../../core/base/get-or-make.js';
import { wordOf } from '../../core/text/outer.js';
import { parsePath, PathSyntaxError, type Path } from '../../core/path/path.js';
import { parsePointer, PointerSyntaxError } from '../../core/path/pointer.js';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';
import type { RequestPart } from '../../core/rules/form.js';
import { pathThrough, valueAt } from '../../core/rules/occurrences.js';
import { UNNAMED } from '../../core/rules/unnamed.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { keywordRule } from '../keywords/keyword-rule.js';
import { eitherOf, type Failure } from '../keywords/failure.js';
import {
  declaredUse,
  MOST_READ,
  useOfKeyword,
  ErrorListError,
  nearestPointer,
  unread,
  valueOf,
  type Background,
} from './foreign.js';

/** One error as validators report it: a place, a keyword, and the keyword's parameters. */
interface NativeError {
  readonly keyword: string;
  readonly path: Path;
  /** The place in the value as it is written, to find errors inside of it. */
  readonly pointer: string;
  readonly schemaPath: string;
  readonly params: LooseObject;
  readonly raw: LooseObject;
  /** Its place in the list. */
  readonly at: number;
}

/** The part of a request that a framework names: `querystring`, `params`, `headers`. */
const partOf = (context: unknown): RequestPart | undefined =>
  context === 'params'
    ? 'path'
    : (/^(body|path|query|header)(?:string|s)?$/.exec(wordOf(context))?.[1] as
        RequestPart | undefined);

/** The list of errors, and of which part of a request they are where a framework says it. */
interface NativeList {
  readonly errors: readonly Loose[];
  readonly in?: RequestPart;
}

/**
 * Native errors of a list, of an error that a framework throws, or of what holds them as `errors`;
 * else nothing.
 */
export function nativeErrors(value: Loose): NativeList | undefined {
  if (Array.isArray(value)) return { errors: value as Loose[] };
  if (!isObject(value)) return undefined;
  const { validation, validationContext, errors, keyword } = value;
  if (typeof keyword === 'string') return { errors: [value] };
  const part = partOf(validationContext);
  const listed = Array.isArray(validation) ? validation : errors;
  return Array.isArray(listed)
    ? { errors: listed as Loose[], ...(part ? { in: part } : {}) }
    : undefined;
}

class NativeReader {
  constructor(private readonly background: Background) {}

  /** Returns the path of a pointer: the value decides whether digits are a place or a name. */
  private path(pointer: string): Path {
    const { index, payload, in: part = 'body', prefix = [] } = this.background;
    if (pointer !== '' && !pointer.startsWith('/'))
      return [...prefix, ...parsePath(pointer.replace(/^\./, ''))];
    if (payload) return [...prefix, ...pathThrough(pointer, valueAt(payload.value, prefix))];
    if (index && prefix.length === 0) return pointer === '' ? [] : index.readPath(pointer, part);
    return [...prefix, ...parsePointer(pointer)];
  }

  private one(raw: Loose, at: number): NativeError {
    // What cannot be read is wrong somewhere all the same.
    const unknown = {
      ...{ keyword: UNNAMED, path: [], pointer: '', schemaPath: '' },
      ...{ params: {}, raw: {}, at },
    };
    if (!isObject(raw) || typeof raw.keyword !== 'string') {
      const trouble = 'an error is an object with "keyword", "instancePath" and "params"';
      unread(this.background, trouble, [at]);
      return unknown;
    }
    const { keyword, instancePath, dataPath, schemaPath, params } = raw;
    const pointer = [instancePath, dataPath].find((one) => typeof one === 'string') ?? '';
    try {
      return {
        ...{ keyword, path: this.path(pointer), pointer, at, raw },
        schemaPath: typeof schemaPath === 'string' ? schemaPath : '',
        params: isObject(params) ? params : {},
      };
    } catch (error) {
      if (!(error instanceof PointerSyntaxError || error instanceof PathSyntaxError)) throw error;
      unread(this.background, error.message, [at, 'instancePath']);
      return { ...unknown, path: this.path(nearestPointer(pointer)) };
    }
  }

  read(list: readonly Loose[]): Failure[] {
    if (list.length > MOST_READ) this.background.skip?.(list.length - MOST_READ);
    return this.tell(list.slice(0, MOST_READ).map((raw, at) => this.one(raw, at)));
  }

  /** A flat list: what the parts of a choice say stands right before the choice itself. */
  private tell(errors: readonly NativeError[], depth = 0): Failure[] {
    const found: Failure[][] = [];
    for (let at = errors.length - 1; at >= 0; at--) {
      const error = errors[at];
      if (!error) continue;
      const from = CHOICES.has(error.keyword) ? firstInside(errors, at) : at;
      const failures = this.failures(
        error,
        depth < DEEPEST ? errors.slice(from, at) : [],
        depth + 1,
      );
      this.background.trace?.({ at: `/${error.at}`, failures });
      found.push(failures);
      at = from;
    }
    return found.reverse().flat();
  }

  private failures(error: NativeError, inside: readonly NativeError[], depth: number): Failure[] {
    const { keyword, path, params, raw, at } = error;
    // The names themselves are not distinguished from the schema of `propertyNames`.
    if (raw.propertyName !== undefined && keyword !== 'propertyNames') return [];
    const failure = (rule: string, given: LooseObject = {}, where: Path = path): Failure => ({
      path: where,
      rule,
      params: given,
      ...this.value(raw, where, path),
    });
    switch (keyword) {
      case 'anyOf':
      case 'oneOf': {
        const either = declaredUse(this.background, path, eitherOf(keyword, []).rule);
        if (either) return [failure(either.rule, either.params)];
        const branches = Array.isArray(params.passingSchemas)
          ? []
          : this.branches(error, inside, depth);
        return [{ path, rule: keyword, branches, ...this.value(raw, path, path) }];
      }
      case 'contains': {
        const { minContains, maxContains } = params;
        if (typeof maxContains === 'number' && declaredUse(this.background, path, 'maxContains'))
          return [failure('maxContains', { max: maxContains })];
        if (typeof minContains === 'number' && minContains > 1)
          return [failure('minContains', { min: minContains })];
        return [failure('contains')];
      }
      case 'discriminator':
        return [this.discriminated(error, failure)];
      case 'errorMessage':
        // Texts of the schema's own stand for the errors that they replaced.
        return Array.isArray(params.errors)
          ? this.tell(
              (params.errors as Loose[]).slice(0, MOST_READ).map((one) => this.one(one, at)),
              depth,
            )
          : [];
      case UNNAMED:
        return [failure(UNNAMED)];
      default: {
        const parentSchema = isObject(raw.parentSchema) ? raw.parentSchema : undefined;
        const stated = keywordRule({ keyword, params, schema: raw.schema, parentSchema }, path);
        if (!stated) return [];
        const where = stated.member === undefined ? path : [...path, stated.member];
        return [this.declared(failure(stated.rule, stated.params, where), at)];
      }
    }
  }

  private value(raw: LooseObject, where: Path, path: Path): { readonly value?: unknown } {
    const given = valueOf(this.background, where);
    return 'value' in given || where !== path || raw.data === undefined
      ? given
      : { value: raw.data };
  }

  /**
   * A failure as the form has it: an expression may be its way to write a format, a keyword a rule
   * of its own.
   */
  private declared(failure: Failure, at: number): Failure {
    if (failure.branches) return failure;
    const { path, rule } = failure;
    const use = useOfKeyword(this.background, path, rule);
    if (use && use.rule !== rule) return { ...failure, rule: use.rule, params: use.params };
    if (VOCABULARY.has(rule) || declaredUse(this.background, path, rule)) return failure;
    unread(this.background, `there is no rule for the keyword "${rule}"`, [at, 'keyword']);
    return { ...failure, rule: UNNAMED, params: {} };
  }

  private discriminated(
    { path, params }: NativeError,
    failure: (rule: string, given?: LooseObject, where?: Path) => Failure,
  ): Failure {
    const tag = [...path, wordOf(params.tag)];
    const given = params.tagValue ?? valueOf(this.background, tag).value;
    if (given === undefined) return failure('required', {}, tag);
    if (params.error === 'tag') return failure('type', { expected: 'string' }, tag);
    const use = ['enum', 'const'].map((rule) => declaredUse(this.background, tag, rule));
    const choices = use.flatMap((one) => one?.params.choices ?? one?.params.expected ?? []);
    // Which names there are, the error does not say.
    return choices.length === 0 ? failure(UNNAMED, {}, tag) : failure('enum', { choices }, tag);
  }

  /**
   * Returns each alternative by its place in the schema, or by the definition that it refers to.
   */
  private branches(
    { schemaPath }: NativeError,
    inside: readonly NativeError[],
    depth: number,
  ): Failure[][] {
    const groups = new Map<string, NativeError[]>();
    for (const error of inside) {
      const own = error.schemaPath.startsWith(`${schemaPath}/`);
      const place = own
        ? PART.exec(error.schemaPath.slice(schemaPath.length + 1))
        : THREE_PARTS.exec(error.schemaPath);
      const key = `${own} ${place?.[0]}`;
      getOrMake(groups, key, () => []).push(error);
    }
    return [...groups.values()].map((group) => this.tell(group, depth));
  }
}

/**
 * Choices inside of each other, deeper than any schema has them: what is further inside is not
 * looked at.
 */
const DEEPEST = 24;

/** The first part of a place in a schema, and the first three. */
const PART = /^[^/]*/;
const THREE_PARTS = /^[^/]*(?:\/[^/]*){0,2}/;

const CHOICES: ReadonlySet<string> = new Set(['anyOf', 'oneOf', 'contains', 'not']);

/**
 * Where what stands before a composite begins that is inside it: at its place or below, by one of
 * its parts or a reference.
 */
function firstInside(errors: readonly NativeError[], at: number): number {
  const composite = errors[at];
  if (!composite) return at;
  const around = composite.schemaPath.slice(0, composite.schemaPath.lastIndexOf('/') + 1);
  let from = at;
  for (let before = errors[from - 1]; before; before = errors[from - 1]) {
    const isBelow =
      before.pointer === composite.pointer || before.pointer.startsWith(`${composite.pointer}/`);
    const isPart = before.schemaPath.startsWith(`${composite.schemaPath}/`);
    const isReferred =
      around !== '' &&
      !before.schemaPath.startsWith(around) &&
      /^[^#]*#\/(?:\$defs|definitions|components)\//.test(before.schemaPath);
    if (!isBelow || !(isPart || isReferred)) break;
    from -= 1;
  }
  return from;
}

/**
 * Reads the errors that JSON Schema validators hand on natively: each with `instancePath` (or
 * `dataPath`), `keyword`, `params`.
 * @throws {ErrorListError} when there are none; with `strict`, when one cannot be read as it
 * stands
 */
export function fromNativeErrors(value: Loose, background: Background): Failure[] {
  const native = nativeErrors(value);
  if (!native) throw new ErrorListError('this holds no list of errors', []);
  const part = background.in ?? native.in;
  const found = new NativeReader({ ...background, in: part }).read(native.errors);
  return part === undefined ? found : found.map((failure) => ({ ...failure, in: part }));
}
