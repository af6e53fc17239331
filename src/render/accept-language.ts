import Negotiator from 'negotiator';
import { acceptedLocale } from '../core/locale/accept.js';
import { PSEUDO_LOCALES } from '../core/locale/pseudo.js';
import type { Offer } from '../core/locale/chain.js';
import type { Locale } from '../core/locale/tag.js';

/** Longer headers are no preference of anyone; only the beginning counts. */
const LONGEST = 1024;

/** Ranges with weight 0 (RFC 9110 section 12.5.4): what must not be sent. */
const REFUSAL = /^\s*([\w*-]+)\s*;\s*q=0(?:\.0{0,3})?\s*$/i;

/**
 * The language of an answer by the request's `Accept-Language`.
 * @param header as it came, several lines joined with commas; undefined where there was none
 */
export function localeForHeader(header: string | undefined, offer: Offer): Locale {
  if (header === undefined || header === '') return offer.original;
  const text = header.slice(0, LONGEST);
  const refused = text.split(',').flatMap((part) => REFUSAL.exec(part)?.[1] ?? []);
  // Only somebody who tries things out sends one of these.
  const pseudo = PSEUDO_LOCALES.find((one) =>
    text.trim().toLowerCase().startsWith(one.toLowerCase()),
  );
  if (pseudo !== undefined) return pseudo;
  const ranges = new Negotiator({ headers: { 'accept-language': text } }).languages();
  return acceptedLocale(ranges, refused, offer);
}
