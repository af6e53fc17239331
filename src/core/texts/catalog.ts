import type { Remark } from '../finding.js';
import type { Locale } from '../locale/tag.js';
import type { Entry } from './entry.js';
import type { FieldEntry } from './purpose.js';

/** The texts of one file. */
export interface Catalog {
  readonly file: string;
  readonly locale: Locale;
  /**
   * The form that the file speaks of, or the name of a set of them; absent where it speaks of all.
   */
  readonly form?: string;
  /** Whether other workspaces have it too, so that what nothing here uses may be theirs. */
  readonly shared?: true;
  /**
   * Every text, labels' forms too: messages, then field by field, then problems, each in the order
   * written.
   */
  readonly texts: readonly Entry[];
  /** The fields that it names, those without a text too. */
  readonly fields: readonly FieldEntry[];
  /** The problems that it names. */
  readonly problems: readonly string[];
  readonly remarks: readonly Remark[];
}
