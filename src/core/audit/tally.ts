import { getOrMake } from '../base/get-or-make.js';
import type { Deviation, DeviationKind, Recorded } from './recording.js';

export type Place = Recorded['location'];

/** A deviation at one endpoint, with its count. */
export interface TalliedDeviation {
  readonly kind: DeviationKind;
  readonly message: string;
  readonly count: number;
  /** Where it came first. */
  readonly first: Place;
}

/** The tally of one endpoint. */
export interface TalliedEndpoint {
  readonly endpoint: string;
  readonly responses: number;
  readonly deviations: readonly TalliedDeviation[];
  /** How many more deviations there were, of sentences that are not kept. */
  readonly more: number;
}

/** A tally as it is written and joined. */
export interface TallyData {
  readonly responses: number;
  readonly deviating: number;
  readonly endpoints: readonly TalliedEndpoint[];
}

/**
 * Different sentences of one endpoint that are kept; the others are only counted, so that memory
 * stays bounded.
 */
const MOST_SENTENCES = 200;

/** By file, then by the place in it: the same whichever was read first. */
export function compareWhere(one: Place, other: Place): number {
  if (one.file !== other.file) return one.file < other.file ? -1 : 1;
  return (one.line ?? one.entry ?? 0) - (other.line ?? other.entry ?? 0);
}

interface Counted {
  kind: DeviationKind;
  message: string;
  count: number;
  first: Place;
}

/** The deviations of one endpoint. */
class EndpointTally {
  responses = 0;
  more = 0;
  private readonly counted = new Map<string, Counted>();
  /** The last of the sentences that are kept, once there are as many as may be. */
  private last: string | undefined;

  /**
   * Of too many sentences those are kept that come first in the order of their letters, whatever
   * the order in which they came: what is kept in the end was kept from the first time, so that its
   * count is whole.
   */
  add({ kind, message, count, first }: Counted): void {
    const key = `${kind} ${message}`;
    const known = this.counted.get(key);
    if (known) {
      known.count += count;
      if (compareWhere(first, known.first) < 0) known.first = first;
      return;
    }
    if (this.last !== undefined && key > this.last) {
      this.more += count;
      return;
    }
    this.counted.set(key, { kind, message, count, first });
    if (this.counted.size < MOST_SENTENCES) return;
    const keys = [...this.counted.keys()].sort();
    for (const over of keys.slice(MOST_SENTENCES)) {
      this.more += this.counted.get(over)?.count ?? 0;
      this.counted.delete(over);
    }
    this.last = keys[MOST_SENTENCES - 1];
  }

  /** Where it departed from the contract first. */
  get first(): Place | undefined {
    return [...this.counted.values()].map(({ first }) => first).sort(compareWhere)[0];
  }

  deviations(): TalliedDeviation[] {
    const order = (one: Counted, other: Counted): number =>
      compareWhere(one.first, other.first) ||
      (`${one.kind} ${one.message}` < `${other.kind} ${other.message}` ? -1 : 1);
    return [...this.counted.values()].sort(order);
  }
}

/**
 * Counts what an audit found, by endpoint. It holds no response, so a recording of any size leaves
 * it small; and tallies of parts joined, in any order, are the tally of the whole.
 */
export class AuditTally {
  responses = 0;
  deviating = 0;
  private readonly tallies = new Map<string, EndpointTally>();

  private of(endpoint: string): EndpointTally {
    return getOrMake(this.tallies, endpoint, () => new EndpointTally());
  }

  add(endpoint: string, { location: location }: Recorded, deviations: readonly Deviation[]): void {
    this.responses += 1;
    if (deviations.length > 0) this.deviating += 1;
    const tally = this.of(endpoint);
    tally.responses += 1;
    for (const { kind, message } of deviations)
      tally.add({ kind, message, count: 1, first: location });
  }

  /** Takes another tally in. */
  join({ responses, deviating, endpoints }: TallyData): void {
    this.responses += responses;
    this.deviating += deviating;
    for (const { endpoint, responses: own, deviations, more } of endpoints) {
      const tally = this.of(endpoint);
      tally.responses += own;
      tally.more += more;
      for (const one of deviations) tally.add({ ...one });
    }
  }

  /**
   * The endpoints, those that departed from the contract first before the others, by where; the
   * others by name.
   */
  get endpoints(): TalliedEndpoint[] {
    const all = [...this.tallies].map(([endpoint, tally]) => ({
      endpoint,
      tally,
      first: tally.first,
    }));
    all.sort((one, other) => {
      if (one.first && other.first && compareWhere(one.first, other.first) !== 0)
        return compareWhere(one.first, other.first);
      if (Boolean(one.first) !== Boolean(other.first)) return one.first ? -1 : 1;
      return one.endpoint < other.endpoint ? -1 : 1;
    });
    return all.map(({ endpoint, tally }) => ({
      endpoint,
      responses: tally.responses,
      deviations: tally.deviations(),
      more: tally.more,
    }));
  }

  data(): TallyData {
    const { responses, deviating, endpoints } = this;
    return { responses, deviating, endpoints };
  }
}
