import { parsePath, type Path } from '../core/path/path.js';
import type { RequestPart } from '../core/rules/form.js';
import type { Violation } from '../core/rules/violation.js';
import type { Warn } from '../core/violation/warning.js';
import { listed, type Failure } from '../exchange/keywords/failure.js';
import type { Background } from '../exchange/violations/foreign.js';
import type { FormRules } from './rendering.js';

/** Options for reading a validator's report. */
export interface ForeignOptions {
  /** The rules of the form (`renderer.form(id)`), for parameters that the report leaves out. */
  readonly form?: FormRules;
  /**
   * The validated value: it distinguishes a missing field from one of the wrong type, and gives
   * messages the value.
   */
  readonly payload?: unknown;
  /** Which part of the request was validated; its body where absent. */
  readonly in?: RequestPart;
  /**
   * A path that stands before all paths of the report: `filter` where only that member was
   * validated.
   */
  readonly prefix?: string;
  /**
   * Called with entries that cannot be read as they stand; the client gets a true sentence all the
   * same.
   */
  readonly onWarning?: Warn;
  /** Whether such an entry is an error instead. */
  readonly strict?: boolean;
}

/** Wraps the validated value at its place in the whole. */
const around = (value: unknown, prefix: Path): unknown =>
  prefix.reduceRight<unknown>((inner, segment) => {
    if (typeof segment === 'string') return { [segment]: inner };
    const list: unknown[] = [];
    list[segment] = inner;
    return list;
  }, value);

/** The options as readers want them. */
export function background(options: ForeignOptions): Background {
  const { form, in: part, onWarning: warn, strict } = options;
  const prefix = options.prefix === undefined ? [] : parsePath(options.prefix);
  const payload =
    'payload' in options ? { payload: { value: around(options.payload, prefix) } } : {};
  return { index: form?.index, in: part, prefix, warn, strict, ...payload };
}

/** Reads a report into failures. */
export type Reader = (value: unknown, background: Background) => Failure[];

/**
 * Violations that a reader made, and how many entries of the report it left out, since there are
 * too many.
 */
export interface ReadViolations extends Array<Violation> {
  more?: number;
}

function listedBy(read: Reader, value: unknown, about: Background): ReadViolations {
  let more = 0;
  const skip = (count: number): void => void (more += count);
  const violations: ReadViolations = listed(read(value, { ...about, skip }), about);
  if (more > 0) violations.more = more;
  return violations;
}

/** A reader as callers have it: a report in, violations out. */
export const readerOf =
  (read: Reader) =>
  (value: unknown, options: ForeignOptions = {}): ReadViolations =>
    listedBy(read, value, background(options));
