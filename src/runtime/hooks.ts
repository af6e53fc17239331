import type { BrokenRules, ProblemOptions } from '../render/rendering.js';
import type { ProblemId } from '../typed.js';

/** Names of headers, and their values. */
export type Headers = Readonly<Record<string, string>>;

/** A problem, with the data of this occurrence. */
export type NamedProblem = { readonly [P in ProblemId]: OneProblem<P> }[ProblemId];

interface OneProblem<P extends ProblemId> extends Omit<
  ProblemOptions<P>,
  'shape' | 'time' | 'traceId'
> {
  readonly problem: P;
  /** Sent with the answer, such as `WWW-Authenticate`. */
  readonly headers?: Headers;
}

/** A language that something else than `Accept-Language` decided. */
export interface ChosenLocale {
  readonly locale: string;
  /** The request header that decided it, such as `Cookie`; none where caches may keep nothing. */
  readonly vary?: string;
}

/** Describes an answer, for logs; of a client's input it has paths only. */
export interface AnswerGiven {
  readonly status: number;
  readonly locale: string;
  readonly problem: string;
  readonly form?: string;
  readonly violations?: BrokenRules['violations'];
}

/** Options for answers to errors, and the hooks that hear of them. */
export interface ErrorAnswerOptions<R = unknown> {
  /**
   * Reads broken rules from an error of the backend's own (a validator's, for example); returns
   * nothing for other errors.
   */
  readonly read?: (error: unknown, request: R) => BrokenRules | undefined;
  /** The problem that an error of your own is (`conflict`); nothing where it is something else. */
  readonly problem?: (error: unknown, request: R) => ProblemId | NamedProblem | undefined;
  /** The language of the answer, where a profile or a cookie decides it. */
  readonly locale?: (request: R) => string | ChosenLocale | undefined;
  /** The URI of this occurrence (RFC 9457 section 3.1.5). */
  readonly instance?: (request: R) => string | undefined;
  /** Called after every answer. */
  readonly onAnswer?: (request: R, answer: AnswerGiven) => void;
  /**
   * Called with unexpected errors, also with errors of the hooks and with unknown forms and
   * problems; clients get nothing of them.
   */
  readonly onUnexpected?: (error: unknown, request: R) => void;
  /** Throws what is wrong with a hook or a name, for tests. */
  readonly strict?: boolean;
}
