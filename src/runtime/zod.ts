import type { Violation } from '../core/rules/violation.js';
import { fromZodIssues } from '../exchange/violations/zod.js';
import { readerOf, type ForeignOptions } from '../render/reading.js';

export { ErrorListError } from '../exchange/violations/foreign.js';

/**
 * Reads the issues of Zod 4 as violations.
 * @param error an error, its list of issues, or the result of a failed `safeParse`
 * @throws {ErrorListError} when it holds no issues; with `strict`, when one cannot be read as
 * it stands
 */
export const fromZod: (error: unknown, options?: ForeignOptions) => Violation[] =
  readerOf(fromZodIssues);
