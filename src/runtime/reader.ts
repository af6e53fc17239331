import type { Violation } from '../core/rules/violation.js';
import { fromDeclared, type ReaderDeclaration } from '../exchange/violations/declared.js';
import { readerOf, type ForeignOptions } from '../render/reading.js';

export type { ReaderDeclaration, RuleTarget } from '../exchange/violations/declared.js';
export { ErrorListError } from '../exchange/violations/foreign.js';

/**
 * Makes a reader out of a declaration of how a validator's reports are laid out, as `readers` in
 * zeitwort.yaml has it.
 * @throws {ErrorListError} by the reader, when a report has no entries; with `strict`, when one
 * cannot be read
 */
export const errorListReader = (
  declared: ReaderDeclaration,
): ((report: unknown, options?: ForeignOptions) => Violation[]) =>
  readerOf((report, about) => fromDeclared(declared, report, about));
