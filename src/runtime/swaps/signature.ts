/**
 * Stands for core/message/signature.ts: a pack has too few messages to share the lists of their
 * arguments.
 */
export class Signature {
  static readonly NONE = new Signature(new Set());

  private constructor(readonly names: ReadonlySet<string>) {}

  known(): undefined {
    return undefined;
  }

  with(name: string): Signature {
    return new Signature(new Set(this.names).add(name));
  }
}
