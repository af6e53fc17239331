import type { Violation } from '../core/rules/violation.js';
import { fromSchemaOutput } from '../exchange/violations/schema-output.js';
import { readerOf, type ForeignOptions } from '../render/reading.js';

export { ErrorListError } from '../exchange/violations/foreign.js';

/**
 * Reads the output of a JSON Schema validator (formats `basic`, `detailed`, `list`, `hierarchical`)
 * as violations.
 * @throws {ErrorListError} when it is none of these
 */
export const fromJsonSchemaOutput: (output: unknown, options?: ForeignOptions) => Violation[] =
  readerOf(fromSchemaOutput);
