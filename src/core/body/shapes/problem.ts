import type { Sentence } from '../../violation/sentence.js';
import { toFragment } from '../../path/pointer.js';
import { detailOf, type Answer } from '../answer.js';
import type { DeveloperDetail } from '../developer.js';
import type { Shape } from './shape.js';
import { keyed } from '../../base/keyed.js';

/** One entry of `errors`: a JSON Pointer into the body, or the name of a parameter or header. */
export type ProblemError = {
  readonly code: string;
  readonly detail: string;
  readonly inline?: string | undefined;
  /** The members of which some have to be given, as pointers. */
  readonly members?: readonly string[] | undefined;
  readonly developer?: DeveloperDetail | undefined;
} & ({ readonly pointer: string } | { readonly parameter: string } | { readonly header: string });

/** A problem details object (RFC 9457 section 3) with the extension member `errors`. */
export interface ProblemBody {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail?: string | undefined;
  readonly instance?: string | undefined;
  readonly errors?: readonly ProblemError[] | undefined;
  /** The number of omitted violations. */
  readonly more?: number | undefined;
}

export const PROBLEM_MEDIA_TYPE = 'application/problem+json';

function errorOf(
  { text: detail, inline, members: named, case: { in: part, pointer, code } }: Sentence,
  developer?: DeveloperDetail,
): ProblemError {
  // What is undefined is not a member of JSON.
  const members = named?.map(toFragment);
  const entry = { code, detail, inline, members, developer };
  if (part === 'body') return { pointer, ...entry };
  return part === 'header' ? { header: pointer, ...entry } : { parameter: pointer, ...entry };
}

/** Shapes an answer as RFC 9457 has it. */
export function problemBody(answer: Answer): ProblemBody {
  const { type, title, status, detail, instance, members, sentences, more } = answer;
  return {
    type,
    title,
    status,
    detail: detail || undefined,
    instance,
    ...members,
    more: more || undefined,
    errors:
      answer.problem === 'invalid-fields'
        ? sentences.map((sentence, at) => errorOf(sentence, detailOf(answer, at)))
        : undefined,
  };
}

/** One error as JSON. */
function writtenError(sentence: Sentence): string {
  return (sentence.written ??= JSON.stringify(errorOf(sentence)));
}

/**
 * The text of `problemBody` as JSON, quicker: what was said before is written already. It is the
 * same text to the letter.
 */
export function writeProblem(answer: Answer): string {
  const { sentences } = answer;
  if (answer.details) return JSON.stringify(problemBody(answer));
  const { errors, ...rest } = problemBody({ ...answer, sentences: [] });
  const head = JSON.stringify(rest);
  if (!errors) return head;
  let list = '';
  for (const sentence of sentences) list += (list === '' ? '' : ',') + writtenError(sentence);
  return `${head.slice(0, -1)},"errors":[${list}]}`;
}

export const problem: Shape = {
  name: 'problem',
  mediaType: PROBLEM_MEDIA_TYPE,
  value: problemBody,
  write: writeProblem,
};

const XML_ESCAPES: Readonly<Record<string, string>> = keyed({
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
});

/** Text for XML 1.0: what it cannot hold at all is left out. */
export const xmlText = (text: string): string =>
  text
    .toWellFormed()
    .replace(/[&<>"]/g, (character) => XML_ESCAPES[character] ?? character)

    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '');

/** RFC 9457 appendix B: members are elements, the entries of a list are `i`. */
function xmlOf(name: string, value: unknown): string {
  if (value === undefined || value === null) return '';
  if (Array.isArray(value))
    return `<${name}>${value.map((entry) => xmlOf('i', entry)).join('')}</${name}>`;
  if (typeof value === 'object')
    return `<${name}>${Object.entries(value)
      .map(([key, member]) => xmlOf(/^[A-Za-z_][\w.-]*$/.test(key) ? key : 'member', member))
      .join('')}</${name}>`;
  return `<${name}>${xmlText(typeof value === 'string' ? value : JSON.stringify(value))}</${name}>`;
}

/** The XML of RFC 9457. */
export const problemXml: Shape = {
  name: 'problem-xml',
  mediaType: 'application/problem+xml',
  write(answer) {
    const members = Object.entries(problemBody(answer)).map(([name, value]) => xmlOf(name, value));
    return `<?xml version="1.0" encoding="UTF-8"?>\n<problem xmlns="urn:ietf:rfc:7807" xml:lang="${answer.locale}">${members.join('')}</problem>`;
  },
};
