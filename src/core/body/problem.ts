import type { Sentence, SentenceCase } from '../violation/sentence.js';
import type { Answer } from './answer.js';

/** One entry of `errors`: a JSON Pointer into the body, or the name of a parameter or header. */
export type ProblemError = { readonly code: string; readonly detail: string } & (
  { readonly pointer: string } | { readonly parameter: string } | { readonly header: string }
);

/** A problem details object (RFC 9457 section 3) with the extension member `errors`. */
export interface ProblemBody {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail?: string;
  readonly instance?: string;
  readonly errors?: readonly ProblemError[];
}

export const PROBLEM_MEDIA_TYPE = 'application/problem+json';

function errorOf({ text: detail, case: { in: place, pointer, code } }: Sentence): ProblemError {
  if (place === 'body') return { pointer, code, detail };
  return place === 'header' ? { header: pointer, code, detail } : { parameter: pointer, code, detail };
}

/** Shapes an answer as RFC 9457 has it. */
export function problemBody(answer: Answer): ProblemBody {
  const { type, title, status, detail, instance, members, sentences } = answer;
  return {
    type,
    title,
    status,
    ...(detail === '' ? {} : { detail }),
    ...(instance === undefined ? {} : { instance }),
    ...members,
    ...(answer.problem === 'invalid-fields' ? { errors: sentences.map(errorOf) } : {}),
  };
}

const NEEDS_ESCAPES = /[\u0000-\u001f"\\\ud800-\udfff]/;

const quoted = (text: string): string => (NEEDS_ESCAPES.test(text) ? JSON.stringify(text) : `"${text}"`);

/** What is the same in the text of every error of one case. */
const beginnings = new WeakMap<SentenceCase, string>();

function beginningOf(sentence: Sentence): string {
  let beginning = beginnings.get(sentence.case);
  if (beginning === undefined) {
    beginning = JSON.stringify(errorOf({ ...sentence, text: '' })).slice(0, -'""}'.length);
    beginnings.set(sentence.case, beginning);
  }
  return beginning;
}

/**
 * The text of `problemBody` as JSON, quicker: pointers and codes are written once for each place, and only the sentences
 * are new. It is the same text to the letter.
 */
export function writeProblem(answer: Answer): string {
  const { sentences } = answer;
  const { errors, ...rest } = problemBody({ ...answer, sentences: [] });
  const head = JSON.stringify(rest);
  if (!errors) return head;
  let list = '';
  for (const sentence of sentences) list += `${list === '' ? '' : ','}${beginningOf(sentence)}${quoted(sentence.text)}}`;
  return `${head.slice(0, -1)},"errors":[${list}]}`;
}
