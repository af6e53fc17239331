import * as z from 'zod';
import {
  ANY_ELEMENT,
  PathSyntaxError,
  printPath,
  samplePath,
  type Path,
  type Pattern,
} from '../../core/path/path.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { FIELD_PLACES, type RequestPart } from '../../core/rules/form.js';
import { parsePointer, PointerSyntaxError, toPointer } from '../../core/path/pointer.js';
import { inDocumentOrder } from '../../core/rules/evaluate.js';
import { isObject } from '../../core/reading.js';
import { suggestion } from '../../core/text/closest.js';
import type { Violation } from '../../core/rules/violation.js';
import type { Warn } from '../../core/violation/warning.js';
import { listed, type Failure } from '../../exchange/keywords/failure.js';
import { fromDeclared } from '../../exchange/violations/declared.js';
import {
  ErrorListError,
  MOST_READ,
  type Background,
  type ReadEntry,
} from '../../exchange/violations/foreign.js';
import {
  isErrorListShape,
  ERROR_LIST_SHAPES,
  type ForeignShape,
} from '../../exchange/violations/report-shapes.js';
import { nearestShape, LIST_READERS, shapeOf } from '../../exchange/violations/shapes.js';
import { Complaint, complaint, type FileLocation } from '../disk/complaint.js';
import { parseJson } from '../documents/json.js';
import { jsonLocator } from '../documents/json-places.js';
import { positionAt } from '../documents/position.js';
import type { Config } from '../reading/config.js';
import { parsePayload, reasonOf } from '../reading/payload.js';
import type { Workspace } from '../reading/workspace.js';
import { explainIssue, ONCE } from '../reading/zod-issues.js';

const violationSchema = z.strictObject({
  path: z.string(),
  in: z.enum(FIELD_PLACES as readonly [RequestPart, ...RequestPart[]]).optional(),
  rule: z.string().min(1, { error: 'a rule has a name' }),
  as: z.string().optional(),
  params: z.record(z.string(), z.unknown()).optional(),
  value: z.unknown().optional(),
  label: z.string().optional(),
});

/** An answer of errors without any would be untrue. */
const NOTHING_BROKEN =
  'no violation is listed, and an answer that says so would be none; ask only where something is broken';

export const violationsSchema = z.strictObject({
  $schema: z.string().optional(),
  form: z.string().optional(),
  instance: z.string().optional(),
  violations: z.array(violationSchema).min(1, { error: NOTHING_BROKEN }),
  /** How many more there are than those listed. */
  more: z.int().min(0).optional(),
});

/** The broken rules of one request, as a backend reports them. */
export interface ReadErrors {
  readonly form: FormIndex;
  /** A URI reference for this occurrence (RFC 9457 section 3.1.5). */
  readonly instance?: string | undefined;
  readonly violations: readonly Violation[];
  readonly more?: number | undefined;
}

/** The pattern with its open elements replaced by the places of a path, in turn. */
function withPlacesOf(path: Path, pattern: Pattern): Path {
  const places = path.filter((segment) => typeof segment === 'number');
  return samplePath(
    pattern.map((segment) => (segment === ANY_ELEMENT ? (places.shift() ?? 0) : segment)),
  );
}

/** The path most likely meant: places written as names (`targets.2.name`), or a misspelt name. */
function nearPath(path: Path, part: RequestPart, { form }: FormIndex): string {
  const meant = path.map((segment) =>
    typeof segment === 'string' && /^\d+$/.test(segment) ? Number(segment) : segment,
  );
  const known = form.fields
    .filter((field) => field.in === part)
    .map(({ pattern }) => printPath(withPlacesOf(meant, pattern)));
  return suggestion(printPath(meant), known);
}

function checkPath(violation: Violation, form: FormIndex, location: () => FileLocation): void {
  const stands = violation.in ?? 'body';
  try {
    if (form.knows(violation.path, stands)) return;
    const path = form.readPath(violation.path, stands);
    throw complaint(
      'unknown-path',
      [violation.path, form.form.id, nearPath(path, stands, form)],
      location(),
    );
  } catch (error) {
    throw error instanceof PathSyntaxError
      ? complaint('wrong-content', [error.message], location())
      : error;
  }
}

