import { truncations, type Offer } from '../core/locale/chain.js';
import { isPseudo } from '../core/locale/pseudo.js';
import { LocaleError, parseLocale, type Locale } from '../core/locale/tag.js';
import { Complaint } from '../core/complaint.js';

/** The complaint about a language that no answer is given in. */
export const unknownLocale = (tag: string, locales: readonly Locale[]): Complaint =>
  new Complaint(
    'unknown-locale',
    `${tag} is not a locale of this workspace; its locales are ${locales.join(', ')}`,
  );

/** The languages that answers are given in. */
export class SpokenLocales {
  private readonly known = new Map<string, Locale>();

  constructor(private readonly offer: Omit<Offer, 'original'>) {}

  /**
   * The locale that serves a request for another: itself, a parent, or what is left of it when
   * subtags are dropped.
   * @throws {Complaint} when the tag is none, or nothing serves it
   */
  find(tag: string): Locale {
    const known = this.known.get(tag);
    if (known) return known;
    let asked: Locale;
    try {
      asked = parseLocale(tag);
    } catch (error) {
      throw error instanceof LocaleError ? new Complaint('wrong-tag', error.message) : error;
    }
    // Nobody speaks these, and everybody may ask for them: they are made from the original.
    if (isPseudo(asked)) return asked;
    const { locales, parents } = this.offer;
    const found = [asked, ...truncations(asked, parents)].find((one) => locales.includes(one));
    if (found === undefined) throw unknownLocale(asked, locales);
    // Clients may choose the tag, so only what is one of ours is kept.
    if (found === tag) this.known.set(tag, found);
    return found;
  }
}
