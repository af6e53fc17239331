/** The size of a small value besides its key, in bytes. */
const SMALL = 150;

/** Longer keys are none that come again. */
const LONGEST = 2_000;

/** The most that several memos keep together, in bytes, as far as sizes are known. */
const MOST = 16_000_000;

/**
 * The room that memos share: clients and files decide how much there is to remember, so when it is
 * full, all of them begin anew. Whoever owns the memos owns the room; nothing outlives it.
 */
export class Room {
  private used = 0;
  private readonly memos: { clear: () => void }[] = [];

  constructor(private readonly most = MOST) {}

  add(memo: { clear: () => void }): void {
    this.memos.push(memo);
  }

  /**
   * Counts one more thing that is kept.
   * @param key what it is kept under
   * @param size what it takes besides, in bytes
   * @returns whether it may be kept, which it may not with a key that is too long
   */
  take(key: string, size: number): boolean {
    if (key.length > LONGEST) return false;
    const bytes = 2 * key.length + size;
    if ((this.used += bytes) > this.most) {
      for (const memo of this.memos) memo.clear();
      this.used = bytes;
    }
    return true;
  }
}

/** Remembers values by texts, bounded in number and size. */
export class Memo<T> {
  private readonly known = new Map<string, T>();

  constructor(private readonly room: Room = new Room()) {
    room.add(this);
  }

  get(key: string): T | undefined {
    return this.known.get(key);
  }

  /** Remembers a value, unless its key is too long. */
  set(key: string, value: T): T {
    if (this.room.take(key, SMALL)) this.known.set(key, value);
    return value;
  }

  /** Returns the value of a key, and makes it where there is none. */
  getOrMake(key: string, make: (key: string) => T): T {
    const known = this.known.get(key);
    return known === undefined ? this.set(key, make(key)) : known;
  }

  clear(): void {
    this.known.clear();
  }
}

/** One text for several values; other values never give the same, whatever is in them. */
export const keyOf = (...values: readonly (string | number | undefined)[]): string =>
  values.map((value) => (value === undefined ? '-' : `${String(value).length}:${value}`)).join('');
