/** Where something was declared: a file and the keys that lead to it. Line and column are worked out where they are needed. */
export interface Origin {
  /** Relative to the workspace, with forward slashes. */
  readonly file: string;
  readonly keys: readonly (string | number)[];
}

/** A place inside of what an origin names. */
export interface Spot extends Origin {
  /** Whether the last key itself is meant, or what stands behind it. */
  readonly at: 'key' | 'value';
  /** An offset inside the text value, in UTF-16 units from 0. */
  readonly offset?: number;
  /** Which one of several equal keys is meant, from 0. */
  readonly nth?: number;
}
