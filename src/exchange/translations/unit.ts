import { cleaned, shortened } from '../../core/text/value.js';
import type { DeskText } from '../../core/desk/data.js';
import type { Address } from '../../core/texts/purpose.js';
import { TRANSLATION_STATES, type TranslationState } from '../../core/texts/state.js';

/** A text on its way to a translator, or back; its key is the same in all locales and for ever. */
export interface Unit extends Omit<DeskText, 'address'> {
  readonly address?: Address | undefined;
}

/** The texts of one locale beside the original. */
export interface UnitFile {
  readonly original: string;
  readonly locale: string;
  readonly units: readonly Unit[];
}

/** A returned text; some formats have only some of its members. */
export interface ReadUnit {
  /** The word of the unit; of XLIFF the name, where a tool kept it. */
  readonly key: string;
  readonly source?: string | undefined;
  readonly target?: string | undefined;
  /** The word for its state as it stands in the file, which may be none that there is. */
  readonly state?: string | undefined;
  /** Whether the file says that the text is not finished. */
  readonly isDraft?: boolean | undefined;
  /** The word that went out with it; absent where the file was made by hand, or a tool lost it. */
  readonly exported?: string | undefined;
  /** The translator's note beside the text. */
  readonly note?: string | undefined;
  /** Why the unit cannot be read without losing or changing something. */
  readonly broken?: string | undefined;
}

export interface ReadUnits {
  /** The language that the file says. */
  readonly locale?: string | undefined;
  readonly units: readonly ReadUnit[];
}

const LONGEST = 300;

/**
 * A file that is not what its format asks for. Line and column count from 1, where they are known.
 */
export class TranslationFileError extends Error {
  override name = 'TranslationFileError';
  constructor(
    message: string,
    readonly line?: number,
    readonly column?: number,
  ) {
    // What is echoed came with the file: one line of it says enough.
    super(shortened(cleaned(message), LONGEST));
  }
}

/** How texts are written for other programs. */
export interface WriteOptions {
  /** CSV: what stands between the cells. */
  readonly delimiter?: string | undefined;
  /** CSV: a byte order mark, by which some spreadsheets know UTF-8. */
  readonly bom?: boolean | undefined;
  /** Properties: everything that is not ASCII as an escape, for readers of Latin-1. */
  readonly ascii?: boolean | undefined;
}

/** A format that translators' tools read and write. */
export interface TranslationFormat {
  readonly extension: string;
  readonly write: (file: UnitFile, options: WriteOptions) => string;
  /** @throws {TranslationFileError} */
  readonly read: (text: string, options: Pick<WriteOptions, 'delimiter'>) => ReadUnits;
}

/** The word for the state of a unit that goes out. */
export const stateWord = ({ target, state, stale }: Unit): ReadState =>
  target === undefined ? 'initial' : stale ? 'stale' : (state ?? 'translated');

/** A state in a file: that of a translation, or that its original is another by now. */
export type ReadState = TranslationState | 'stale';

export const stateOf = (text: string | undefined): ReadState | undefined =>
  text === 'stale' ? text : TRANSLATION_STATES.find((state) => state === text);
