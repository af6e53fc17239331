import type { FindingKind, Remark, Severity } from '../../finding.js';
import type { Locale } from '../../locale/tag.js';
import type { Catalog } from '../../texts/catalog.js';
import type { Entry } from '../../texts/entry.js';
import type { Purpose, TextKind } from '../../texts/purpose.js';
import type { CheckedText } from './checked-text.js';
import type { Context, Row } from './context.js';
import type { Coverage } from './coverage.js';

/** Reports a finding; the caller adds the kind. */
export type Tell = (remark: Omit<Remark, 'kind'>) => void;

/** A rule in a locale: a cell of the coverage. */
export interface Cell {
  readonly row: Row;
  readonly locale: Locale;
  readonly coverage: Coverage;
  /** The text that clients get; absent where they get the one for `unnamed`. */
  readonly entry: Entry | undefined;
}

/** The subjects of one kind; each is shown once to all kinds that want it. */
export interface Looks {
  /** Visits only texts that may hold one of these: bits of `MAY_HOLD`. Absent: all. */
  readonly needs?: number;
  /** Only texts of these sorts. Absent: all. */
  readonly sorts?: readonly TextKind[];
  /** Called once per (purpose, arguments, flags), not per locale. Absent: always true. */
  readonly concerns?: (checked: CheckedText) => boolean;
  /** Whether any text for a purpose has to be looked at, whatever it says. Absent: all. */
  readonly purposes?: (purpose: Purpose) => boolean;
  readonly text?: (checked: CheckedText) => void;
  /** Visits only cells that `wants` accepts: a large workspace has millions. */
  readonly cell?: {
    /** @param state of the text, as bits of `STATE` */
    readonly wants: (row: Row, coverage: Coverage, state: number) => boolean;
    readonly see: (cell: Cell) => void;
  };
  readonly catalog?: (catalog: Catalog) => void;
  /** Once all was seen. */
  readonly end?: () => void;
}

/** One kind of finding: a file of this folder and a line in its table. */
export interface Kind {
  readonly kind: FindingKind;
  readonly severity: Severity;
  /** Not looked for unless the settings or the caller name it. */
  readonly quiet?: true;
  /** The fault and why it matters, in one sentence, for the reference. */
  readonly about: string;
  /** How to mend it. */
  readonly remedy: string;
  /** An example, for the reference: a line or two of a catalog or rule sheet. */
  readonly example: string;
  /**
   * Whether a text and its rules are enough to find it: the language's other texts, and the
   * original, do not matter.
   */
  readonly alone?: true;
  /** Looks at rules alone: what it finds holds as long as they do. */
  readonly findInRules?: (context: Context) => Iterable<Remark>;
  /** Looks at what was noticed while reading, or for what is missing. */
  readonly find?: (context: Context) => Iterable<Remark>;
  /**
   * Looks at texts, cells or catalogs; the state of one check lives in the closure. Nothing where
   * there is nothing to look for.
   */
  readonly look?: (context: Context, report: Tell) => Looks | undefined;
}
