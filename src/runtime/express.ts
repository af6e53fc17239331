import type { Renderer } from '../render/rendering.js';
import { sendRendered, type NodeResponse } from './node.js';
import { wishesOf, type Incoming } from './wishes.js';
import type { ErrorAnswerOptions } from './hooks.js';
import { answerNoRoute, answerTo } from './problems.js';

export type * from './hooks.js';
export { problemOf } from './problems.js';

/** The members of an Express request that are used. */
export interface ExpressRequest extends Incoming {
  readonly body?: unknown;
}

/** Middlewares, to be used behind all routes. */
export interface ExpressAnswers<R extends ExpressRequest = ExpressRequest> {
  /** For addresses that no route is for. */
  readonly noRoute: (request: R, response: NodeResponse) => void;
  /** For whatever went wrong: Express knows it by its four parameters. */
  readonly failure: (
    error: unknown,
    request: R,
    response: NodeResponse,
    next: (error: unknown) => void,
  ) => void;
}

/** Makes the answers of an Express application. */
export function expressAnswers<R extends ExpressRequest = ExpressRequest>(
  renderer: Renderer,
  how: ErrorAnswerOptions<R> = {},
): ExpressAnswers<R> {
  return {
    noRoute: (request, response) => {
      sendRendered(
        response,
        answerNoRoute(renderer, request, () => wishesOf(request), how),
      );
    },
    failure: (error, request, response, next) => {
      // An answer that is on its way can only be broken off, which Express does.
      if (response.headersSent) next(error);
      else
        sendRendered(
          response,
          answerTo(renderer, error, request, () => wishesOf(request), how),
        );
    },
  };
}
