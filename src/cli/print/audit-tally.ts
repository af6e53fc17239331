import type { DeviationKind, Recorded } from '../../core/audit/recording.js';
import type { Audited } from '../../workspace/auditing.js';

/** The same deviation at one endpoint, however often it came. */
export interface TalliedDeviation {
  readonly kind: DeviationKind;
  /** The first sentence of its kind and words. */
  readonly message: string;
  count: number;
  /** Where it came first. */
  readonly first: Recorded['place'];
}

/** Different sentences of one endpoint that are kept; the others are only counted, so that memory stays bounded. */
const MOST_SENTENCES = 200;

/** Counts what an audit found, by endpoint. It holds no response, so a recording of any size leaves it small. */
export class AuditTally {
  responses = 0;
  deviating = 0;
  readonly endpoints = new Map<string, { responses: number; deviations: Map<string, TalliedDeviation>; more: number }>();

  add(endpoint: string, { recorded, deviations }: Audited): void {
    this.responses += 1;
    if (deviations.length > 0) this.deviating += 1;
    const at = this.endpoints.get(endpoint) ?? { responses: 0, deviations: new Map<string, TalliedDeviation>(), more: 0 };
    this.endpoints.set(endpoint, at);
    at.responses += 1;
    for (const { kind, message } of deviations) {
      const key = `${kind} ${message}`;
      const known = at.deviations.get(key);
      if (known) known.count += 1;
      else if (at.deviations.size < MOST_SENTENCES) at.deviations.set(key, { kind, message, count: 1, first: recorded.place });
      else at.more += 1;
    }
  }
}
