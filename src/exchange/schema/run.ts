import { isObject } from '../../core/reading.js';
import { coerced, inDocumentOrder, type Request } from '../../core/rules/evaluate.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { typesOf } from '../../core/rules/kinds.js';
import type { Violation } from '../../core/violation/violation.js';
import { settle, violationsOf } from '../violations/failure.js';
import type { BundledParameter, SchemaForm } from './read.js';
import { Validator, type Matcher } from './validator.js';

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
 * Makes the function that runs a form's schemas on requests; violations come in document order.
 * @param matches runs a regular expression, within a time limit
 */
export function schemaEvaluator(
  { parts: { body, parameters } }: SchemaForm,
  index: FormIndex,
  matches: Matcher,
): (request: Request) => Violation[] {
  const ofBody = body && new Validator(body, matches);
  const ofParameters = parameters.map((one) => [one, new Validator(one.bundle, matches)] as const);
  return (request) => {
    const found = ofBody ? violationsOf(ofBody.failures(request.body)) : [];
    for (const [parameter, validator] of ofParameters) found.push(...parameterViolations(parameter, validator, request, index));
    return inDocumentOrder(found, index);
  };
}
