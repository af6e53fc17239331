import { toFragment, toPointer } from '../path/pointer.js';
import type { SentenceCase } from '../violation/sentence.js';
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

const where = new WeakMap<SentenceCase, { pointer: string } | { parameter: string } | { header: string }>();

function whereOf(sentenceCase: SentenceCase): { pointer: string } | { parameter: string } | { header: string } {
  let found = where.get(sentenceCase);
  if (!found) {
    const { path, in: place } = sentenceCase;
    if (place === 'body') found = { pointer: toFragment(path) };
    else found = place === 'header' ? { header: toPointer(path).slice(1) } : { parameter: toPointer(path).slice(1) };
    where.set(sentenceCase, found);
  }
  return found;
}

/** Shapes an answer as RFC 9457 has it. */
export function problemBody(answer: Answer): ProblemBody {
  const { type, title, status, detail, instance, sentences } = answer;
  return {
    type,
    title,
    status,
    ...(detail === '' ? {} : { detail }),
    ...(instance === undefined ? {} : { instance }),
    ...(answer.problem === 'invalid-fields'
      ? { errors: sentences.map((sentence) => ({ ...whereOf(sentence.case), code: sentence.case.code, detail: sentence.text })) }
      : {}),
  };
}
