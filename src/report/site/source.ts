import type { Difference } from '../../core/diff/diff.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Path } from '../../core/path/path.js';
import type { LooseObject } from '../../core/reading.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import type { SiteWords } from './words.js';

/** Marks a page of a site, so that a later run may take it out. */
export const SITE_MARK = '<!-- written by "zeitwort pages" -->';

/** The data that the pages for clients are made from. */
export interface SiteSource {
  readonly workspace: Workspace;
  /** The languages of the pages. */
  readonly locales: readonly Locale[];
  /** Returns the pages' own texts in a language. */
  readonly wordsOf: (locale: Locale) => { readonly locale: Locale; readonly words: SiteWords };
  /** The title of the API; the pages' own heading where absent. */
  readonly title?: string | undefined;
  /** Returns the paths at which a body of a form breaks rules. */
  readonly broken: (form: FormIndex, body: LooseObject) => readonly Path[];
  /** Reads an answer as the client package does. */
  readonly read: (status: number, mediaType: string, text: string) => unknown;
  /** The changes since a revision. */
  readonly changes?: { readonly revision: string; readonly found: Difference } | undefined;
}

/** Parameters that speak of files or of other fields' places, and nothing that clients need. */
const INTERNAL: ReadonlySet<string> = new Set(['table', 'column', 'having', 'schema', 'field']);

/** Parameters of a rule as clients may read them. */
export const shownParams = (
  params: Readonly<Record<string, unknown>>,
): readonly (readonly [string, string])[] =>
  Object.entries(params)
    .filter(([name]) => !INTERNAL.has(name))
    .map(([name, value]) => [name, typeof value === 'string' ? value : JSON.stringify(value)]);
