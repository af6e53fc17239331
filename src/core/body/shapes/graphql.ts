import { detailOf, type Answer } from '../answer.js';
import { jsonShape } from './shape.js';

function errorsOf(answer: Answer): object[] {
  const { problem, status, title, detail, type, members, requestId } = answer;
  const common = {
    problem,
    status,
    type: type === 'about:blank' ? undefined : type,
    requestId,
  };
  if (problem !== 'invalid-fields')
    return [
      {
        message: title,
        extensions: { code: problem, detail: detail || undefined, ...common, ...members },
      },
    ];
  return answer.sentences.map((sentence, at) => {
    const { text: message, inline, members } = sentence;
    const { code, path: input, in: where } = sentence.case;
    // `path` of the specification leads into the response; where the input is wrong is said in the
    // extensions.
    const part = where === 'body' ? undefined : where;
    const developer = detailOf(answer, at);
    return {
      message,
      extensions: { code, inline, input, members, in: part, ...common, developer },
    };
  });
}

/**
 * The errors of a GraphQL response (GraphQL specification, October 2021, section 7.1.2), without
 * data: the request failed as a whole.
 */
export const graphql = jsonShape('graphql', 'application/graphql-response+json', (answer) => ({
  errors: errorsOf(answer),
  extensions: answer.more > 0 ? { more: answer.more } : undefined,
}));
