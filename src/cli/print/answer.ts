import { answerProblem, answerViolations, type Answer } from '../../core/body/answer.js';
import { problemBody } from '../../core/body/problem.js';
import type { Locale } from '../../core/locale/tag.js';
import type { ViolationReport } from '../../workspace/violations.js';
import type { Workspace } from '../../workspace/workspace.js';
import { head } from './http.js';

/** The answer to what a request broke. */
export function answerReport(workspace: Workspace, { form, instance, violations }: ViolationReport, locale: Locale): Answer {
  const { texts, answerOptions } = workspace;
  return answerViolations(violations, locale, workspace.sentences(form), texts, answerOptions, instance);
}

/** The answer to a request whose body cannot be read, with the place where that is known. */
export function answerUnreadable(
  workspace: Workspace,
  form: string,
  { problem, line, column }: { problem: string; line?: number | undefined; column?: number | undefined },
  locale: Locale,
): Answer {
  const place = line === undefined ? {} : { line, column };
  const args = { ...place, located: line === undefined ? 'no' : 'yes' };
  return answerProblem(problem, args, locale, form, workspace.texts, workspace.answerOptions, [], undefined, place);
}

/** Writes an answer to standard output, its status line and headers first where asked. */
export function writeAnswer(answer: Answer, { head: withHead }: { readonly head?: boolean }): void {
  const body = `${JSON.stringify(problemBody(answer), undefined, 2)}\n`;
  process.stdout.write(withHead ? head(answer, body) + body : body);
}
