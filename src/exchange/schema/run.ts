import { getOrMake } from '../../core/base/get-or-make.js';
import { isObject } from '../../core/reading.js';
import {
  comesWithoutBody,
  inDocumentOrder,
  type Judgement,
  type Request,
} from '../../core/rules/evaluate.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { Path } from '../../core/path/path.js';
import { keyOf } from '../../core/rules/parameters.js';
import { declaredTypes, FILE } from '../../core/rules/types.js';
import { settle, violationsOf } from '../keywords/failure.js';
import type { Matcher } from './ajv.js';
import type { Bundle } from './bundle.js';
import { Compiled } from './compiled.js';
import type { Definitions } from './definitions.js';
import type { BundledParameter, SchemaForm } from './read.js';
import { Validator } from './validator.js';
import { withoutFiles } from './html-forms.js';

/** Makes validators that share what their schemas have in common. */
export class Validators {
  private readonly compiled = new Map<Definitions, Compiled>();

  /** @param matches runs a regular expression; it may throw where that takes too long */
  constructor(private readonly matches: Matcher) {}

  /** @throws {Error} when the schema cannot be compiled */
  of(bundle: Bundle): Validator {
    const compiled = getOrMake(
      this.compiled,
      bundle.definitions,
      () => new Compiled(bundle, this.matches),
    );
    return new Validator(bundle, compiled);
  }
}

/** Returns the failures of a parameter; of an absent one, at most that it is missing. */
function judgeParameter(
  parameter: BundledParameter,
  validator: Validator,
  request: Request,
): Judgement {
  const { name, in: part, required } = parameter;
  const given = isObject(request[part]) ? request[part] : {};
  const key = keyOf(parameter);
  const value = Object.hasOwn(given, key) ? given[key] : undefined;
  if (value === undefined)
    return {
      violations: required ? violationsOf([{ path: [name], rule: 'required' }], part) : [],
      more: 0,
    };
  const failures = settle(validator.failures(value));
  const all = failures.map((failure) => ({ ...failure, path: [name, ...failure.path] }));
  return { violations: violationsOf(all, part), more: validator.more };
}

/**
 * Makes the function that judges requests by a form's schemas; violations come in document order.
 * @throws {Error} when a schema cannot be compiled
 */
export function schemaJudge(
  { parts: { body, parameters } }: SchemaForm,
  index: FormIndex,
  validators: Validators,
): (request: Request) => Judgement {
  const ofBody = body && validators.of(body);
  const ofParameters = parameters.map((one) => [one, validators.of(one.bundle)] as const);
  const isFile = (path: Path): boolean =>
    declaredTypes(index.field(path, 'body')?.uses ?? []).includes(FILE);
  return (request) => {
    const validator = comesWithoutBody(index, request) ? undefined : ofBody;
    const body = index.form.media ? withoutFiles(request.body, isFile) : request.body;
    const found = validator ? violationsOf(validator.failures(body)) : [];
    let more = validator?.more ?? 0;
    for (const [parameter, ofParameter] of ofParameters) {
      const judged = judgeParameter(parameter, ofParameter, request);
      found.push(...judged.violations);
      more += judged.more;
    }
    return { violations: inDocumentOrder(found, index), more };
  };
}
