import type { Violation } from '../core/rules/violation.js';
import { fromNativeErrors } from '../exchange/violations/schema-errors.js';
import { readerOf, type ForeignOptions } from '../render/reading.js';

export { ErrorListError } from '../exchange/violations/foreign.js';

/**
 * Reads the errors that JSON Schema validators hand on natively (`instancePath`, `keyword`,
 * `params`) as violations.
 * @param errors the list, or what a web framework throws that holds it
 * @throws {ErrorListError} when there is no such list; with `strict`, when an error cannot be
 * read as it stands
 */
export const fromSchemaErrors: (errors: unknown, options?: ForeignOptions) => Violation[] =
  readerOf(fromNativeErrors);
