import { cleaned, shortened } from '../../core/text/value.js';
import { TRANSLATION_STATES, type TranslationState } from '../../core/texts/state.js';

/** One text on its way to a translator, or back. */
export interface Unit {
  /** What the text is, as one word that is the same in all locales and for ever. */
  readonly key: string;
  readonly source: string;
  /** The translation there is; absent where there is none. */
  readonly target?: string | undefined;
  readonly state?: TranslationState | undefined;
  /** Whether the original changed since the translation was made; `before` is what it was. */
  readonly stale?: boolean | undefined;
  readonly before?: string | undefined;
  readonly note?: string | undefined;
  /**
   * When it is said, an example, and what its arguments say: lines for a translator, which nobody
   * reads back.
   */
  readonly about?: string | undefined;
  /** How many characters there is room for. */
  readonly room?: number | undefined;
}

/** The texts of one locale beside the original. */
export interface UnitFile {
  readonly original: string;
  readonly locale: string;
  readonly units: readonly Unit[];
}

/** What came back: some formats do not say all of it. */
export interface ReadUnit {
  /** The word of the unit; of XLIFF the name, where a tool kept it. */
  readonly key: string;
  readonly source?: string | undefined;
  readonly target?: string | undefined;
  readonly state?: TranslationState | undefined;
  /** Whether somebody looked at a text whose original had changed, and left it so. */
  readonly confirmed?: boolean | undefined;
  /** Why the unit cannot be read without losing or changing something. */
  readonly broken?: string | undefined;
}

export interface ReadUnits {
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
  /** Properties: everything that is no ASCII as an escape, for readers of Latin-1. */
  readonly ascii?: boolean | undefined;
}

/** A format that translators' tools read and write. */
export interface TranslationFormat {
  readonly extension: string;
  readonly write: (file: UnitFile, options: WriteOptions) => string;
  /** @throws {TranslationFileError} */
  readonly read: (text: string, options: Pick<WriteOptions, 'delimiter'>) => ReadUnits;
}

export const stateOf = (text: string | undefined): TranslationState | undefined =>
  TRANSLATION_STATES.find((state) => state === text);
