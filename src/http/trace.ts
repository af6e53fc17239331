import type { FastifyRequest } from 'fastify';
import { traceOf, type Trace } from '../render/trace.js';

/** Returns the log fields of a request: our id for it, and its trace. */
export const requestOf = (request: FastifyRequest): { readonly id: string } & Partial<Trace> => ({
  id: request.id,
  ...traceOf(request.headers.traceparent),
});

/** Returns the same for answers whose shape has a place for it. */
export function occasionOf(request: FastifyRequest): {
  readonly requestId: string;
  readonly traceId?: string;
} {
  const trace = traceOf(request.headers.traceparent);
  return { requestId: request.id, ...(trace ? { traceId: trace.traceId } : {}) };
}