/** Options for reading a report. */
export interface ErrorListOptions {
  /** The reader: a known shape, or a reader of the workspace; detected where absent. */
  readonly from?: string | undefined;
  /** The form that was validated; our own shape names it itself. */
  readonly form?: string | undefined;
  readonly payload?: { readonly value: unknown } | undefined;
  /** Called with entries that could not be read as they stand. */
  readonly warn?: Warn | undefined;
  /** Whether such an entry is refused. */
  readonly strict?: boolean | undefined;
  /** Runs the form's own rules on the payload, for readers that ask for it. */
  readonly judge?: ((form: FormIndex, value: unknown) => readonly Violation[]) | undefined;
  /** Called with the result of each entry. */
  readonly trace?: ((read: ReadEntry) => void) | undefined;
}

type LocationAt = (keys: readonly (string | number)[], side?: 'key' | 'value') => FileLocation;

function readOwn(
  value: unknown,
  at: LocationAt,
  workspace: Workspace,
  { form: named, trace }: ErrorListOptions,
): ReadErrors {
  const result = violationsSchema.safeParse(value, ONCE);
  if (!result.success) {
    const known = (keys: readonly (string | number)[]): string[] =>
      Object.keys(keys.length === 0 ? violationsSchema.shape : violationSchema.shape);
    const issue = explainIssue(result.error, value, 'a report of violations', known);
    throw complaint('wrong-content', [issue.sentence], at(issue.keys, issue.at));
  }
  const { form: id = named, instance, violations, more } = result.data;
  if (id === undefined)
    throw complaint('wrong-content', ['"form" is missing; it is a text'], at([]));
  const form = workspace.form(id, at(['form']));
  for (const [number, violation] of violations.entries())
    checkPath(violation, form, () => at(['violations', number, 'path']));
  // Our own format says what it means; each entry is what it says.
  for (const [number, { path, in: part, rule, as, params }] of trace ? violations.entries() : [])
    trace?.({
      at: `/violations/${number}`,
      failures: [
        {
          path: form.readPath(path, part ?? 'body'),
          ...(part === undefined ? {} : { in: part }),
          rule,
          ...(as === undefined ? {} : { as }),
          params,
        },
      ],
    });
  return { form, instance, violations, more };
}

/** The readers that a workspace declares. */
type Readers = Config['readers'];

/** The names of all readers of a workspace, those that need no declaration first. */
export const readerNames = (readers: Readers): readonly string[] => [
  ...ERROR_LIST_SHAPES,
  ...Object.keys(readers),
];

/**
 * Reads a report by a reader's name.
 * @throws {Complaint} when there is no such reader
 * @throws {ErrorListError}
 */
export function readBy(
  readers: Readers,
  reader: string,
  value: unknown,
  background: Background,
): Failure[] {
  const declared = Object.hasOwn(readers, reader) ? readers[reader] : undefined;
  if (declared) return fromDeclared(declared, value, background);
  const shape = reader as ForeignShape;
  if (Object.hasOwn(LIST_READERS, reader)) return LIST_READERS[shape].read(value, background);
  throw complaint('wrong-use', [noReader(reader, readers)]);
}

function noReader(reader: string, readers: Readers): string {
  const names = readerNames(readers);
  return `there is no reader "${reader}"${suggestion(reader, names)}; the readers are ${names.join(', ')}`;
}

/**
 * Reads what another validator reports of a form, in the order of the document.
 * @param reader a shape that we know, or a reader of the workspace
 * @throws {ErrorListError} when it cannot be read at all; when strict, if one entry cannot be
 */
export function foreignViolations(
  value: unknown,
  reader: string,
  index: FormIndex,
  readers: Readers,
  { payload, warn, strict, judge, trace }: ErrorListOptions = {},
): { readonly violations: Violation[]; readonly more?: number } {
  let more = 0;
  const background: Background = {
    index,
    payload,
    warn,
    strict,
    trace,
    skip: (count) => void (more += count),
    ...(payload && judge ? { judge: () => judge(index, payload.value) } : {}),
  };
  const violations = inDocumentOrder(
    listed(readBy(readers, reader, value, background), background),
    index,
  );
  return more > 0 ? { violations, more } : { violations };
}

