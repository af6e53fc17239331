import type { RenderOptions } from '../render/rendering.js';
import { traceOf } from '../render/trace.js';

/** The members of a request that decide its answer. */
export interface Incoming {
  readonly headers: Readonly<Record<string, string | readonly string[] | undefined>>;
  /** Where it goes; the first of the two that is there. */
  readonly originalUrl?: unknown;
  readonly url?: unknown;
  /** The id that a framework or a middleware gave it. */
  readonly id?: unknown;
}

/**
 * Reads from a request how its answer is wanted, and the values for places in shapes of one's own.
 */
export function wishesOf({ headers, originalUrl, url, id }: Incoming): RenderOptions {
  const given = headers['accept-language'];
  const trace = traceOf(headers.traceparent);
  const asked = originalUrl ?? url;
  const [address = ''] = typeof asked === 'string' ? asked.split('?') : [];
  return {
    acceptLanguage: typeof given === 'string' ? given : given?.join(', '),
    ...(typeof id === 'string' ? { requestId: id } : {}),
    ...(trace ? { traceId: trace.traceId } : {}),
    ...(address === '' ? {} : { address }),
  };
}
