/**
 * The names of a message's arguments, in the order of their first use. There is one of each list of names, so that translations
 * that use the same arguments have the same signature, and what is found of it once is found for all of them.
 */
export class Signature {
  private readonly longer = new Map<string, Signature>();

  private constructor(readonly names: ReadonlySet<string>) {}

  static readonly NONE = new Signature(new Set());

  /** The signature with one more name behind its others; itself where it has the name. */
  with(name: string): Signature {
    let next = this.longer.get(name);
    if (!next) {
      next = this.names.has(name) ? this : new Signature(new Set([...this.names, name]));
      this.longer.set(name, next);
    }
    return next;
  }
}
