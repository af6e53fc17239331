/** Where a request belongs in a trace over several services. */
export interface Trace {
  /** 32 hexadecimal digits. */
  readonly traceId: string;
  /** The caller's span: 16 hexadecimal digits. */
  readonly spanId: string;
}

// W3C Trace Context, level 1, section 3.2.2: version 00 ends there, later ones may go on after a
// hyphen.
const TRACE_PARENT =
  /^(?!ff)([0-9a-f]{2})-(?!0{32})([0-9a-f]{32})-(?!0{16})([0-9a-f]{16})-[0-9a-f]{2}(-.*)?$/;

/** Parses `traceparent`; returns nothing for an invalid one, which must be ignored. */
export function traceOf(header: string | readonly string[] | undefined): Trace | undefined {
  if (typeof header !== 'string') return undefined;
  const [, version, traceId, spanId, rest] = TRACE_PARENT.exec(header.trim()) ?? [];
  if (traceId === undefined || spanId === undefined || (version === '00' && rest !== undefined))
    return undefined;
  return { traceId, spanId };
}