function readForeign(
  value: unknown,
  reader: string,
  at: LocationAt,
  workspace: Workspace,
  options: ErrorListOptions,
): ReadErrors {
  const { form, strict, warn } = options;
  const { file } = at([]);
  if (form === undefined) {
    const what = isErrorListShape(reader)
      ? LIST_READERS[reader as ForeignShape].name
      : `what "${reader}" reads`;
    throw complaint('wrong-use', [
      `${what} does not say which form it is about; name it with --form`,
    ]);
  }
  const index = workspace.form(form);
  try {
    const place = (pointer: string): string => {
      const { line, column } = at(parsePointer(pointer));
      return [file, line, column].join(':');
    };
    const placed: Warn | undefined =
      warn &&
      ((one) => {
        warn(one.kind === 'unread' ? { ...one, message: `${place(one.at)}: ${one.message}` } : one);
      });
    const { violations, more } = foreignViolations(value, reader, index, workspace.config.readers, {
      ...options,
      warn: placed,
    });
    for (const violation of violations) {
      try {
        checkPath(violation, index, () => at([]));
      } catch (error) {
        // All other violations are kept; the text of this one is found by its rule alone.
        if (strict || !(error instanceof Complaint)) throw error;
        warn?.({ kind: 'unread', at: '', message: `${file}: ${error.sentence}.` });
      }
    }
    return { form: index, violations, more };
  } catch (error) {
    if (error instanceof ErrorListError)
      throw complaint('wrong-content', [error.message], at(error.keys));
    if (error instanceof PointerSyntaxError)
      throw complaint('wrong-content', [error.message], at([]));
    throw error;
  }
}

/**
 * Reads what a validator reports: our violations JSON, or what a reader reads.
 * @throws {Complaint} with line and column when it is none of these, or names what the workspace
 * does not have
 */
export function readErrorList(
  text: string,
  file: string,
  workspace: Workspace,
  options: ErrorListOptions = {},
): ReadErrors {
  const value = parseJson(text, file, false);
  const at: LocationAt = (keys, side = 'value') => ({
    file,
    ...positionAt(text, jsonLocator(text)({ file, keys, at: side })),
  });
  const { readers } = workspace.config;
  if (options.from !== undefined && !readerNames(readers).includes(options.from))
    throw complaint('wrong-use', [noReader(options.from, readers)]);
  const reader = options.from ?? shapeOf(value);
  if (reader === undefined) throw complaint('wrong-content', [nearestShape(value)], at([]));
  return reader === 'violations'
    ? readOwn(value, at, workspace, options)
    : readForeign(value, reader, at, workspace, options);
}

/**
 * Whether a value is an ordinary violation. This is quicker than the schema, which decides all
 * other cases.
 */
const isUsualViolation = (violation: unknown): boolean => {
  if (
    !isObject(violation) ||
    typeof violation.path !== 'string' ||
    typeof violation.rule !== 'string' ||
    violation.rule === ''
  )
    return false;
  for (const key of Object.keys(violation)) {
    if (key === 'path' || key === 'rule' || key === 'value') continue;
    if (
      key === 'params'
        ? !isObject(violation.params)
        : key !== 'as' || typeof violation.as !== 'string'
    )
      return false;
  }
  return true;
};

const isUsualList = (value: unknown): boolean =>
  isObject(value) &&
  Array.isArray(value.violations) &&
  value.violations.length > 0 &&
  Object.keys(value).length === 1 &&
  value.violations.every(isUsualViolation);

/** A report from the network, as far as it could be read. */
export interface CheckedErrors {
  readonly violations: readonly Violation[];
  readonly instance?: string;
  readonly more?: number;
  /**
   * The paths that the form does not know, as logs may have them; a client may have made them up.
   */
  readonly unknown: readonly string[];
}

/**
 * A path as backends and logs may have it: without names that a client chose inside of something
 * secret.
 */
const shownPath = (path: string, part: RequestPart, form: FormIndex): string =>
  printPath(form.shownPath(form.readPath(path, part), part));

/** A report with as many violations as are read, and how many there are beyond. */
function asMuchAsIsRead(value: unknown): { readonly value: unknown; readonly rest: number } {
  if (!isObject(value) || !Array.isArray(value.violations) || value.violations.length <= MOST_READ)
    return { value, rest: 0 };
  return {
    value: { ...value, violations: value.violations.slice(0, MOST_READ) },
    rest: value.violations.length - MOST_READ,
  };
}

/**
 * Checks violations in our own shape that came over the network, for a form that the address names.
 * @returns the violations, or what is wrong with them and where, as a JSON Pointer
 */
