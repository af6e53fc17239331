import type { Locale } from '../locale/tag.js';
import type { Catalog } from '../texts/catalog.js';
import type { Entry } from '../texts/entry.js';
import type { Purpose } from '../texts/purpose.js';
import type { Context, Row } from './context.js';

/** What has to be looked at anew since a check before. */
export interface ChangedTexts {
  /** Languages some texts of which are others now, and those that they serve. */
  readonly locales: ReadonlySet<Locale>;
  /** Catalogs that were read anew. */
  readonly catalogs: ReadonlySet<Catalog>;
  /** Texts that were not there before, or are others now. */
  readonly fresh: ReadonlySet<Entry>;
  /** Those that are not there any more. */
  readonly gone: ReadonlySet<Entry>;
  /** What these, and texts that can be said now or no longer, are there for. */
  readonly purposes: ReadonlySet<Purpose>;
  /** What the original says otherwise now: its translations in all languages are held against it. */
  readonly ofOriginal: ReadonlySet<Purpose>;
  /** Whether texts came, went, or can be said now or no longer, so that lookups may end elsewhere. */
  readonly moved: boolean;
  /** Whether the files are the same, and so all that moved are those texts. */
  readonly sameFiles: boolean;
  /** Where rules changed: what texts are there for that are for other rules now, or for none. */
  readonly ruled?: ReadonlySet<Purpose> | undefined;
}

/** What decides on findings besides texts: where it is another, all is looked at. */
const settingsOf = ({ subject: { locales, languages, original, problems, problemArguments, settings } }: Context): string =>
  JSON.stringify([locales, languages, original, problems, [...(problemArguments ?? [])], settings]);

const listOf = ({ catalogs }: Context): string =>
  catalogs.map(({ file, locale, form }) => `${file} ${locale} ${form ?? ''}`).join('\n');

/** The purposes whose texts in a language are in another state than before: one came, went, or can be said now or no longer. */
function* movedIn(locale: Locale, before: Context, now: Context): Generator<Purpose> {
  const [old, column] = [before.table.column(locale), now.table.column(locale)];
  for (const purpose of now.table.purposes.all) if (old.state(purpose.id) !== column.state(purpose.id)) yield purpose;
}

/** Whether other texts of a language stand behind later ones than before. */
function isCoveredElse(locale: Locale, before: Context, now: Context): boolean {
  const [{ covered: old }, { covered }] = [before.table.column(locale), now.table.column(locale)];
  return old.length !== covered.length || old.some((entry, at) => entry !== covered[at]);
}

/** Which texts of the catalogs read anew are others: one that is as it was is the same object. */
function textsChanged(before: Context, now: Context): Pick<ChangedTexts, 'catalogs' | 'fresh' | 'gone'> {
  const [old, current] = [new Set(before.catalogs), new Set(now.catalogs)];
  const gone = new Set(before.catalogs.flatMap((catalog) => (current.has(catalog) ? [] : catalog.texts)));
  const catalogs = new Set(now.catalogs.filter((catalog) => !old.has(catalog)));
  const fresh = new Set<Entry>();
  for (const { texts } of catalogs) for (const entry of texts) if (!gone.delete(entry)) fresh.add(entry);
  return { catalogs, fresh, gone };
}

/** The messages that are for a rule of a form that changed, or for none: these are held against all rules that there are. */
function ruledOtherwise(before: Context, now: Context): ReadonlySet<Purpose> | undefined {
  const [old, forms] = [new Set(before.subject.forms), new Set(now.subject.forms)];
  if (old.size === forms.size && [...forms].every((form) => old.has(form))) return undefined;
  const isOther = ({ form }: Row): boolean => !old.has(form) || !forms.has(form);
  return new Set(
    now.table.purposes.all.filter((purpose) => {
      if (purpose.kind !== 'message' && purpose.kind !== 'inline') return false;
      const [was, is] = [before.rowsFor(purpose), now.rowsFor(purpose)];
      return was.length === 0 || is.length === 0 || was.some(isOther) || is.some(isOther);
    }),
  );
}

/** What changed between two readings of a workspace; nothing where that is too much to be told apart. */
export function changedTexts(before: Context, now: Context): ChangedTexts | undefined {
  if (now.table.purposes !== before.table.purposes || settingsOf(before) !== settingsOf(now)) return undefined;
  const known = new Set([...now.subject.languages, ...[...before.catalogs, ...now.catalogs].map(({ locale }) => locale)]);
  const touched = [...known].filter((locale) => before.table.column(locale) !== now.table.column(locale));
  const sameFiles = listOf(before) === listOf(now);
  const moved = touched.flatMap((locale) => [...movedIn(locale, before, now)]);
  const ruled = ruledOtherwise(before, now);
  const isElse =
    ruled !== undefined || !sameFiles || moved.length > 0 || touched.some((locale) => isCoveredElse(locale, before, now));
  const served = [...known].filter((locale) => touched.some((one) => now.texts.serves(one, locale)));
  const texts = textsChanged(before, now);
  const all = [...texts.fresh, ...texts.gone];
  const { original } = now.subject;
  return {
    ...texts,
    locales: new Set([...touched, ...served]),
    purposes: new Set([...all.map(({ purpose }) => purpose), ...moved]),
    ofOriginal: new Set(all.flatMap(({ locale, purpose }) => (locale === original ? [purpose] : []))),
    ...{ moved: isElse, sameFiles, ruled },
  };
}
