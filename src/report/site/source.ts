import type { Difference } from '../../core/diff/diff.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Path } from '../../core/path/path.js';
import type { LooseObject } from '../../core/reading.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import type { SiteWords } from './words.js';

/** Marks a page of a site, so that a later run may take it out. */
export const SITE_MARK = '<!-- written by "zeitwort pages" -->';

/** What the pages for clients are made of. */
export interface SiteSource {
  readonly workspace: Workspace;
  /** The languages of the pages. */
  readonly locales: readonly Locale[];
  /** What pages in a language say themselves. */
  readonly wordsOf: (locale: Locale) => { readonly locale: Locale; readonly words: SiteWords };
  /** What the API is called; the pages' own heading where absent. */
  readonly title?: string | undefined;
  /** Tells the paths at which a body of a form breaks rules. */
  readonly broken: (form: FormIndex, body: LooseObject) => readonly Path[];
  /** What the client's reader makes of an answer. */
  readonly read: (status: number, mediaType: string, text: string) => unknown;
  /** What changed since a revision. */
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
