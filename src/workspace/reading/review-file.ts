import { getOrMake } from '../../core/base/get-or-make.js';
import { createHash } from 'node:crypto';
import path from 'node:path';
import * as z from 'zod';
import type { Entry } from '../../core/texts/entry.js';
import { TRANSLATION_STATES, type TranslationState } from '../../core/texts/state.js';
import type { Reviewed } from '../../core/check/subject/context.js';
import { complaint } from '../disk/complaint.js';
import { reviewFileOf } from '../disk/files.js';
import type { WorkspaceFolder } from './folder.js';

export type ReviewState = TranslationState;

/** What is kept of one translation: a line of the file beside its catalog. */
export interface ReviewLine {
  /** The keys that lead to the text in the catalog. */
  readonly keys: readonly string[];
  readonly state: ReviewState;
  /** The fingerprint of the translation that the state is of; of another text it says nothing. */
  readonly text: string;
  /** The original that the translation was made from. */
  readonly source: string;
}

const makeSchema = () =>
  z.strictObject({
    keys: z.array(z.string()).min(2),
    state: z.enum(TRANSLATION_STATES),
    text: z.string(),
    source: z.string(),
  });
let lineSchema: ReturnType<typeof makeSchema> | undefined;

/** A short name for a text: the first twelve hexadecimal digits of the SHA-256 of its UTF-8. */
export const fingerprint = (text: string): string =>
  createHash('sha256').update(text).digest('hex').slice(0, 12);

const idOf = (keys: readonly string[]): string => JSON.stringify(keys);

/** The review of one catalog: its lines by the keys of their texts. */
export class Review {
  readonly lines = new Map<string, ReviewLine>();
  /**
   * Further lines of a text, as where git joined what two people noted: one of them is of the text
   * that holds now.
   */
  private readonly further = new Map<string, ReviewLine[]>();

  /** Reads the lines of a file. @throws {Complaint} for a line that is none */
  static parse(text: string, named: string): Review {
    const review = new Review();
    for (const [at, line] of text.split(/\r?\n/).entries()) {
      if (line.trim() === '') continue;
      let value: unknown;
      try {
        value = JSON.parse(line);
      } catch {
        throw complaint(
          'wrong-content',
          ['this line of the review is no JSON; correct or remove it'],
          {
            file: named,
            line: at + 1,
            column: 1,
          },
        );
      }
      // Made where there is a review: most runs have none.
      const read = (lineSchema ??= makeSchema()).safeParse(value);
      if (!read.success)
        throw complaint(
          'wrong-content',
          ['a line of the review has keys, state, text and source, and nothing else'],
          {
            file: named,
            line: at + 1,
            column: 1,
          },
        );
      review.join(read.data);
    }
    return review;
  }

  private join(line: ReviewLine): void {
    const id = idOf(line.keys);
    const before = this.lines.get(id);
    if (before) {
      getOrMake(this.further, id, () => []).push(before);
    }
    this.lines.set(id, line);
  }

  set(line: ReviewLine): void {
    this.delete(line.keys);
    this.lines.set(idOf(line.keys), line);
  }

  of(entry: Entry): ReviewLine | undefined {
    const id = idOf(entry.slot.keys);
    const last = this.lines.get(id);
    const further = this.further.get(id);
    if (!last || !further) return last;
    const text = fingerprint(entry.text);
    // Of two that are of one text, whoever holds it for less far is heard.
    const same = [...further, last].filter((line) => line.text === text);
    const states = same.map(({ state }) => TRANSLATION_STATES.indexOf(state));
    return same[states.indexOf(Math.min(...states))] ?? last;
  }

  delete(keys: readonly string[]): boolean {
    this.further.delete(idOf(keys));
    return this.lines.delete(idOf(keys));
  }

  /** The file: a line an entry, sorted, so that changes of different texts merge. */
  toText(): string {
    const sorted = [...this.lines].sort(([one], [other]) => (one < other ? -1 : 1));
    return sorted
      .flatMap(([id, last]) => [...(this.further.get(id) ?? []), last])
      .map(({ keys, state, text, source }) => `${JSON.stringify({ keys, state, text, source })}\n`)
      .join('');
  }
}

/** The review beside a catalog; nothing where there is none. */
export function reviewOf(catalog: string, folder: WorkspaceFolder): Review | undefined {
  const name = reviewFileOf(catalog);
  if (!folder.storage.has(path.join(folder.folder, name))) return undefined;
  return Review.parse(folder.readFile(name, 'a review'), folder.shown(name));
}

interface WithCatalogs extends WorkspaceFolder {
  readonly catalogFiles: { readonly files: readonly { readonly file: string }[] };
}

/** The reviews of a workspace's catalogs, by the catalog's file; only of those that have one. */
export function readReviews(workspace: WithCatalogs): Map<string, Review> {
  const reviews = new Map<string, Review>();
  for (const { file } of workspace.catalogFiles.files) {
    const review = reviewOf(file, workspace);
    if (review) reviews.set(file, review);
  }
  return reviews;
}

/**
 * How far a translation is; nothing where nothing is noted of it. One whose text was changed since
 * its state was noted counts as translated from what the original is now.
 */
export function reviewed(review: Review, entry: Entry, original: Entry): Reviewed | undefined {
  const line = review.of(entry);
  if (!line) return undefined;
  if (line.text !== fingerprint(entry.text)) return { state: 'translated', current: true };
  return { state: line.state, source: line.source, current: line.source === original.text };
}
