import type { Entry } from '../catalog/entry.js';
import type { Row } from './context.js';
import type { Role } from './roles.js';

/** What texts are there for, whatever their language: the same object for all of them, so that what is worked out of it can be kept. */
export class Purpose {
  constructor(
    /** Its number, from 0. */
    readonly id: number,
    readonly kind: Role['kind'],
    readonly key: string,
    /** The path of the field entry; absent outside of all. */
    readonly path: string | undefined,
    readonly rows: readonly Row[],
    /** The text of the original locale; absent where it has none. */
    readonly original: Entry | undefined,
  ) {}
}

/** What a check works out of each purpose, once. */
export class PerPurpose<T> {
  private readonly known: T[] = [];

  constructor(private readonly make: (purpose: Purpose) => T) {}

  of(purpose: Purpose): T {
    return (this.known[purpose.id] ??= this.make(purpose));
  }
}

/** The purposes of the texts that speak of one form, or of all. */
export class Purposes {
  private readonly known = new Map<string | undefined, Map<string, Purpose[]>>();
  private readonly all: Purpose[] = [];
  private expected = 0;

  constructor(private readonly make: (kind: Role['kind'], key: string, path: string | undefined) => Purpose) {}

  of(kind: Role['kind'], key: string, path: string | undefined): Purpose {
    // Two catalogs mostly have their texts in the same order: what came next the first time comes next again.
    const guess = this.all[this.expected];
    const purpose = guess?.key === key && guess.path === path && guess.kind === kind ? guess : this.look(kind, key, path);
    this.expected = purpose.id + 1;
    return purpose;
  }

  private look(kind: Role['kind'], key: string, path: string | undefined): Purpose {
    let keys = this.known.get(path);
    if (!keys) this.known.set(path, (keys = new Map<string, Purpose[]>()));
    let same = keys.get(key);
    if (!same) keys.set(key, (same = []));
    let purpose = same.find((one) => one.kind === kind);
    if (!purpose) {
      same.push((purpose = this.make(kind, key, path)));
      this.all[purpose.id] = purpose;
    }
    return purpose;
  }
}
