import { isObject, type LooseObject } from '../reading.js';

/** The keys of an object of texts, on all levels and in their order, without the texts. */
export class Skeleton {
  /** How many members its objects have, all levels. */
  readonly members: number;
  /** Whether the texts of a file come in the order in which its object has them: there, names that are numbers come first. */
  readonly keepsOrder: boolean;

  private constructor(
    private readonly keys: readonly string[],
    /** What stands behind each key: an object, or a text where there is nothing. */
    private readonly inner: readonly (Skeleton | undefined)[],
  ) {
    this.members = inner.reduce((sum, one) => sum + (one?.members ?? 0), keys.length);
    this.keepsOrder = !keys.some((key) => /^\d+$/.test(key)) && inner.every((one) => one?.keepsOrder ?? true);
  }

  /** The skeleton of an object; nothing where it holds anything but objects and texts. */
  static of(value: LooseObject): Skeleton | undefined {
    const keys = Object.keys(value);
    const inner: (Skeleton | undefined)[] = [];
    for (const key of keys) {
      const member = value[key];
      const skeleton = isObject(member) ? Skeleton.of(member) : undefined;
      if (!skeleton && typeof member !== 'string') return undefined;
      inner.push(skeleton);
    }
    return new Skeleton(keys, inner);
  }

  /** The texts of an object that has just these keys in this order; nothing of another. */
  textsOf(value: LooseObject): string[] | undefined {
    const texts: string[] = [];
    return this.collect(value, texts) ? texts : undefined;
  }

  private collect(value: LooseObject, texts: string[]): boolean {
    // No list of the keys is made: this is done for every object of every file.
    let at = 0;
    for (const key in value) {
      if (key !== this.keys[at]) return false;
      const member = value[key];
      const skeleton = this.inner[at++];
      if (typeof member === 'string') {
        if (skeleton) return false;
        texts.push(member);
      } else if (!skeleton || !isObject(member) || !skeleton.collect(member, texts)) return false;
    }
    return at === this.keys.length;
  }

  /** The keys that lead to each text, in the order of the texts. */
  *trails(around: readonly string[] = []): Generator<readonly string[]> {
    for (const [at, key] of this.keys.entries()) {
      const skeleton = this.inner[at];
      if (skeleton) yield* skeleton.trails([...around, key]);
      else yield [...around, key];
    }
  }

  /** The object that has these keys and texts: what `textsOf` was given. */
  filled(texts: readonly string[]): LooseObject {
    return this.fill(texts.values());
  }

  private fill(texts: Iterator<string, undefined>): LooseObject {
    return Object.fromEntries(
      this.keys.map((key, at): [string, unknown] => [key, this.inner[at]?.fill(texts) ?? texts.next().value]),
    );
  }
}
