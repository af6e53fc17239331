import { decodeText } from '../../exchange/decode.js';
import { complaint } from '../disk/complaint.js';
import { mergeCatalog, type Merged } from './catalog-merge.js';
import { mergeReview } from './review-merge.js';

/** The texts of a file on three sides; one that has no such file has an empty text. */
export interface Three {
  readonly base: string;
  readonly ours: string;
  readonly theirs: string;
}

/** How many signs git's marks have where nobody says otherwise. */
export const MARKER = 7;

/**
 * Merges a file that two sides changed.
 * @param name the file's name, which decides its format
 * @throws {Complaint} where it is not a catalog and not a review file, or a side cannot be read
 */
export function mergeFile(name: string, { base, ours, theirs }: Three, marker = MARKER): Merged {
  if (/\.review\.jsonl$/i.test(name)) return mergeReview(base, ours, theirs);
  if (/\.jsonc?$/i.test(name)) return mergeCatalog(base, ours, theirs, marker);
  throw complaint('wrong-use', [
    `${name} is not a catalog (.json, .jsonc) and no review (.review.jsonl); git joins it line by line`,
  ]);
}

/** The text of a side. @throws {Complaint} where it is not in UTF-8 */
export function sideText(bytes: Buffer | undefined, named: string): string {
  const text = bytes === undefined ? '' : decodeText(bytes);
  if (text === undefined) throw complaint('not-utf8', [], { file: named });
  return text;
}

const lineSet = (text: string): Set<string> => new Set(text.split(/\r?\n/));

const MARK = /^(?:<{7,}|={7,}|>{7,}|\|{7,})(?: .*)?$/;

/**
 * Returns the first line that somebody wrote into a file while a merge is open on it: one that is
 * neither a side's nor a mark of git's. Returns nothing where the file is as git left it.
 */
export function writtenSince(text: string, { base, ours, theirs }: Three): string | undefined {
  const known = [base, ours, theirs].map(lineSet);
  return text
    .split(/\r?\n/)
    .find((line) => !MARK.test(line) && !known.some((lines) => lines.has(line)));
}
