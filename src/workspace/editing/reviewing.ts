import { overview } from '../../core/texts/overview.js';
import type { Locale } from '../../core/locale/tag.js';
import type { Origin } from '../../core/origin.js';
import {
  fingerprint,
  readReviews,
  reviewed,
  type Review,
  type ReviewState,
} from '../reading/review-file.js';
import type { Workspace } from '../reading/workspace.js';
import type { Address } from '../../core/texts/purpose.js';

/** One translation, and how far it is. */
export interface Translation {
  readonly address: Address;
  readonly locale: Locale;
  readonly file: string;
  readonly text: string;
  /** The original as it is now. */
  readonly original: string;
  /** The original that it was made from, where that is another. */
  readonly before?: string | undefined;
  readonly state: ReviewState;
  readonly stale: boolean;
  readonly note?: string | undefined;
  /** The translator's question or remark. */
  readonly remark?: string | undefined;
  readonly room?: number | undefined;
  readonly origin: Origin;
}

/**
 * Every translation of the workspace beside its original, in the order in which the texts are first
 * met; and originals that are drafts, or were.
 */
export function translationsOf(workspace: Workspace): Translation[] {
  const { original, locales: languages } = workspace.config;
  const reviews: ReadonlyMap<string, Review> = readReviews(workspace);
  return overview(workspace.table).flatMap(({ texts, ...address }) => {
    const source = texts.get(original);
    if (!source) return [];
    return languages.flatMap((locale): Translation[] => {
      const entry = texts.get(locale);
      if (!entry) return [];
      const { file } = entry;
      const review = reviews.get(file);
      // Of an original is noted at most that it is a draft, or was one.
      if (locale === original && review?.of(entry)?.text !== fingerprint(entry.text)) return [];
      const known = review && reviewed(review, entry, source);
      const stale = known?.current === false;
      const line = review?.of(entry);
      return [
        {
          address,
          locale,
          file,
          text: entry.text,
          original: source.text,
          stale,
          origin: entry.origin,
          before: stale ? known.source : undefined,
          state: known?.state ?? 'translated',
          note: entry.details.note ?? source.details.note,
          remark: line?.text === fingerprint(entry.text) ? line.note : undefined,
          room: entry.details.room ?? source.details.room,
        },
      ];
    });
  });
}
