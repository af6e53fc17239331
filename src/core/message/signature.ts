/** An argument that is a word in a grammatical form: `label_genitive` is the word `label` in the form `genitive`. */
export interface WordForm {
  readonly name: string;
  readonly word: string;
  readonly form: string;
}

/**
 * The names of a message's arguments, in the order of their first use. There is one of each list of names, so that translations
 * that use the same arguments have the same signature, and what is found of it once is found for all of them.
 */
export class Signature {
  private forms: readonly WordForm[] | undefined;
  private readonly longer = new Map<string, Signature>();

  private constructor(readonly names: ReadonlySet<string>) {}

  static readonly NONE = new Signature(new Set());

  /** The grammatical forms that it asks for, of the field's own label and of the other field's. */
  get wordForms(): readonly WordForm[] {
    return (this.forms ??= [...this.names].flatMap((name) => {
      const [, word, form] = /^(label|counterpart)_(\w.*)$/u.exec(name) ?? [];
      return word === undefined || form === undefined || form === 'start' ? [] : [{ name, word, form }];
    }));
  }

  /** The signature with one more name, where that was met before. */
  known(name: string): Signature | undefined {
    return this.longer.get(name);
  }

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
