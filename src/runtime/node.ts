import type { Rendered, Renderer } from '../render/rendering.js';
import type { ErrorAnswerOptions } from './hooks.js';
import { answerNoRoute, answerTo } from './problems.js';
import { MOST_BYTES, readJson } from './read-body.js';
import { wishesOf, type Incoming } from './wishes.js';

export type * from './hooks.js';
export { problemOf } from './problems.js';
export { RefusedBody } from './read-body.js';
export { wishesOf } from './wishes.js';

/**
 * The members of a request that are used: `IncomingMessage` of node:http has them, and so have
 * requests of frameworks around it.
 */
export type NodeRequest = Incoming & AsyncIterable<unknown>;

/** The members of a response that are used: `ServerResponse` of node:http has them. */
export interface NodeResponse {
  statusCode: number;
  readonly headersSent: boolean;
  setHeader(name: string, value: string): unknown;
  end(body: string): unknown;
}

/** Sends an answer as it is. */
export function sendRendered(response: NodeResponse, { status, headers, body }: Rendered): void {
  response.statusCode = status;
  for (const [name, value] of Object.entries(headers)) response.setHeader(name, value);
  response.end(body);
}

/**
 * Reads a JSON body.
 * @param limit bytes
 * @throws {RefusedBody} where it is none, is empty, too large or coded
 */
export const readJsonBody = (request: NodeRequest, limit = MOST_BYTES): Promise<unknown> =>
  readJson(request, (name) => String(request.headers[name] ?? ''), limit);

/** Answers for handlers of node:http. */
export interface NodeAnswers<R extends NodeRequest = NodeRequest> {
  /** Answers that nothing is at an address. */
  noRoute(request: R, response: NodeResponse): void;
  /** Answers to whatever went wrong; nothing where an answer is on its way already. */
  failure(error: unknown, request: R, response: NodeResponse): void;
}

/** Makes the answers of a server of node:http. */
export function nodeAnswers<R extends NodeRequest = NodeRequest>(
  renderer: Renderer,
  how: ErrorAnswerOptions<R> = {},
): NodeAnswers<R> {
  return {
    noRoute(request, response) {
      const wishes = wishesOf(request);
      sendRendered(
        response,
        answerNoRoute(renderer, request, () => wishes, how),
      );
    },
    failure(error, request, response) {
      if (response.headersSent) return;
      sendRendered(
        response,
        answerTo(renderer, error, request, () => wishesOf(request), how),
      );
    },
  };
}