export function checkErrorList(
  given: unknown,
  form: FormIndex,
): CheckedErrors | { readonly mistake: string; readonly at: string } {
  const { value, rest } = asMuchAsIsRead(given);
  if (!isUsualList(value)) {
    const { error } = violationsSchema.safeParse(value);
    if (error) {
      const issue = explainIssue(error, value, 'a report of violations', () => []);
      return { mistake: issue.sentence, at: toPointer(issue.keys) };
    }
  }
  const { violations, instance, more } = value as z.infer<typeof violationsSchema>;
  const unknown: string[] = [];
  for (const [number, { path, in: part = 'body' }] of violations.entries()) {
    try {
      if (!form.knows(path, part)) unknown.push(shownPath(path, part, form));
    } catch (error) {
      if (error instanceof PathSyntaxError)
        return { mistake: error.message, at: `/violations/${number}/path` };
      throw error;
    }
  }
  const [first] = violations;
  if (first && unknown.length === violations.length) {
    const { path, in: part = 'body' } = first;
    const near = nearPath(form.readPath(path, part), part, form);
    const mistake = `the form "${form.form.id}" has no field at ${shownPath(path, part, form) || 'the whole body'}${near}`;
    return { mistake, at: '/violations/0/path' };
  }
  const beyond = rest + (more ?? 0);
  return {
    violations,
    unknown,
    ...(instance === undefined ? {} : { instance }),
    ...(beyond === 0 ? {} : { more: beyond }),
  };
}

/**
 * A report that came over the network as it was read; or the mistake of whoever sent it, in one
 * sentence.
 */
export type ErrorListOutcome =
  CheckedErrors | { readonly mistake: string; readonly at?: string; readonly status?: number };

/** Reads what another validator reports of a form that the address names. */
function foreignErrorList(
  value: unknown,
  reader: string,
  form: FormIndex,
  readers: Readers,
  options: ErrorListOptions,
): ErrorListOutcome {
  if (!readerNames(readers).includes(reader)) return { mistake: noReader(reader, readers) };
  try {
    const { violations, ...rest } = foreignViolations(value, reader, form, readers, options);
    if (violations.length === 0) return { mistake: NOTHING_BROKEN };
    const unknown = violations.flatMap(({ path, in: part = 'body' }) =>
      form.knows(path, part) ? [] : [shownPath(path, part, form)],
    );
    return { violations, unknown, ...rest };
  } catch (error) {
    if (error instanceof ErrorListError)
      return { mistake: error.message, at: toPointer(error.keys) };
    if (error instanceof PointerSyntaxError || error instanceof PathSyntaxError)
      return { mistake: error.message };
    throw error;
  }
}

/** The members of a body that has the validated payload beside the error list. */
const BESIDE = ['errorList', 'payload'] as const;

/** Whether a text may have a payload beside its error list; without parsing it. */
export const mayHavePayload = (text: string): boolean =>
  BESIDE.every((name) => text.includes(`"${name}"`));

/** Takes an error list from a body that has the payload beside it. */
function withPayload(value: unknown): Pick<ErrorListOptions, 'payload'> & { list: unknown } {
  const isBoth =
    isObject(value) &&
    Object.keys(value).length === BESIDE.length &&
    BESIDE.every((name) => Object.hasOwn(value, name));
  return isBoth ? { list: value.errorList, payload: { value: value.payload } } : { list: value };
}

/**
 * Reads a report of a form that the address names, as it came over the network. The validated
 * payload may stand beside it: `{ "errorList": …, "payload": … }`.
 * @param text its text; absent where the bytes are none
 * @param reader `violations` for our own shape, or another's name
 */
export function errorListFrom(
  text: string | undefined,
  reader: string,
  form: FormIndex,
  readers: Readers,
  options: Pick<ErrorListOptions, 'warn' | 'judge'>,
): ErrorListOutcome {
  if (text === undefined) return { mistake: 'the body is not text in UTF-8' };
  const payload = parsePayload(text);
  if ('problem' in payload)
    return {
      mistake: reasonOf(payload),
      ...(payload.problem === 'too-large' ? { status: 413 } : {}),
    };
  // Our own violations bring all that is to be said.
  if (reader === 'violations') return checkErrorList(payload.value, form);
  const { list, ...beside } = withPayload(payload.value);
  const read = foreignErrorList(list, reader, form, readers, { ...options, ...beside });
  return 'at' in read && beside.payload ? { ...read, at: `/${BESIDE[0]}${read.at}` } : read;
}
