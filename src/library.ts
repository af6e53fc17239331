import { answerViolations } from './core/body/answer.js';
import { PROBLEM_MEDIA_TYPE, writeProblem } from './core/body/problem.js';
import type { Violation } from './core/violation/violation.js';
import { Workspace } from './workspace/workspace.js';

/** What a request broke, as a backend tells it. */
export interface Report {
  /** The form's id. */
  readonly form: string;
  /** A URI reference for this occurrence (RFC 9457 section 3.1.5). */
  readonly instance?: string;
  readonly violations: readonly Violation[];
}

export interface RenderOptions {
  /** The language of the answer, a BCP 47 tag; the workspace's original where absent. */
  readonly locale?: string;
}

/** An answer ready to be sent. */
export interface Rendered {
  readonly status: number;
  readonly headers: Readonly<Record<string, string>>;
  /** The body's text, in UTF-8. */
  readonly body: string;
}

/** A workspace opened for a backend: it is read once, and renders as often as needed. */
export interface Renderer {
  /**
   * Turns violations into an error answer.
   * @throws {Complaint} when the workspace has no such form, or does not speak the locale
   * @throws {PathSyntaxError} when a violation's path is none
   */
  render(report: Report, options?: RenderOptions): Rendered;
}

/**
 * Opens the workspace at or above a folder.
 * @throws {Complaint} when there is none, or a file of it cannot be read
 */
export function openWorkspace(folder: string): Renderer {
  const workspace = Workspace.open(folder);
  const options = workspace.answerOptions;
  return {
    render({ form: id, instance, violations }, { locale: tag } = {}) {
      const locale = tag === undefined ? workspace.config.original : workspace.locale(tag);
      const sentences = workspace.sentences(workspace.form(id));
      const answer = answerViolations(violations, locale, sentences, workspace.texts, options, instance);
      return {
        status: answer.status,
        headers: { 'content-type': PROBLEM_MEDIA_TYPE, 'content-language': locale },
        body: writeProblem(answer),
      };
    },
  };
}
