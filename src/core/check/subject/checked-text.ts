import type { Remark } from '../../finding.js';
import type { CasesNode, TextNode } from '../../message/tree.js';
import type { Catalog } from '../../texts/catalog.js';
import type { Entry } from '../../texts/entry.js';
import type { FieldEntry, Purpose, TextKind } from '../../texts/purpose.js';
import type { Row } from './context.js';

/** One text of a catalog, and what it is there for. */
export class CheckedText {
  private cases: readonly CasesNode[] | undefined;
  private literals: readonly TextNode[] | undefined;

  constructor(
    readonly catalog: Catalog,
    readonly entry: Entry,
    /** The rules that a message is for; empty for one that nothing uses. */
    readonly rows: readonly Row[],
    /** The text of the original locale for the same; absent where it has none. */
    readonly original: Entry | undefined,
  ) {}

  /** Its plurals and selects, outer ones first. */
  get caseNodes(): readonly CasesNode[] {
    return (this.cases ??= this.entry.caseNodes());
  }

  /** The literal parts of the text, in cases too. */
  get textNodes(): readonly TextNode[] {
    return (this.literals ??= this.entry.textNodes());
  }

  get purpose(): Purpose {
    return this.entry.purpose;
  }

  get kind(): TextKind {
    return this.purpose.kind;
  }

  /**
   * The message's key, the label's form (empty for itself), the value, or the problem and its part.
   */
  get key(): string {
    return this.purpose.key;
  }

  get field(): FieldEntry | undefined {
    return this.purpose.field;
  }
}

/** Computes a result once for all texts of the same purpose. */
export class PerPurpose<T> {
  private readonly known: T[] = [];

  constructor(private readonly make: (checked: CheckedText) => T) {}

  of(checked: CheckedText): T {
    return (this.known[checked.purpose.id] ??= this.make(checked));
  }
}

/** Where a remark about a text belongs. */
export function aboutText(
  { catalog, entry, purpose }: CheckedText,
  offset = 0,
): Omit<Remark, 'kind' | 'message'> {
  const { kind, key, path } = purpose;
  return {
    locale: catalog.locale,
    ...(catalog.form === undefined ? {} : { form: catalog.form }),
    ...(path === undefined ? {} : { path }),
    ...(kind === 'message' || kind === 'inline' ? { rule: key } : {}),
    spot: { ...entry.origin, at: 'value', offset },
  };
}
