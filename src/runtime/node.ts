import type { Rendered, Renderer, RenderOptions } from '../render/rendering.js';
import type { ErrorAnswerOptions, NamedProblem } from './hooks.js';
import { answerNoRoute, answerTo } from './problems.js';

export type * from './hooks.js';
export { problemOf } from './problems.js';

/**
 * What is asked of a request: `IncomingMessage` of node:http has it, and so have those of
 * frameworks around it.
 */
export interface NodeRequest extends AsyncIterable<unknown> {
  readonly headers: Readonly<Record<string, string | readonly string[] | undefined>>;
}

/** What is asked of a response: `ServerResponse` of node:http has it. */
export interface NodeResponse {
  statusCode: number;
  readonly headersSent: boolean;
  setHeader(name: string, value: string): unknown;
  end(body: string): unknown;
}

/** A body that was refused: `code` is the problem. */
export class RefusedBody extends Error {
  override name = 'RefusedBody';
  constructor(readonly problem: string) {
    super(`the body was refused: ${problem}`);
  }
}

/** Sends an answer as it is. */
export function sendRendered(response: NodeResponse, { status, headers, body }: Rendered): void {
  response.statusCode = status;
  for (const [name, value] of Object.entries(headers)) response.setHeader(name, value);
  response.end(body);
}

/** What a request says of the languages that its client reads. */
export const wishesOf = ({ headers }: Pick<NodeRequest, 'headers'>): RenderOptions => {
  const given = headers['accept-language'];
  return { acceptLanguage: typeof given === 'string' ? given : given?.join(', ') };
};

/** JSON, and what is written as JSON (RFC 6839 section 3.1). */
const JSON_TYPE = /^application\/(?:[\w.+-]+\+)?json\s*(?:;|$)/i;

/** So many bytes are read of a body where nobody says: as many as most frameworks take. */
const LIMIT = 1024 * 1024;

/**
 * Reads a JSON body.
 * @param limit bytes
 * @throws {RefusedBody} where it is none, is empty, too large or coded
 */
export async function readJsonBody(request: NodeRequest, limit = LIMIT): Promise<unknown> {
  const one = (name: string): string => String(request.headers[name] ?? '');
  if (one('content-encoding') !== '' && one('content-encoding') !== 'identity')
    throw new RefusedBody('wrong-encoding');
  if (Number(one('content-length')) > limit) throw new RefusedBody('too-large');
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let text = '';
  let size = 0;
  try {
    for await (const chunk of request) {
      const bytes =
        typeof chunk === 'string' ? new TextEncoder().encode(chunk) : (chunk as Uint8Array);
      size += bytes.byteLength;
      if (size > limit) throw new RefusedBody('too-large');
      text += decoder.decode(bytes, { stream: true });
    }
    text += decoder.decode();
  } catch (error) {
    throw error instanceof TypeError ? new RefusedBody('malformed-body') : error;
  }
  if (text.trim() === '') throw new RefusedBody('empty-body');
  if (!JSON_TYPE.test(one('content-type'))) throw new RefusedBody('wrong-media-type');
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new RefusedBody('malformed-body');
  }
}

/** Answers for handlers of node:http. */
export interface NodeAnswers {
  /** Answers that nothing is at an address. */
  noRoute(request: NodeRequest, response: NodeResponse): void;
  /** Answers to whatever went wrong; nothing where an answer is on its way already. */
  failure(error: unknown, request: NodeRequest, response: NodeResponse): void;
}

/** Makes the answers of a server of node:http. */
export function nodeAnswers(
  renderer: Renderer,
  how: ErrorAnswerOptions<NodeRequest> = {},
): NodeAnswers {
  const problem = (error: unknown, request: NodeRequest): string | NamedProblem | undefined =>
    error instanceof RefusedBody ? error.problem : how.problem?.(error, request);
  return {
    noRoute(request, response) {
      const wishes = (): RenderOptions => wishesOf(request);
      sendRendered(response, answerNoRoute(renderer, request, wishes, how));
    },
    failure(error, request, response) {
      if (response.headersSent) return;
      sendRendered(
        response,
        answerTo(renderer, error, request, () => wishesOf(request), { ...how, problem }),
      );
    },
  };
}
