import type { Rendered, Renderer, RenderOptions } from '../render/rendering.js';
import type { ErrorAnswerOptions } from './hooks.js';
import { answerNoRoute, answerTo } from './problems.js';
import { wishesOf as wishesIn } from './wishes.js';
import { MOST_BYTES, readJson } from './read-body.js';

export type * from './hooks.js';
export { problemOf } from './problems.js';
export { RefusedBody } from './read-body.js';

/** Answers for servers that make a `Response` of a `Request` (Fetch Standard), as at the edge. */
export interface FetchAnswers {
  /** For addresses that no route is for. */
  readonly noRoute: (request: Request) => Response;
  /** For whatever went wrong. */
  readonly failure: (error: unknown, request: Request) => Response;
}

/** Bodies are not iterable everywhere. */
async function* chunksOf({ body }: Request): AsyncGenerator {
  const reader = body?.getReader();
  try {
    for (;;) {
      const read = await reader?.read();
      if (!read || read.done) return;
      yield read.value;
    }
  } finally {
    await reader?.cancel();
  }
}

/**
 * Reads a JSON body.
 * @param limit bytes
 * @throws {RefusedBody} where it is none, is empty, too large or coded
 */
export const readJsonBody = (request: Request, limit = MOST_BYTES): Promise<unknown> =>
  readJson(chunksOf(request), (name) => request.headers.get(name) ?? '', limit);

const responseOf = ({ status, headers, body }: Rendered): Response =>
  // As bytes, since a text would get a charset, which JSON has no use for (RFC 8259 section 11).
  new Response(new TextEncoder().encode(body), { status, headers });

const wishesOf = ({ headers, url }: Request): RenderOptions =>
  wishesIn({ headers: Object.fromEntries(headers), url: new URL(url).pathname });

/** Makes the answers of a server that makes a `Response` of a `Request`. */
export function fetchAnswers(
  renderer: Renderer,
  how: ErrorAnswerOptions<Request> = {},
): FetchAnswers {
  return {
    noRoute: (request) =>
      responseOf(answerNoRoute(renderer, request, () => wishesOf(request), how)),
    failure: (error, request) =>
      responseOf(answerTo(renderer, error, request, () => wishesOf(request), how)),
  };
}
