/**
 * Where something was declared: a file and the keys that lead to it. Line and column are worked out
 * where they are needed.
 */
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

/**
 * A place in a file that is being read: its key, and the trail of the object around it. Everything
 * in one object shares that object's trail, and the list of keys is made only where somebody asks,
 * which is for few of the texts of a large catalog.
 */
export class Trail implements Origin {
  private constructor(
    readonly file: string,
    private readonly around?: Trail,
    private readonly key: string | number = '',
  ) {}

  /** The whole of a file. */
  static of(file: string): Trail {
    return new Trail(file);
  }

  within(key: string | number): Trail {
    return new Trail(this.file, this, key);
  }

  get keys(): readonly (string | number)[] {
    return this.around ? [...this.around.keys, this.key] : [];
  }
}
