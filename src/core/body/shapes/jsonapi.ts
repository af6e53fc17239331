import { toPointer } from '../../path/pointer.js';
import type { SentenceCase } from '../../violation/sentence.js';
import { detailOf, type Answer } from '../answer.js';
import { jsonShape } from './shape.js';

/** Where an error stands (JSON:API 1.1, Error Objects): pointers there are no fragments, and headers and parameters have members of their own. */
function sourceOf({ path, in: place, pointer }: SentenceCase, prefix: string): object {
  if (place === 'body') return { pointer: prefix + toPointer(path) };
  return place === 'header' ? { header: pointer } : { parameter: pointer };
}

function errorsOf(answer: Answer, prefix: string): object[] {
  const status = String(answer.status);
  const id = answer.requestId === undefined ? {} : { id: answer.requestId };
  const type = answer.type === 'about:blank' ? {} : { links: { type: answer.type } };
  if (answer.problem !== 'invalid-fields') {
    const detail = answer.detail === '' ? {} : { detail: answer.detail };
    const meta = Object.keys(answer.members).length > 0 ? { meta: answer.members } : {};
    return [{ ...id, ...type, status, code: answer.problem, title: answer.title, ...detail, ...meta }];
  }
  return answer.sentences.map((sentence, at) => {
    const developer = detailOf(answer, at);
    return {
      ...id,
      ...type,
      status,
      code: sentence.case.code,
      title: answer.title,
      detail: sentence.text,
      source: sourceOf(sentence.case, prefix),
      ...(developer ? { meta: { developer } } : {}),
    };
  });
}

/** Error objects of JSON:API 1.1. */
export const jsonapi = jsonShape('jsonapi', 'application/vnd.api+json', (answer, { prefix }) => ({
  errors: errorsOf(answer, prefix),
  ...(answer.more > 0 ? { meta: { more: answer.more } } : {}),
}));
