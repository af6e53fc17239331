import { stateOf, type ReadState } from '../../exchange/translations/unit.js';
import { fingerprint } from '../reading/review-file.js';

/** A text without what tools change on the way: canonical equivalents, line ends and blanks. */
const settled = (text: string): string =>
  text
    .normalize('NFC')
    .replace(/[ \t\r\n\f]+/g, ' ')
    .trim();

/** Whether two texts are one for whoever translates. */
export const sameText = (one: string | undefined, other: string | undefined): boolean =>
  one === undefined || other === undefined ? one === other : settled(one) === settled(other);

/** The fingerprint of a text in its place; of none at all too. */
export const placedFingerprint = (locale: string, key: string, text: string | undefined): string =>
  fingerprint(JSON.stringify([locale, key, text === undefined ? null : settled(text)]));

/** The state of a text when it was exported. */
export interface Exported {
  readonly fingerprint: string;
  readonly state: ReadState | undefined;
}

/** The word that goes out with a text, and comes back with it. */
export const exportedWord = (
  locale: string,
  key: string,
  text: string | undefined,
  state: ReadState,
): string => `${placedFingerprint(locale, key, text)}-${state}`;

/** Parses such a word; returns nothing for others. */
export function readExported(word: string | undefined): Exported | undefined {
  const [, mark, state] = /^([0-9a-f]{12})-([a-z]+)$/.exec(word ?? '') ?? [];
  return mark === undefined ? undefined : { fingerprint: mark, state: stateOf(state) };
}
