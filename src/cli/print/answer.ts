import {
  answerProblem,
  answerViolations,
  type Answer,
  type AnswerOptions,
  type Occasion,
} from '../../core/body/answer.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Payload } from '../../workspace/reading/payload.js';
import type { ReadErrors } from '../../workspace/answering/violations.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { head } from './http.js';
import { write } from './out.js';
import { sentencesOf, type BodyStyle } from '../../workspace/answering/answering.js';

/** How a command wants its answers. */
export interface AnswerStyle {
  readonly workspace: Workspace;
  readonly options: AnswerOptions;
  readonly style: BodyStyle;
  readonly head: boolean;
  readonly occasion: Occasion;
}

/** The answer to what a request broke. */
export function answerViolationsOf(
  { form, instance, violations, more }: ReadErrors,
  locale: Locale,
  { workspace, options, occasion }: AnswerStyle,
): Answer {
  const happened = instance === undefined ? occasion : { ...occasion, instance };
  return answerViolations(
    violations,
    locale,
    sentencesOf(workspace, form, options.warn),
    workspace.texts,
    options,
    happened,
    more,
  );
}

/** The answer to a request whose body cannot be read, with the place where that is known. */
export function answerUnreadable(
  { problem, line, column }: Extract<Payload, { problem: string }>,
  form: string,
  locale: Locale,
  { workspace, options, occasion }: AnswerStyle,
): Answer {
  const members = line === undefined ? {} : { line, column };
  return answerProblem(problem, members, locale, form, workspace.texts, options, {
    ...occasion,
    members,
  });
}

/** Returns the answer to a problem of the whole request without further data. */
export function answerProblemOf(
  problem: string,
  form: string,
  locale: Locale,
  style: AnswerStyle,
): Answer {
  return answerProblem(
    problem,
    {},
    locale,
    form,
    style.workspace.texts,
    style.options,
    style.occasion,
  );
}

/** The text of an answer's body, with line breaks for people where it is JSON. */
export function bodyText(answer: Answer, { shape, options }: BodyStyle): string {
  const text = shape.value
    ? JSON.stringify(shape.value(answer, options), undefined, 2)
    : shape.write(answer, options);
  return text.endsWith('\n') ? text : `${text}\n`;
}

/** Writes an answer to standard output, its status line and headers first where asked. */
export function writeAnswer(answer: Answer, { style, head: withHead }: AnswerStyle): void {
  const body = bodyText(answer, style);
  write(withHead ? head(answer, style.shape.mediaType, body) + body : body);
}
