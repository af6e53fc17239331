import type { KindSetting } from '../check/subject/settings.js';
import type { Locale } from '../locale/tag.js';
import type { LooseObject } from '../reading.js';
import type { Address } from '../texts/purpose.js';
import type { TranslationState } from '../texts/state.js';
import type { Term, ToldTerm } from '../texts/terms.js';
import type { FrozenForm } from './frozen.js';

/** A text of the original that a translator works on, with its context. */
export interface DeskText {
  /** Its id, as one word. */
  readonly key: string;
  readonly address: Address;
  readonly source: string;
  readonly target?: string | undefined;
  readonly state?: TranslationState | undefined;
  /** Whether the original changed since; `before` is what it was. */
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
  /** The terms of the house in it. */
  readonly terms?: readonly ToldTerm[] | undefined;
  /** The state of the translation when it was exported, as one word that comes back unchanged. */
  readonly exported?: string | undefined;
  /** Whether it is an inflection of a label, which is `source`. */
  readonly isInflection?: boolean | undefined;
}

/** A file of texts, as JSON. */
export interface DeskCatalog {
  readonly layer: 'written' | 'house' | 'starter';
  readonly file: string;
  readonly locale: Locale;
  readonly root: LooseObject;
}

/**
 * A workspace as a translator's page has it, in JSON: what the texts of two languages are made of,
 * and the rules that they are said of.
 */
export interface DeskData {
  readonly name: string;
  readonly original: Locale;
  readonly locale: Locale;
  readonly fallbacks: readonly (readonly [Locale, readonly Locale[]])[];
  readonly zone: string;
  readonly shorten: number;
  readonly statuses: readonly (readonly [string, number])[];
  /** By problem, samples of the arguments that its texts may use. */
  readonly problems: readonly (readonly [string, Readonly<Record<string, unknown>>])[];
  readonly checks: readonly (Omit<KindSetting, 'paths'> & { readonly paths?: readonly string[] })[];
  readonly texts: readonly DeskText[];
  readonly forms: readonly FrozenForm[];
  readonly catalogs: readonly DeskCatalog[];
  /** The names of fields in rule files, as messages. */
  readonly titles: readonly {
    readonly form: string;
    readonly path: string;
    readonly text: string;
  }[];
  readonly concepts: readonly {
    readonly id: string;
    readonly note?: string | undefined;
    readonly terms: readonly (readonly [Locale, Term])[];
  }[];
}
