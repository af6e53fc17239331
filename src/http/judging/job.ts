import type { Violation } from '../../core/rules/violation.js';
import type { Config } from '../../workspace/reading/config.js';
import type { ErrorListOutcome } from '../../workspace/answering/violations.js';

/**
 * All that a worker has to know of a workspace: texts of files, so that it answers as of one
 * reading, whatever happens on the disk.
 */
export interface Brief {
  /** The files that declare forms, in order. */
  readonly rules: readonly string[];
  /** Those and what they refer to, and the tables, by their names. */
  readonly texts: readonly (readonly [string, string])[];
  readonly tables: Readonly<Record<string, string>>;
  readonly readers: Config['readers'];
  readonly zone: string;
  /** Whether null and blank texts count as missing, where no sheet says. */
  readonly blank: boolean;
  /** Milliseconds that the judging of one request may take. */
  readonly budget: number;
  /** Expressions that ran out before, and have a small budget for each text. */
  readonly hurried: readonly string[];
}

/** A request as it came in. */
export interface RequestJob {
  readonly kind: 'request';
  readonly form: string;
  /** The body's bytes; absent where the form takes none. */
  readonly body?: Uint8Array;
  /** The header `Content-Type` of what an HTML form sent; the body is JSON where absent. */
  readonly media?: string | undefined;
  readonly query: string;
  readonly headers: Readonly<Record<string, unknown>>;
  readonly segments: Readonly<Record<string, string>>;
}

/** A report that a backend sent: what another validator, or itself, found wrong in a request. */
export interface ErrorListJob {
  readonly kind: 'report';
  readonly form: string;
  /** The bytes of the report. */
  readonly body: Uint8Array;
  readonly reader: string;
}

export type Job = RequestJob | ErrorListJob;

/** The outcome of a job. */
export type Outcome =
  | {
      readonly kind: 'unreadable';
      /** `refused`: it is not what its media type says, and no JSON. */
      readonly problem: 'empty-body' | 'malformed-body' | 'too-large' | 'refused';
      readonly line?: number | undefined;
      readonly column?: number | undefined;
    }
  | { readonly kind: 'broken'; readonly violations: readonly Violation[]; readonly more: number }
  /** `body` is what was accepted, as JSON, without what is secret. */
  | { readonly kind: 'accepted'; readonly body: string | undefined }
  | {
      readonly kind: 'read';
      readonly report: ErrorListOutcome;
      readonly warnings: readonly string[];
    }
  /** Validation ran out of time; `why` is for the log. */
  | { readonly kind: 'late'; readonly why: string; readonly hurried?: readonly string[] }
  | { readonly kind: 'failed'; readonly why: string };

/**
 * A message to a worker: a job, expressions that get a small budget, or that it may try the forms
 * that are left.
 */
export type Asked =
  | { readonly number: number; readonly job: Job }
  | { readonly hurry: Brief['hurried'] }
  | { readonly tryRest: true };

/**
 * A message from a worker: first that it is ready, with what cannot be run as far as it has tried;
 * then an outcome for each job.
 */
export type Said =
  | { readonly ready: readonly string[] }
  /** What cannot be run, found after the worker was ready. */
  | { readonly failed: string }
  /** Prepared what a form is judged by; the time of the request runs from now. */
  | { readonly begun: number }
  | { readonly done: number; readonly outcome: Outcome };
