import { isObject } from '../../core/reading.js';
import { coerced, inDocumentOrder, type Judgement, type Request } from '../../core/rules/evaluate.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { typesOf } from '../../core/rules/types.js';
import type { Violation } from '../../core/violation/violation.js';
import { settle, violationsOf } from '../violations/failure.js';
import type { BundledParameter, SchemaForm } from './read.js';
import type { Matcher } from './ajv.js';
import { Validator } from './validator.js';

function parameterViolations(
  { name, in: place, required }: BundledParameter,
  validator: Validator,
  request: Request,
  index: FormIndex,
): Violation[] {
  const given = isObject(request[place]) ? request[place] : {};
  const key = place === 'header' ? name.toLowerCase() : name;
  const raw = Object.hasOwn(given, key) ? given[key] : undefined;
  if (raw === undefined) return required ? violationsOf([{ kind: 'rule', path: [name], rule: 'required' }], place) : [];
  const uses = index.field([name], place)?.uses ?? [];
  const types = uses.flatMap(({ rule, params }) => (rule === 'type' ? typesOf(params.expected) : []));
  const failures = settle(validator.failures(coerced(raw, types)));
  return violationsOf(
    failures.map((failure) => ({ ...failure, path: [name, ...failure.path] })),
    place,
  );
}

/**
 * Makes the function that judges requests by a form's schemas; violations come in document order.
 * @param matches runs a regular expression; it may throw where that takes too long
 * @throws {Error} when a schema cannot be compiled
 */
export function schemaJudge(
  { parts: { body, parameters } }: SchemaForm,
  index: FormIndex,
  matches: Matcher,
): (request: Request) => Judgement {
  const ofBody = body && new Validator(body, matches);
  const ofParameters = parameters.map((one) => [one, new Validator(one.bundle, matches)] as const);
  return (request) => {
    const found = ofBody ? violationsOf(ofBody.failures(request.body)) : [];
    let more = ofBody?.more ?? 0;
    for (const [parameter, validator] of ofParameters) {
      found.push(...parameterViolations(parameter, validator, request, index));
      more += validator.more;
    }
    return { violations: inDocumentOrder(found, index), more };
  };
}
