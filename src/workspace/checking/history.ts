import { COVERAGES, coverageAt, withDrafts } from '../../core/check/subject/coverage.js';
import { rowsOf } from '../../core/check/subject/context.js';
import { isObject } from '../../core/reading.js';
import { Complaint } from '../disk/complaint.js';
import { readPlain } from '../disk/scratch.js';
import { NOTHING_UNSAVED } from '../disk/storage.js';
import { keep, keptFile } from '../disk/user-cache.js';
import { Repository } from '../git/repository.js';
import { Revision } from '../git/revision.js';
import { Workspace } from '../reading/workspace.js';
import { maker } from './check-cache.js';

/** The coverage at one time. */
export interface Moment {
  /** The id of the commit; absent for the files as they are. */
  readonly commit?: string;
  /** When it was committed, in seconds since 1970. */
  readonly time?: number;
  /** By language, how many rules have each coverage, in the order of `COVERAGES`. */
  readonly locales: Readonly<Record<string, readonly number[]>>;
}

/** So long is counted anew at most, in milliseconds; the next run goes on with what is older. */
const LONGEST = 10_000;

/** How many moments are kept from run to run. */
const MOST_KEPT = 200;

/** Returns the coverage of a workspace's rules, by language. */
function countsOf(workspace: Workspace): Moment['locales'] {
  const { texts, allTexts, forms, config } = workspace;
  workspace.readAll();
  const rows = rowsOf([...forms.values()].map(({ form }) => form));
  const ladders = rows.map(({ form, field, keys }) =>
    texts.messageLadder({ form: form.id, path: field.pattern, keys }),
  );
  return Object.fromEntries(
    config.locales.map((locale) => {
      const [climber, drafts] = [texts.climber(locale), allTexts.climber(locale)];
      const counts = COVERAGES.map(() => 0);
      for (const ladder of ladders) {
        const read = coverageAt(climber, ladder, climber.climb(ladder));
        const at = COVERAGES.indexOf(withDrafts(read, drafts, ladder));
        counts[at] = (counts[at] ?? 0) + 1;
      }
      return [locale, counts];
    }),
  );
}

/** Counts of commits, which never change. */
class Kept {
  private readonly file: string | undefined;
  private readonly known = new Map<string, Moment['locales']>();

  constructor(folder: string) {
    this.file = keptFile(folder, 'history');
    try {
      const text = this.file === undefined ? undefined : readPlain(this.file)?.toString('utf8');
      const read = JSON.parse(text ?? '{}') as { by?: unknown; commits?: unknown };
      if (read.by === maker() && isObject(read.commits))
        for (const [commit, counts] of Object.entries(read.commits))
          this.known.set(commit, counts as Moment['locales']);
    } catch {
      // What cannot be read is counted anew.
    }
  }

  get(commit: string): Moment['locales'] | undefined {
    return this.known.get(commit);
  }

  /** Keeps what was counted of a commit; what was asked for last is dropped last. */
  set(commit: string, counts: Moment['locales']): Moment['locales'] {
    this.known.delete(commit);
    this.known.set(commit, counts);
    return counts;
  }

  write(): void {
    if (this.file === undefined) return;
    const commits = Object.fromEntries([...this.known].slice(-MOST_KEPT));
    try {
      keep(this.file, JSON.stringify({ by: maker(), commits }));
    } catch {
      // Where nothing can be kept, it is counted anew.
    }
  }
}

/**
 * Returns the coverage at the last commits that changed files of the folder, the oldest first, and
 * now.
 * @param most how many commits
 * @returns now alone where the folder is in no repository
 */
export function coverageHistory(workspace: Workspace, most: number): Moment[] {
  const { folder, shownFrom } = workspace;
  const now: Moment = { locales: countsOf(workspace) };
  if (most === 0) return [now];
  try {
    const repository = Repository.around(folder, 'how coverage changed');
    const kept = new Kept(folder);
    const since = performance.now();
    const countedAt = (commit: string): Moment['locales'] | undefined => {
      const known = kept.get(commit);
      if (known) return kept.set(commit, known);
      if (performance.now() - since > LONGEST) return undefined;
      const storage = Revision.of(folder, commit);
      return kept.set(
        commit,
        countsOf(Workspace.open(folder, shownFrom, NOTHING_UNSAVED, storage)),
      );
    };
    const moments = repository
      .history(repository.nameOf(folder) ?? '', most)
      .flatMap(({ commit, time }): Moment[] => {
        try {
          const locales = countedAt(commit);
          return locales ? [{ commit, time, locales }] : [];
        } catch (error) {
          // What could not be read then is not a moment.
          if (error instanceof Complaint) return [];
          throw error;
        }
      });
    kept.write();
    return [...moments.reverse(), now];
  } catch (error) {
    if (error instanceof Complaint) return [now];
    throw error;
  }
}
