import { detailOf, type Answer } from '../answer.js';
import { jsonShape } from './shape.js';

function errorsOf(answer: Answer): object[] {
  const { problem, status, title, detail, type, members, requestId } = answer;
  const common = {
    problem,
    status,
    ...(type === 'about:blank' ? {} : { type }),
    ...(requestId === undefined ? {} : { requestId }),
  };
  if (problem !== 'invalid-fields')
    return [
      {
        message: title,
        extensions: { code: problem, ...(detail === '' ? {} : { detail }), ...common, ...members },
      },
    ];
  return answer.sentences.map((sentence, at) => {
    const developer = detailOf(answer, at);
    const { code, path, in: part } = sentence.case;
    // `path` of the specification leads into the response; where the input is wrong is said in the
    // extensions.
    const input = part === 'body' ? { input: path } : { input: path, in: part };
    const inline = sentence.inline === undefined ? {} : { inline: sentence.inline };
    return {
      message: sentence.text,
      extensions: { code, ...inline, ...input, ...common, ...(developer ? { developer } : {}) },
    };
  });
}

/**
 * The errors of a GraphQL response (GraphQL specification, October 2021, section 7.1.2), without
 * data: the request failed as a whole.
 */
export const graphql = jsonShape('graphql', 'application/graphql-response+json', (answer) => ({
  errors: errorsOf(answer),
  ...(answer.more > 0 ? { extensions: { more: answer.more } } : {}),
}));
