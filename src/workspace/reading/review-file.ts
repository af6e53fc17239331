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

/** A line of the review file beside a catalog: the state of one translation. */
export interface ReviewLine {
  /** The keys that lead to the text in the catalog. */
  readonly keys: readonly string[];
  readonly state: ReviewState;
  /** The fingerprint of the translation that the state is of; of another text it says nothing. */
  readonly text: string;
  /** The original that the translation was made from. */
  readonly source: string;
  /** The translator's question or remark. */
  readonly note?: string | undefined;
  /** How often a state of the text was noted; absent where once. */
  readonly marks?: number | undefined;
  /** The keys that the text had before it was renamed. */
  readonly was?: readonly string[] | undefined;
}

const makeSchema = () =>
  z.strictObject({
    keys: z.array(z.string()).min(2),
    state: z.enum(TRANSLATION_STATES),
    text: z.string(),
    source: z.string(),
    note: z.string().optional(),
    marks: z.int().min(1).optional(),
    was: z.array(z.string()).min(2).optional(),
  });
let lineSchema: ReturnType<typeof makeSchema> | undefined;

/** A short name for a text: the first twelve hexadecimal digits of the SHA-256 of its UTF-8. */
export const fingerprint = (text: string): string =>
  createHash('sha256').update(text).digest('hex').slice(0, 12);

const idOf = (keys: readonly string[]): string => JSON.stringify(keys);

/**
 * Which of two lines of one text holds, where git joined what two people noted: the one that was
 * noted more often, since it was noted later; of two that were noted at the same time, the one that
 * holds the text for less far.
 */
export function laterOf(one: ReviewLine, other: ReviewLine): ReviewLine {
  const [marks, others] = [one.marks ?? 1, other.marks ?? 1];
  if (marks !== others) return marks > others ? one : other;
  const far = ({ state }: ReviewLine): number => TRANSLATION_STATES.indexOf(state);
  return far(one) < far(other) ? one : other;
}

/** The review of one catalog: its lines by the keys of their texts. */
export class Review {
  /**
   * By keys. A text has several lines where git joined what two people noted; each is of another
   * wording, and one of them of the one that holds now.
   */
  private readonly byKeys = new Map<string, ReviewLine[]>();

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
          ['this line of the review is not JSON; correct or remove it'],
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
          [
            'a line of the review has keys, state, text, source and perhaps a note, marks and was, and nothing else',
          ],
          {
            file: named,
            line: at + 1,
            column: 1,
          },
        );
      review.join(read.data);
    }
    review.follow();
    return review;
  }

  private join(line: ReviewLine): void {
    const there = getOrMake(this.byKeys, idOf(line.keys), () => []);
    const at = there.findIndex(({ text }) => text === line.text);
    const same = there[at];
    if (same) there.splice(at, 1);
    there.push(same ? laterOf(line, same) : line);
  }

  /**
   * Where git joined a renaming and what the other side noted of the text under its old keys: that
   * is of the same wording, so the later of the two holds.
   */
  private follow(): void {
    for (const lines of this.byKeys.values())
      for (const [at, line] of lines.entries()) {
        const before = line.was && this.byKeys.get(idOf(line.was));
        const other = before?.find(
          ({ text, source }) => text === line.text && source === line.source,
        );
        if (other) lines[at] = laterOf({ ...other, keys: line.keys, was: line.was }, line);
      }
  }

  /** All lines, those of one text one behind the other. */
  get lines(): ReviewLine[] {
    return [...this.byKeys.values()].flat();
  }

  /** Gives a text one line in place of all that it has. */
  set(line: ReviewLine): void {
    this.byKeys.set(idOf(line.keys), [line]);
  }

  /** Gives a text a further line, which holds where the wording that it is of does. */
  add(line: ReviewLine): void {
    this.join(line);
  }

  of(entry: Entry): ReviewLine | undefined {
    return this.at(entry.slot.keys, fingerprint(entry.text));
  }

  /** The line of a text: that of a wording where one is, else the last. */
  at(keys: readonly string[], wording?: string): ReviewLine | undefined {
    const there = this.byKeys.get(idOf(keys));
    return there?.find(({ text }) => text === wording) ?? there?.at(-1);
  }

  delete(keys: readonly string[]): boolean {
    return this.byKeys.delete(idOf(keys));
  }

  /** The file: a line an entry, sorted, so that changes of different texts merge. */
  toText(): string {
    return [...this.byKeys]
      .sort(([one], [other]) => (one < other ? -1 : 1))
      .flatMap(([, lines]) => lines)
      .map(
        ({ keys, state, text, source, note, marks, was }) =>
          `${JSON.stringify({ keys, state, text, source, note, marks, was })}\n`,
      )
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
