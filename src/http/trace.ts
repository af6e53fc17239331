import type { FastifyRequest } from 'fastify';
import { traceOf, type Trace } from '../render/trace.js';

/** What a line of the log says of its request: our own id for it, and its trace. */
export const requestOf = (request: FastifyRequest): { readonly id: string } & Partial<Trace> => ({
  id: request.id,
  ...traceOf(request.headers.traceparent),
});

/** The same as answers may tell it, where their shape has a place. */
export function occasionOf(request: FastifyRequest): {
  readonly requestId: string;
  readonly traceId?: string;
} {
  const trace = traceOf(request.headers.traceparent);
  return { requestId: request.id, ...(trace ? { traceId: trace.traceId } : {}) };
}
