/**
 * So many lists of names are kept; a workspace has some hundred, and what a stranger makes up must
 * not stay for good.
 */
const KEPT = 20_000;

/**
 * The names of a message's arguments, in the order of their first use. There is one of each list of
 * names, so that translations that use the same arguments have the same signature, and what is
 * found of it once is found for all of them. (Once very many are known they are forgotten, and a
 * list met again has another.)
 */
export class Signature {
  private static kept = 0;
  private list: ReadonlySet<string> | undefined;
  private longer: Map<string, Signature> | undefined;

  private constructor(
    private readonly before: Signature | undefined,
    private readonly last: string,
  ) {}

  static readonly NONE = new Signature(undefined, '');

  /** Made when somebody asks: of the beginnings of longer lists nobody does. */
  get names(): ReadonlySet<string> {
    if (this.list) return this.list;
    const names: string[] = [];
    for (const { last } of this.chain()) names.push(last);
    return (this.list = new Set(names.reverse()));
  }

  /** Itself and the lists that it goes on from, the empty one aside. */
  private *chain(): Generator<Signature> {
    if (!this.before) return;
    yield this;
    yield* this.before.chain();
  }

  private has(name: string): boolean {
    for (const { last } of this.chain()) if (last === name) return true;
    return false;
  }

  /** The signature with one more name, where that was met before. */
  known(name: string): Signature | undefined {
    return this.longer?.get(name);
  }

  /** The signature with one more name behind its others; itself where it has the name. */
  with(name: string): Signature {
    const known = this.longer?.get(name);
    if (known) return known;
    const next = this.has(name) ? this : new Signature(this, name);
    if ((Signature.kept += 1) > KEPT) {
      Signature.kept = 1;
      Signature.NONE.longer = undefined;
    }
    (this.longer ??= new Map<string, Signature>()).set(name, next);
    return next;
  }
}
