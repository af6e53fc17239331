import type { FileLocation } from '../../core/complaint.js';

export type { FileLocation };

/** Stands for core/complaint.ts: nothing here stands in a file. */
export class Complaint extends Error {
  override name = 'Complaint';
  constructor(
    readonly reason: string,
    readonly sentence: string,
  ) {
    super(sentence);
  }
}
