import type { Path } from '../../path/path.js';
import { toPointer } from '../../path/pointer.js';
import type { Sentence, SentenceCase } from '../../violation/sentence.js';
import { detailOf, type Answer } from '../answer.js';
import type { DeveloperDetail } from '../developer.js';
import { jsonShape } from './shape.js';

/** Returns the pointers of missing fields. */
const lackingIn = (cases: readonly SentenceCase[]): ReadonlySet<string> =>
  new Set(
    cases
      .filter(({ lacks, in: part }) => lacks && part === 'body')
      .map(({ path }) => toPointer(path)),
  );

/** The nearest place around a path that is in the request: what is missing is not. */
function present(path: Path, lacking: ReadonlySet<string>): Path {
  let { length } = path;
  while (length > 0 && lacking.has(toPointer(path.slice(0, length)))) length--;
  return path.slice(0, length);
}

/**
 * Where an error stands (JSON:API 1.1, Error Objects): pointers there are no fragments and lead to
 * what is in the request; headers and parameters have members of their own.
 */
function sourceOf(
  { path, in: part, pointer, lacks }: SentenceCase,
  prefix: string,
  lacking: ReadonlySet<string>,
): object {
  if (part === 'body')
    return { pointer: prefix + toPointer(lacks ? present(path, lacking) : path) };
  return part === 'header' ? { header: pointer } : { parameter: pointer };
}

/**
 * Further members: the place of the missing field, which the pointer does not have, the text beside
 * the input, and the details for developers.
 */
function metaOf(
  { inline, members: named, case: { path, in: part, lacks } }: Sentence,
  prefix: string,
  developer: DeveloperDetail | undefined,
): object | undefined {
  const missing =
    lacks && part === 'body' && path.length > 0 ? prefix + toPointer(path) : undefined;
  const members = named?.map((one) => prefix + toPointer(one));
  return missing === undefined && inline === undefined && !members && !developer
    ? undefined
    : { missing, inline, members, developer };
}

function errorsOf(answer: Answer, prefix: string): object[] {
  const status = String(answer.status);
  const { requestId: id, type, title, problem, detail, members } = answer;
  const links = type === 'about:blank' ? undefined : { type };
  if (problem !== 'invalid-fields') {
    const meta = Object.keys(members).length > 0 ? members : undefined;
    return [{ id, links, status, code: problem, title, detail: detail || undefined, meta }];
  }
  const lacking = lackingIn(answer.sentences.map((sentence) => sentence.case));
  return answer.sentences.map((sentence, at) => {
    return {
      id,
      links,
      status,
      code: sentence.case.code,
      title,
      detail: sentence.text,
      source: sourceOf(sentence.case, prefix, lacking),
      meta: metaOf(sentence, prefix, detailOf(answer, at)),
    };
  });
}

/** Error objects of JSON:API 1.1. */
export const jsonapi = jsonShape('jsonapi', 'application/vnd.api+json', (answer, { prefix }) => ({
  errors: errorsOf(answer, prefix),
  meta: answer.more > 0 ? { more: answer.more } : undefined,
}));
